using Fondo.Core.Cells;
using Fondo.Core.Entries;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Closing;

/// <summary>The gates of a day, each naming what is left (rules §12).</summary>
public static class Gates
{
    public static ImmutableArray<Gate> Of(Overview overview, IReadOnlyCollection<Entry> entries, IReadOnlyCollection<Excuse> excuses)
    {
        var setup = overview.Result.Day.Setup;
        var bridges = overview.Result.Cells.Select(c => Bridge.Of(c, entries, setup.ToleranceOf(c.Key.Tender))).ToList();
        ImmutableArray<Gate> gates =
        [
            Sessions(overview), Counts(overview), Holds(overview), Batches(overview), CellsResolved(setup, bridges), Approvals(entries, setup),
        ];
        var excused = excuses.Select(e => (e.Gate, e.Item, e.Seen)).ToHashSet();
        return [.. gates.Select(g => g with { Left = [.. g.Left.Where(i => !i.CanBeExcused || !excused.Contains((g.Id, i.Key, i.Sentence)))] })];
    }

    private static Gate Sessions(Overview overview)
    {
        var left = overview.Sessions.Where(d => d.Until is null)
            .Select(d => new GateItem(d.Drawer.Value, $"{overview.Result.Day.Setup.NameOf(d.Register)}: drawer {d.Drawer} has not ended its session.", true));
        return new(GateId.Sessions, "Sessions ended", [.. left], $"{overview.Sessions.Length} drawer sessions ended.");
    }

    private static Gate Counts(Overview overview)
    {
        var counted = CellSums.ClosingCounts(overview.Result.Day);
        var left = overview.Sessions.Where(d => !counted.ContainsKey(d.Drawer))
            .Select(d => new GateItem(d.Drawer.Value, $"{overview.Result.Day.Setup.NameOf(d.Register)}: drawer {d.Drawer} is not counted.", false));
        return new(GateId.Counts, "Drawers counted", [.. left], $"{counted.Count} drawers counted.");
    }

    private static Gate Holds(Overview overview)
    {
        var setup = overview.Result.Day.Setup;
        var left = overview.OpenHolds
            .Select(h => new GateItem(h.Id.Value, $"{setup.NameOf(h.Register)}: ticket {h.Id} of {setup.Currency.Format(h.Total)} was put on hold and never recalled.", true));
        return new(GateId.Holds, "Holds settled", [.. left], "No ticket is on hold.");
    }

    private static Gate Batches(Overview overview)
    {
        var setup = overview.Result.Day.Setup;
        var incomplete = overview.Result.BatchDifferences.Select(d => new GateItem(
            d.Key,
            $"Batch {d.Key} is incomplete: the host settled {d.Total.SalesCount + d.Total.RefundsCount} for {setup.Currency.Format(d.Total.SalesAmount - d.Total.RefundsAmount)}, "
            + $"the rows hold {d.SalesCount + d.RefundsCount} for {setup.Currency.Format(d.SalesAmount - d.RefundsAmount)}.",
            true));
        var settled = overview.SettledTerminals;
        var absent = setup.Terminals.Select(t => t.Terminal).Distinct().Where(t => !settled.Contains(t))
            .Select(t => new GateItem(t.Value, $"Terminal {t} has no batch today.", true));
        return new(GateId.Batches, "Batches complete", [.. incomplete, .. absent], $"{settled.Count} terminals settled, every batch adds up.");
    }

    private static Gate CellsResolved(Setup setup, IReadOnlyCollection<Bridge> bridges)
    {
        var left = bridges.Where(b => b.IsUnresolved || (b.Cell.State == CellState.Waiting && b.Cell.Key.Drawer is null))
            .OrderByDescending(b => b.Left?.Abs() ?? Money.Zero).ThenBy(b => b.Cell.Key).Select(b => new GateItem(
            b.Cell.Key.ToString(),
            $"{setup.NameOf(b.Cell.Key.Register)}, {setup.NameOf(b.Cell.Key.Tender).ToLowerInvariant()}: {Says(b, setup.Currency)}",
            // What no batch, count or book will prove any more can only be excused: there is nothing to make an entry on.
            b.Left is null));
        return new(GateId.Cells, "Every cell proved or explained", [.. left], $"{bridges.Count} cells proved or explained.");
    }

    private static string Says(Bridge bridge, Currency currency) => bridge.Left switch
    {
        null => $"{currency.Format(bridge.Cell.Expected)} expected, and nothing to prove it yet.",
        { IsZero: true } => $"the amounts agree, the numbers do not: {bridge.Cell.ExpectedCount} expected, {bridge.Cell.ProofCount} proved.",
        { } left => $"{(left.Sign < 0 ? "short" : "over")} {currency.Format(left.Abs())}{(bridge.AwaitsApproval ? ", an entry waits for approval." : ".")}",
    };

    private static Gate Approvals(IReadOnlyCollection<Entry> entries, Setup setup)
    {
        var left = entries.Where(e => !e.Holds && !e.IsWithdrawn(entries))
            .Select(e => new GateItem(e.Id.ToString(), $"“{e.Reason}” by {setup.NameOf(e.By)} waits for a second person.", false));
        return new(GateId.Approvals, "Approvals given", [.. left], "No entry waits for approval.");
    }
}
