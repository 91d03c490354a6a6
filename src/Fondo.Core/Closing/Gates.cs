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
    /// <param name="wording">The sentence by which an older excuse holds; null where there is none such.</param>
    public static ImmutableArray<Gate> Of(Overview overview, DayDecisions decisions, MoneyDay? money = null,
        IReadOnlyCollection<TradingDay>? openBefore = null, Func<GateItem, string>? wording = null)
    {
        var setup = overview.Result.Day.Setup;
        var bridges = overview.Result.Cells.Concat(money?.Cells ?? [])
            .Select(c => Bridge.Of(c, decisions.Entries, setup.ToleranceOf(c.Key))).ToList();
        ImmutableArray<Gate> gates =
        [
            Sessions(overview), Counts(overview), Holds(overview, decisions.Entries),
            Batches(overview, decisions.Entries), CellsResolved(bridges), ChecksSeen(overview, decisions.Answers),
            Approvals(decisions.Entries), Safe(overview), CarriedOwned(overview, decisions.Entries), DayBefore(openBefore ?? []),
        ];
        var excused = decisions.Excuses.Select(e => (e.Gate, e.Item, e.Seen)).ToHashSet();
        return [.. gates.Select(g => g with
        {
            Left = [.. g.Left.Where(i => !i.CanBeExcused
                || !(excused.Contains((g.Id, i.Key, i.Facts)) || (wording is not null && excused.Contains((g.Id, i.Key, wording(i))))))]
        })];
    }

    /// <summary>The findings of ticket checks that nobody has seen yet. A hold left open has a gate of its own.</summary>
    public static IEnumerable<TicketFinding> Unseen(Overview overview, IReadOnlyCollection<Answer> answers)
    {
        var seen = answers.Select(a => a.Finding).ToHashSet();
        return overview.Result.TicketFindings.Where(f => f.Code != FindingCode.HoldLeftOpen && !seen.Contains(f));
    }

    private static Gate Sessions(Overview overview) => new(
        GateId.Sessions,
        [
            .. overview.Sessions.Where(d => d.Until is null)
                .Select(d => new GateItem(d.Drawer.Value, new GateFact.DrawerOpen(d.Register, d.Drawer), true, d.Register)),
        ],
        new(overview.Sessions.Length));

    private static Gate Counts(Overview overview)
    {
        var counted = CellSums.ClosingCounts(overview.Result.Day);
        var left = overview.Sessions.Where(d => !counted.ContainsKey(d.Drawer))
            .Select(d => new GateItem(d.Drawer.Value, new GateFact.DrawerNotCounted(d.Register, d.Drawer), false, d.Register));
        return new(GateId.Counts, [.. left], new(counted.Count));
    }

    private static Gate Holds(Overview overview, IReadOnlyCollection<Entry> entries)
    {
        var owners = Carrying.Owners(entries);
        var left = overview.OpenHolds.Where(h => !owners.ContainsKey(h.Id.Value)).Select(h =>
            new GateItem(h.Id.Value, new GateFact.OnHold(h.Register, h.Total), true, h.Register) { Facts = Facts(h.Total) });
        return new(GateId.Holds, [.. left], new(overview.OpenHolds.Length));
    }

    /// <summary>A batch that is not whole, and cards that no batch has, unless an entry names them: what is carried waits for its batch
    /// there.</summary>
    private static Gate Batches(Overview overview, IReadOnlyCollection<Entry> entries)
    {
        var (setup, settled, totals) = (overview.Result.Day.Setup, overview.SettledTerminals, overview.Result.Day.Totals);
        var incomplete = overview.Result.BatchDifferences.Select(d => new GateItem(d.Key, new GateFact.BatchIncomplete(d), true,
            setup.Terminals.FirstOrDefault(t => t.Terminal == d.Total.Terminal)?.Register)
        {
            Facts = Facts(d.Total.SalesCount, d.Total.SalesAmount, d.Total.RefundsCount, d.Total.RefundsAmount, d.SalesCount, d.SalesAmount,
                d.RefundsCount, d.RefundsAmount)
        });
        var named = entries.Where(e => e.Stands(entries)).SelectMany(e => e.Evidence).ToHashSet(StringComparer.Ordinal);
        var held =
            from cards in HeldCards.Of(overview).OrderBy(g => g.Key.Value, StringComparer.Ordinal)
            let open = cards.Where(t => !named.Contains(t.Key.ToString())).ToList()
            where open.Count > 0
            let amount = open.Sum(t => t.Tender.Amount)
            let last = settled.Contains(cards.Key) ? LastBatch.Today
                : totals.Any(o => o.Terminal == cards.Key) ? LastBatch.Earlier
                : LastBatch.None
            select new GateItem(cards.Key.Value, new GateFact.CardsUnsettled(cards.Key, open.Count, amount, last), true,
                setup.Terminals.FirstOrDefault(t => t.Terminal == cards.Key)?.Register)
            { Facts = Facts(open.Count, amount) };
        return new(GateId.Batches, [.. incomplete, .. held], new(settled.Count, !totals.IsEmpty));
    }

    private static Gate CellsResolved(IReadOnlyCollection<Bridge> bridges)
    {
        var left = bridges
            .Where(b => b.IsUnresolved || (b.Cell.State == CellState.Waiting && b.Cell.Key.Drawer is null && !b.Cell.Key.IsPlace))
            .OrderByDescending(b => b.Left?.Abs() ?? Money.Zero).ThenBy(b => b.Cell.Key).Select(b => new GateItem(
            b.Cell.Key.ToString(),
            new GateFact.CellUnresolved(b),
            // What no batch, count or book will prove any more can only be excused: there is nothing to make an entry on.
            b.Left is null,
            b.Cell.Key.Register)
            { Facts = Facts(b.Cell.Expected, b.Cell.ExpectedCount) });
        return new(GateId.Cells, [.. left], new(bridges.Count));
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

    private static Gate ChecksSeen(Overview overview, IReadOnlyCollection<Answer> answers)
    {
        var unseen = Unseen(overview, answers).ToList();
        var named = unseen.Select(f => f.Ticket).ToHashSet();
        var registers = overview.Result.Day.Journal.Where(e => named.Contains(e.Id)).DistinctBy(e => e.Id)
            .ToDictionary(e => e.Id, e => (RegisterId?)e.Register);
        var left = unseen.Select(f => (Finding: f, Register: registers.GetValueOrDefault(f.Ticket))).Select(f => new GateItem(
            $"{f.Finding.Ticket}/{f.Finding.Code.Written()}", new GateFact.FindingUnseen(f.Register, f.Finding), false, f.Register));
        return new(GateId.Checks, [.. left], new(overview.Result.TicketFindings.Length));
    }

    private static Gate Approvals(IReadOnlyCollection<Entry> entries) => new(
        GateId.Approvals,
        [
            .. entries.Where(e => !e.Holds && !e.IsWithdrawn(entries)).Select(e => new GateItem(e.Id.ToString(),
                new GateFact.ApprovalWaits(e), false, e.Postings.IsEmpty ? null : e.Postings[0].Cell.Register)),
        ],
        new());

    private static Gate Safe(Overview overview)
    {
        var last = overview.Result.Day.Counts.Where(c => c.Kind == CountKind.Safe).MaxBy(c => (c.Attempt, c.At.UtcTicks));
        return new(
            GateId.Safe,
            last is null ? [new GateItem("safe", new GateFact.SafeNotCounted(), true)]
            : last.Witness is null || last.Witness == last.By
                ? [new GateItem("safe", new GateFact.SafeCountedAlone(last.By), true) { Facts = Facts(last.Id) }]
            : [],
            new(Safe: last));
    }

    private static Gate DayBefore(IReadOnlyCollection<TradingDay> open) => new(
        GateId.DayBefore, [.. open.Order().Select(d => new GateItem(d.ToString(), new GateFact.DayOpen(d), false))], new());

    private static Gate CarriedOwned(Overview overview, IReadOnlyCollection<Entry> entries)
    {
        var open = Carrying.Open(overview.Result, entries);
        var left = open.Where(c => c is { Owned: null, Ended: null })
            .Select(c => new GateItem(c.Key, new GateFact.CarriedUnowned(c.Amount, c.Day), false));
        return new(GateId.Carried, [.. left], new(open.Length));
    }
}
