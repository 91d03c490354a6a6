using Fondo.Core.Cells;
using Fondo.Core.Days;

namespace Fondo.Core.Leads;

/// <summary>Something that may have happened, and by how much it would put each cell off.</summary>
/// <param name="Kind">One of the kinds of rules §6.</param>
/// <param name="Effects">Signed like the variances that it would cause.</param>
/// <param name="Keys">The evidence: tender keys, batch keys, event ids, count ids, bags, drawers.</param>
/// <param name="Says">A sentence for people.</param>
/// <param name="Weight">Odds against a difference that nothing in the data explains; see <see cref="Odds"/>.</param>
/// <param name="IsFact">Whether two records contradict each other, so that it has happened whatever the drawer says.</param>
internal sealed record Explanation(LeadKind Kind, ImmutableArray<Posting> Effects, ImmutableArray<string> Keys, string Says, double Weight, bool IsFact = false)
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

    /// <summary>Whether it has happened in one of the cells that it is offered for, whichever it is.</summary>
    public bool HasHappenedSomewhere { get; init; }

    /// <summary>The evidence that serves only once; the keys, where nothing else is said.</summary>
    public ImmutableArray<string> Uses { get; init; } = Keys;

    /// <summary>Whether the two lean on the same evidence.</summary>
    public bool Shares(Explanation other) => Uses.Any(other.Uses.Contains);
}
