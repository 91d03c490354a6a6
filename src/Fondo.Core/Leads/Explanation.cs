using Fondo.Core.Days;
using Fondo.Core.Entries;

namespace Fondo.Core.Leads;

/// <summary>Something that may have happened, and by how much it would put each cell off.</summary>
/// <param name="Kind">One of the kinds of rules §6.</param>
/// <param name="Effects">Signed like the variances that it would cause.</param>
/// <param name="Keys">The evidence: tender keys, batch keys, event ids, count ids, bags, drawers.</param>
/// <param name="Says">A sentence for people.</param>
/// <param name="Weight">How much more likely than a difference that nothing in the data explains; see docs/leads.md.</param>
internal sealed record Explanation(string Kind, ImmutableArray<Posting> Effects, ImmutableArray<string> Keys, string Says, double Weight)
{
    public Money On(CellKey cell)
    {
        var sum = Money.Zero;
        foreach (var effect in Effects)
        {
            sum += effect.Cell == cell ? effect.Amount : Money.Zero;
        }

        return sum;
    }

    public bool Touches(CellKey cell) => !On(cell).IsZero;

    /// <summary>Whether the two lean on the same evidence; drawers and counts may serve several.</summary>
    public bool Shares(Explanation other) => Keys.Any(other.Keys.Contains);
}
