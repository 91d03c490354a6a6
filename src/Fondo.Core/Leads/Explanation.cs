using Fondo.Core.Cells;
using Fondo.Core.Days;

namespace Fondo.Core.Leads;

/// <summary>Something that may have happened, and by how much it would put each cell off. Two are the same only when they are
/// one.</summary>
/// <param name="kind">What it is (rules §6).</param>
/// <param name="effects">Signed like the variances that it would cause.</param>
/// <param name="keys">The evidence: tender keys, batch keys, event ids, count ids, bags, drawers.</param>
/// <param name="fact">The same, with its values.</param>
/// <param name="weight">Odds against a difference that nothing in the data explains; see <see cref="Odds"/>.</param>
/// <param name="remedy">What puts it right.</param>
/// <param name="isFact">Whether two records contradict each other, so that it has happened whatever the drawer says.</param>
internal sealed class Explanation(LeadKind kind, ImmutableArray<Posting> effects, ImmutableArray<string> keys, LeadFact fact, double weight,
    LeadRemedy remedy, bool isFact = false)
{
    public LeadKind Kind { get; } = kind;

    public ImmutableArray<Posting> Effects { get; } = effects;

    public ImmutableArray<string> Keys { get; } = keys;

    public LeadFact Fact { get; } = fact;

    public double Weight { get; } = weight;

    public LeadRemedy Remedy { get; } = remedy;

    public bool IsFact { get; } = isFact;

    /// <summary>Whether it has happened in one of the cells that it is offered for, whichever it is.</summary>
    public bool HasHappenedSomewhere { get; init; }

    /// <summary>The evidence that serves only once; the keys, where nothing else is said.</summary>
    public ImmutableArray<string> Uses { get; init; } = keys;

    public Money On(CellKey cell)
    {
        var sum = Money.Zero;
        foreach (var effect in Effects)
        {
            sum += effect.Cell == cell ? effect.Amount : Money.Zero;
        }

        return sum;
    }

    /// <summary>Whether its entry can be made before any other: no more is accepted than a cell is off by.</summary>
    public bool StandsAlone(CellKey cell, Money variance) =>
        Remedy is not LeadRemedy.Accept || (On(cell).Sign == variance.Sign && On(cell).Abs() <= variance.Abs());

    /// <summary>Whether the two lean on the same evidence.</summary>
    public bool Shares(Explanation other)
    {
        foreach (var use in Uses)
        {
            foreach (var otherUse in other.Uses)
            {
                if (use == otherUse)
                {
                    return true;
                }
            }
        }

        return false;
    }

    /// <summary>Whether the two say the same.</summary>
    public bool IsLike(Explanation other) =>
        Kind == other.Kind && Effects.AsSpan().SequenceEqual(other.Effects.AsSpan()) && Keys.AsSpan().SequenceEqual(other.Keys.AsSpan());
}
