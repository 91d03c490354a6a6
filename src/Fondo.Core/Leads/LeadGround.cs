using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;

namespace Fondo.Core.Leads;

/// <summary>What the searches for leads ask of tickets and counts. It does not depend on the matching, so that it may be laid out beside
/// it.</summary>
public sealed class LeadGround
{
    private readonly Dictionary<DrawerId, DrawerFacts> _drawers;

    private LeadGround(Day day, ImmutableArray<Cell> cells)
    {
        Standing = new(day);
        Sessions = DrawerSession.In(day);
        var closing = CellSums.ClosingCounts(day);
        var off = cells.Where(c => c.State == CellState.Off && c.Key.Drawer is not null).Select(c => c.Key.Drawer!.Value).ToHashSet();
        var taken = Standing.Tenders(day, Standing)
            .Where(t => (t.Tender.Type == TenderId.Cash || t.Tender.Type == TenderId.Check) && t.Ticket.Drawer is { } drawer
                && off.Contains(drawer)).ToLookup(t => t.Ticket.Drawer!.Value);
        _drawers = off.ToDictionary(d => d, d => new DrawerFacts(closing.GetValueOrDefault(d), [.. taken[d]]));
        Lines = [.. day.Counts.SelectMany(c => c.Pieces).Select(p => p.Denomination).Distinct().Order()];
    }

    /// <summary>Null where every cell proves, and nothing is looked for.</summary>
    /// <param name="results">Of the same day.</param>
    public static LeadGround? Of(Day day, CellResults results) => Of(day, results.Cells);

    internal static LeadGround? Of(Day day, ImmutableArray<Cell> cells) =>
        cells.Any(c => c.State == CellState.Off) ? new(day, cells) : null;

    internal Standing Standing { get; }

    /// <summary>The drawer sessions of the day, by register and time.</summary>
    internal ImmutableArray<DrawerSession> Sessions { get; }

    /// <summary>The denominations that anybody counted, smallest first: the lines of a count.</summary>
    internal ImmutableArray<Money> Lines { get; }

    /// <summary>The drawers that are off in any tender.</summary>
    internal IEnumerable<DrawerId> Drawers => _drawers.Keys.OrderBy(d => d.Value, StringComparer.Ordinal);

    internal DrawerFacts? Facts(DrawerId drawer) => _drawers.GetValueOrDefault(drawer);
}
