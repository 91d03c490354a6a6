using System.Collections.Frozen;
using Fondo.Core.Checks;
using Fondo.Core.Leads;
using Fondo.Core.Matching;

namespace Fondo.Core.Days;

/// <summary>Everything that follows from a day by arithmetic: cells, matches, open items. A pure function of the day.</summary>
public sealed record Reconciliation(
    Day Day,
    ImmutableArray<Cell> Cells,
    ImmutableArray<Match> Matches,
    ImmutableArray<OpenItem> OpenItems,
    ImmutableArray<TicketFinding> TicketFindings,
    ImmutableArray<BatchTotalDifference> BatchDifferences)
{
    /// <exception cref="InvalidOperationException">Money was lost or doubled on the way: a bug, never the data's fault.</exception>
    public static Reconciliation Of(Day day)
    {
        var standing = new Standing(day);
        var settlement = new Settlement(day.Setup);
        // What each cell and each ticket says does not depend on the matching: it is worked out beside it.
        var beside = Task.Run(() => (Cells: Days.Cells.Of(day, standing, settlement), Findings: TicketChecks.Of(day, standing), Totals: BatchTotalDifference.In(day)));
        var proofs = day.Setup.Tenders.ToFrozenDictionary(t => t.Id, t => t.Proof);

        var (rows, stoodNowhere) = Rows(day, settlement);
        var uncounted = new Uncounted(day, standing);
        var matching = day.Rows is null && day.Carried.Rows.IsEmpty
            ? Matching.Matching.Nothing
            : Matcher.Match(Tenders(day, standing, proofs), rows, day.Setup.Policy.MatchWindow, uncounted.Names);

        var causes = new Causes(day, uncounted, matching);
        ImmutableArray<OpenItem> open =
        [
            .. matching.OpenRows.Concat(stoodNowhere).Order().Select(r => new OpenItem(Side.Batch, r, causes.OfRow(r))),
            .. matching.OpenJournal.Select(j => new OpenItem(Side.Journal, j, causes.OfTender(j))),
        ];
        var (cells, findings, totals) = beside.GetAwaiter().GetResult();
        var result = new Reconciliation(day, cells, matching.Matches, open, findings, totals) { OpenHolds = standing.OpenHolds };
        if (day.Rows is not null)
        {
            Conservation.Assert(result, proofs);
        }

        return result;
    }

    /// <summary>The approved batch-proved tenders of today, and the carried ones.</summary>
    private static List<Item> Tenders(Day day, Standing standing, FrozenDictionary<Journal.TenderId, ProofKind> proofs)
    {
        var items = new List<Item>((day.Rows?.Length ?? 0) + day.Carried.Journal.Length);
        foreach (var taken in Standing.Tenders(day, standing))
        {
            if (proofs[taken.Tender.Type] == ProofKind.Batch)
            {
                items.Add(Item.Of(taken, null));
            }
        }

        items.AddRange(day.Carried.Journal.Select(c => Item.Of(new TakenTender(c.Ticket, c.Place), c.Day)));
        return items;
    }

    /// <summary>The settled rows of today and the carried ones; apart from them, those whose terminal stood nowhere.</summary>
    private static (List<Item> Rows, List<Item> StoodNowhere) Rows(Day day, Settlement settlement)
    {
        var (rows, stoodNowhere) = (new List<Item>((day.Rows?.Length ?? 0) + day.Carried.Rows.Length), new List<Item>());
        foreach (var row in day.Rows ?? [])
        {
            var cell = settlement.CellOf(row);
            (cell.Key.Register is null ? stoodNowhere : rows).Add(Item.Of(row, cell, null));
        }

        rows.AddRange(day.Carried.Rows.Select(c => Item.Of(c.Row, settlement.CellOf(c.Row), c.Day)));
        return (rows, stoodNowhere);
    }

    private ImmutableArray<Lead>? _leads;
    private ImmutableArray<DrawerSession>? _sessions;
    private ImmutableArray<DrawerDay>? _drawers;
    private Reading? _reading;
    private FrozenSet<Journal.TerminalId>? _settled;
    private ImmutableArray<Disagreement>? _disagreements;
    private int? _tickets;

    /// <summary>Works out what is otherwise worked out when first asked for; leads excepted, which a large day has no use for before the evening.</summary>
    public void Complete() => _ = (Sessions, Drawers, Reading, SettledTerminals, Tickets, Disagreements);

    /// <summary>What may have happened, for every cell that is off.</summary>
    public ImmutableArray<Lead> Leads => _leads ??= LeadFinder.Of(this);

    /// <summary>The drawer sessions of the day, by register and time.</summary>
    public ImmutableArray<DrawerSession> Sessions => _sessions ??= DrawerSession.In(Day);

    /// <summary>Every drawer session through its day.</summary>
    public ImmutableArray<DrawerDay> Drawers => _drawers ??= DrawerDay.In(Day, Sessions);

    /// <summary>Where the day stands.</summary>
    public Reading Reading => _reading ??= Reading.Of(Day);

    /// <summary>What the registers did otherwise than the set-up says, by time.</summary>
    public ImmutableArray<Disagreement> Disagreements => _disagreements ??= Disagreement.In(Day);

    /// <summary>The holds that were neither recalled nor voided.</summary>
    public required ImmutableArray<Journal.Hold> OpenHolds { get; init; }

    /// <summary>The terminals that have a batch today.</summary>
    public FrozenSet<Journal.TerminalId> SettledTerminals =>
        _settled ??= (Day.Rows ?? []).Select(r => r.Key.Terminal).Concat(Day.Totals.Select(t => t.Terminal)).ToFrozenSet();

    /// <summary>How many tickets were taken in, voided ones included.</summary>
    public int Tickets => _tickets ??= Day.Journal.Count(e => e is Journal.Ticket);
}
