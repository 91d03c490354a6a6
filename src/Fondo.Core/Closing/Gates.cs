using Fondo.Core.Banking;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Closing;

/// <summary>The gates of a day, each naming what is left (rules §12).</summary>
public static class Gates
{
    /// <param name="money">Null where nothing is known of safe and bank.</param>
    /// <param name="openBefore">Earlier trading days that are still open.</param>
    public static ImmutableArray<Gate> Of(Overview overview, DayDecisions decisions, MoneyDay? money = null,
        IReadOnlyCollection<TradingDay>? openBefore = null)
    {
        var setup = overview.Result.Day.Setup;
        var bridges = overview.Result.Cells.Concat(money?.Cells ?? [])
            .Select(c => Bridge.Of(c, decisions.Entries, setup.ToleranceOf(c.Key))).ToList();
        ImmutableArray<Gate> gates =
        [
            Sessions(overview), Counts(overview), Holds(overview, decisions.Entries), Batches(overview), CellsResolved(setup, bridges),
            ChecksSeen(overview, decisions.Answers), Approvals(decisions.Entries, setup),
            Safe(overview), CarriedOwned(overview, decisions.Entries), DayBefore(openBefore ?? []),
        ];
        var excused = decisions.Excuses.Select(e => (e.Gate, e.Item, e.Seen)).ToHashSet();
        return [.. gates.Select(g => g with
        {
            Left = [.. g.Left.Where(i => !i.CanBeExcused
                || !(excused.Contains((g.Id, i.Key, i.Facts)) || excused.Contains((g.Id, i.Key, i.Sentence))))]
        })];
    }

    /// <summary>The findings of ticket checks that nobody has seen yet. A hold left open has a gate of its own.</summary>
    public static IEnumerable<TicketFinding> Unseen(Overview overview, IReadOnlyCollection<Answer> answers)
    {
        var seen = answers.Select(a => a.Finding).ToHashSet();
        return overview.Result.TicketFindings.Where(f => f.Code != FindingCode.HoldLeftOpen && !seen.Contains(f));
    }

    private static Gate Sessions(Overview overview)
    {
        var left = overview.Sessions.Where(d => d.Until is null)
            .Select(d => new GateItem(d.Drawer.Value,
                $"{overview.Result.Day.Setup.NameOf(d.Register)}: drawer {d.Drawer} is still open.", true, d.Register));
        return new(GateId.Sessions, "Sessions ended", [.. left],
            overview.Sessions.IsEmpty
                ? "No drawer was opened."
                : $"{overview.Sessions.Length} drawer {(overview.Sessions.Length == 1 ? "session" : "sessions")} ended.");
    }

    private static Gate Counts(Overview overview)
    {
        var counted = CellSums.ClosingCounts(overview.Result.Day);
        var left = overview.Sessions.Where(d => !counted.ContainsKey(d.Drawer))
            .Select(d => new GateItem(d.Drawer.Value, $"{overview.Result.Day.Setup.NameOf(d.Register)}: drawer {d.Drawer} is not counted.",
                false, d.Register));
        return new(GateId.Counts, "Drawers counted", [.. left],
            counted.Count == 0
                ? "No drawer had to be counted."
                : $"{counted.Count} {(counted.Count == 1 ? "drawer" : "drawers")} counted.");
    }

    private static Gate Holds(Overview overview, IReadOnlyCollection<Entry> entries)
    {
        var setup = overview.Result.Day.Setup;
        var owners = Carrying.Owners(entries);
        var left = overview.OpenHolds.Where(h => !owners.ContainsKey(h.Id.Value))
            .Select(h => new GateItem(h.Id.Value,
                $"{setup.NameOf(h.Register)}: a ticket of {setup.Currency.Say(h.Total)} was put on hold and never recalled.", true,
                h.Register)
            { Facts = Facts(h.Total) });
        return new(GateId.Holds, "Holds settled", [.. left],
            overview.OpenHolds.IsEmpty ? "No ticket is on hold." : "Every ticket on hold is carried.");
    }

    private static Gate Batches(Overview overview)
    {
        var setup = overview.Result.Day.Setup;
        var incomplete = overview.Result.BatchDifferences.Select(d => new GateItem(
            d.Key,
            $"Batch {d.Key} is incomplete: the host settled {d.Total.SalesCount + d.Total.RefundsCount} for "
                + $"{setup.Currency.Say(d.Total.SalesAmount - d.Total.RefundsAmount)}, but the rows show {d.SalesCount + d.RefundsCount} "
                + $"for {setup.Currency.Say(d.SalesAmount - d.RefundsAmount)}.",
            true,
            setup.Terminals.FirstOrDefault(t => t.Terminal == d.Total.Terminal)?.Register)
        {
            Facts = Facts(d.Total.SalesCount, d.Total.SalesAmount, d.Total.RefundsCount, d.Total.RefundsAmount, d.SalesCount, d.SalesAmount,
                d.RefundsCount, d.RefundsAmount)
        });
        var settled = overview.SettledTerminals;
        var absent = setup.Terminals.Where(t => !settled.Contains(t.Terminal)).DistinctBy(t => t.Terminal)
            .Select(t => new GateItem(t.Terminal.Value, overview.Result.Day.Totals.Any(o => o.Terminal == t.Terminal)
                ? $"Terminal {t.Terminal} has only a batch of an earlier day's cards. Settle today's."
                : $"Terminal {t.Terminal} has no batch today.", true, t.Register));
        return new(GateId.Batches, "Batches complete", [.. incomplete, .. absent], settled.Count == 0 ? "No terminal had to settle."
            : overview.Result.Day.Totals.IsEmpty
                ? $"{settled.Count} {(settled.Count == 1 ? "terminal" : "terminals")} settled, with no batch totals to check against."
            : $"{settled.Count} {(settled.Count == 1 ? "terminal" : "terminals")} settled, every batch total adds up.");
    }

    private static Gate CellsResolved(Setup setup, IReadOnlyCollection<Bridge> bridges)
    {
        string Title(CellKey key) =>
            key is CellKey.Takings taken
                ? $"{setup.NameOf(taken.Register)}, {setup.NameOf(taken.Tender).ToLowerInvariant()}"
                : key.TitleIn(setup);

        var left = bridges
            .Where(b => b.IsUnresolved || (b.Cell.State == CellState.Waiting && b.Cell.Key.Drawer is null && !b.Cell.Key.IsPlace))
            .OrderByDescending(b => b.Left?.Abs() ?? Money.Zero).ThenBy(b => b.Cell.Key).Select(b => new GateItem(
            b.Cell.Key.ToString(),
            $"{Title(b.Cell.Key)}: {Says(b, setup.Currency)}",
            // What no batch, count or book will prove any more can only be excused: there is nothing to make an entry on.
            b.Left is null,
            b.Cell.Key.Register)
            { Facts = Facts(b.Cell.Expected, b.Cell.ExpectedCount) });
        return new(GateId.Cells, "Every cell proved or explained", [.. left],
            bridges.Count == 0
                ? "No sales, so nothing to prove."
                : $"{bridges.Count} {(bridges.Count == 1 ? "cell" : "cells")} proved or explained.");
    }

    private static string Facts(params ReadOnlySpan<object> facts)
    {
        var written = new List<string>();
        foreach (var fact in facts)
        {
            written.Add(fact is Money amount
                ? amount.Minor.ToString(System.Globalization.CultureInfo.InvariantCulture)
                : Convert.ToString(fact, System.Globalization.CultureInfo.InvariantCulture)!);
        }

        return string.Join(' ', written);
    }

    private static string Says(Bridge bridge, Currency currency) => bridge.Left switch
    {
        null =>
            $"{currency.Say(bridge.Cell.Expected)} expected, no proof yet. If you excuse it, its cards are carried until their batch comes.",
        { IsZero: true } =>
            $"amounts match, counts don’t: {bridge.Cell.ExpectedCount} expected, {bridge.Cell.ProofCount} proved{Waits(bridge)}",
        { } left => $"{(left.Sign < 0 ? "short" : "over")} {currency.Say(left.Abs())}{Waits(bridge)}",
    };

    private static string Waits(Bridge bridge) => bridge.AwaitsApproval ? ", an entry waits for approval." : ".";

    private static Gate ChecksSeen(Overview overview, IReadOnlyCollection<Answer> answers)
    {
        var setup = overview.Result.Day.Setup;
        var found = overview.Result.TicketFindings;
        var unseen = Unseen(overview, answers).ToList();
        if (unseen.Count == 0)
        {
            return new(GateId.Checks, "Ticket checks seen", [],
                found.IsEmpty ? "No ticket findings." : $"{found.Length} findings seen and answered.");
        }

        var named = unseen.Select(f => f.Ticket).ToHashSet();
        var registers = overview.Result.Day.Journal.Where(e => named.Contains(e.Id)).DistinctBy(e => e.Id)
            .ToDictionary(e => e.Id, e => (RegisterId?)e.Register);
        return new(
            GateId.Checks, "Ticket checks seen",
            [
                .. unseen.Select(f => (Finding: f, Register: registers.GetValueOrDefault(f.Ticket))).Select(f => new GateItem(
                    $"{f.Finding.Ticket}/{f.Finding.Code.Written()}",
                    $"{setup.NameOf(f.Register)}: {f.Finding.Code.Words()}, {setup.Currency.Say(f.Finding.Amount)}.", false, f.Register)),
            ],
            "");
    }

    private static Gate Approvals(IReadOnlyCollection<Entry> entries, Setup setup)
    {
        var left = entries.Where(e => !e.Holds && !e.IsWithdrawn(entries))
            .Select(e => new GateItem(e.Id.ToString(), $"“{e.Reason}” by {setup.NameOf(e.By)} waits for a second person.", false,
                e.Postings.IsEmpty ? null : e.Postings[0].Cell.Register));
        return new(GateId.Approvals, "Approvals given", [.. left], "No entry waits for approval.");
    }

    private static Gate Safe(Overview overview)
    {
        var day = overview.Result.Day;
        var last = day.Counts.Where(c => c.Kind == CountKind.Safe).MaxBy(c => (c.Attempt, c.At.UtcTicks));
        return new(
            GateId.Safe, "Safe counted by two",
            last is null ? [new GateItem("safe", "The safe is not counted today.", true)]
            : last.Witness is null || last.Witness == last.By ? [new GateItem("safe",
                $"The safe was counted by {day.Setup.NameOf(last.By)} alone.", true) { Facts = Facts(last.Id) }]
            : [],
            last is null
                ? ""
                : $"{day.Setup.Currency.Say(last.Cash)} counted by {day.Setup.NameOf(last.By)} and {day.Setup.NameOf(last.Witness)}.");
    }

    private static Gate DayBefore(IReadOnlyCollection<TradingDay> open) => new(
        GateId.DayBefore, "The day before is closed",
        [.. open.Order().Select(d => new GateItem(d.ToString(),
            $"{d.Date.ToString("dddd, d MMMM", System.Globalization.CultureInfo.InvariantCulture)}, is still open. Close it first.",
            false))],
        "Every earlier day is closed.");

    private static Gate CarriedOwned(Overview overview, IReadOnlyCollection<Entry> entries)
    {
        var currency = overview.Result.Day.Setup.Currency;
        var open = Carrying.Open(overview.Result, entries);
        var left = open.Where(c => c is { Owned: null, Ended: null })
            .Select(c => new GateItem(c.Key, $"{currency.Say(c.Amount)} carried from {c.Day} has no owner yet.", false));
        return new(GateId.Carried, "Carried items owned", [.. left],
            open.IsEmpty ? "Nothing is carried from earlier days." : $"All {open.Length} carried items have an owner.");
    }
}
