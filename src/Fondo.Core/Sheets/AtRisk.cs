using Fondo.Core.Matching;
using Fondo.Core.Reconciling;

namespace Fondo.Core.Sheets;

/// <summary>An open card item, and until when it can still be put right (rules §5).</summary>
public sealed record AtRisk(OpenItem Open, DateTimeOffset Until)
{
    /// <summary>What may be lost: the amount without its sign.</summary>
    public Money Amount => Open.Item.Amount.Abs();

    /// <summary>Whether its time is over.</summary>
    public bool IsOver(DateTimeOffset now) => Until <= now;

    /// <summary>All open card items, carried ones included: the least time left first, then the most money, then by key.</summary>
    public static ImmutableArray<AtRisk> In(Reconciliation result) =>
    [
        .. result.OpenItems.Select(o => new AtRisk(o, TimeLeft.Until(o, result.Day))).OrderBy(r => r.Until).ThenByDescending(r => r.Amount)
            .ThenBy(r => r.Open.Item.Key, StringComparer.Ordinal),
    ];
}
