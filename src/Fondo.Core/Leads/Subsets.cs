using Fondo.Core.Cells;
using Fondo.Core.Entries;
using Fondo.Core.Matching;

namespace Fondo.Core.Leads;

/// <summary><c>subset</c>: no single item, but a smallest set of the register's open items adds up to the drawer's difference: rows that
/// may have been rung as cash,
/// tenders that may have been paid in cash.</summary>
internal sealed class Subsets : ILeadSearch
{
    /// <summary>Among more open items than this, some set adds up to anything.</summary>
    private const int MostItems = 200;

    /// <summary>Among so many sets, any rest has one.</summary>
    public bool LooksAtRests => false;

    public IEnumerable<Explanation> SearchFor(LeadCase @case, Cell drawer, Money difference)
    {
        var open = @case.OpenAt(drawer.Key.Register);
        if (open.Length is < 2 or > MostItems)
        {
            @case.StoppedEarly |= open.Length > MostItems;
            yield break;
        }

        // What the drawer would be off by, had each been cash: short by a row, over by a tender.
        var amounts = open.Select(o => o.Side == OpenIn.Batch ? -o.Item.Amount.Minor : o.Item.Amount.Minor).ToArray();
        if (SmallestSubset.Of(amounts, difference.Minor) is { } set)
        {
            var items = set.Select(i => open[i]).ToList();
            yield return new(LeadKind.Subset,
                [
                    new Posting(drawer.Key, difference),
                    .. items.Select(o => new Posting(o.Item.Cell, o.Side == OpenIn.Batch ? o.Item.Amount : -o.Item.Amount))
                ],
                [.. items.Select(o => o.Item.Key)], new LeadFact.ItemsAddUp(items.Count, difference),
                Odds.Subset / Tried(open.Length, items.Count) * Odds.SubsetRange,
                new LeadRemedy.Record(MovementKind.Sale));
        }
    }

    /// <summary>How many sets of up to that size were tried.</summary>
    private static double Tried(int items, int size)
    {
        var (tried, sets) = (0.0, 1.0);
        for (var k = 1; k <= size; k++)
        {
            sets *= (double)(items - k + 1) / k;
            tried += k >= 2 ? sets : 0;
        }

        return tried;
    }
}
