using System.Collections.Frozen;
using Fondo.Core.Checks;
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
        var cells = Days.Cells.Of(day, standing, settlement);
        var proofs = day.Setup.Tenders.ToFrozenDictionary(t => t.Id, t => t.Proof);

        var rows = (day.Rows ?? []).Select(r => Item.Of(r, settlement.CellOf(r), null)).ToList();
        var stoodNowhere = rows.Where(r => r.Cell.Register is null).ToHashSet();
        var uncounted = new Uncounted(day, standing);
        var tenders = Standing.Tenders(day, standing).Where(t => proofs[t.Tender.Type] == ProofKind.Batch).Select(t => Item.Of(t, null))
            .Concat(day.Carried.Journal.Select(c => Item.Of(new TakenTender(c.Ticket, c.Place), c.Day)));
        var matching = day.Rows is null && day.Carried.Rows.IsEmpty
            ? Matching.Matching.Nothing
            : Matcher.Match(
                tenders, rows.Where(r => !stoodNowhere.Contains(r)).Concat(day.Carried.Rows.Select(c => Item.Of(c.Row, settlement.CellOf(c.Row), c.Day))),
                day.Setup.Policy.MatchWindow, uncounted.Names);

        var causes = new Causes(day, uncounted, matching);
        ImmutableArray<OpenItem> open =
        [
            .. matching.OpenRows.Concat(stoodNowhere).Order().Select(r => new OpenItem(Side.Batch, r, causes.OfRow(r))),
            .. matching.OpenJournal.Select(j => new OpenItem(Side.Journal, j, causes.OfTender(j))),
        ];
        var result = new Reconciliation(day, cells, matching.Matches, open, TicketChecks.Of(day, standing), BatchTotalDifference.In(day)) { OpenHolds = standing.OpenHolds };
        if (day.Rows is not null)
        {
            Conservation.Assert(result, proofs);
        }

        return result;
    }

    private ImmutableArray<DrawerSession>? _sessions;
    private FrozenSet<Journal.TerminalId>? _settled;
    private int? _tickets;

    /// <summary>The drawer sessions of the day, by register and time.</summary>
    public ImmutableArray<DrawerSession> Sessions => _sessions ??= DrawerSession.In(Day);

    /// <summary>The holds that were neither recalled nor voided.</summary>
    public required ImmutableArray<Journal.Hold> OpenHolds { get; init; }

    /// <summary>The terminals that have a batch today.</summary>
    public FrozenSet<Journal.TerminalId> SettledTerminals =>
        _settled ??= (Day.Rows ?? []).Select(r => r.Key.Terminal).Concat(Day.Totals.Select(t => t.Terminal)).ToFrozenSet();

    /// <summary>How many tickets were taken in, voided ones included.</summary>
    public int Tickets => _tickets ??= Day.Journal.Count(e => e is Journal.Ticket);
}
