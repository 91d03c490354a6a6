using System.Collections.Frozen;
using Fondo.Core.Matching;

namespace Fondo.Core.Days;

/// <summary>Everything that follows from a day by arithmetic: cells, matches, open items. A pure function of the day.</summary>
public sealed record Reconciliation(
    Day Day,
    ImmutableArray<Cell> Cells,
    ImmutableArray<Match> Matches,
    ImmutableArray<OpenItem> OpenItems,
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
        var stoodNowhere = rows.Where(r => r.Cell.Register is null).ToList();
        var tenders = Standing.Tenders(day, standing).Where(t => proofs[t.Tender.Type] == ProofKind.Batch).Select(t => Item.Of(t, null))
            .Concat(day.Carried.Journal.Select(c => Item.Of(new TakenTender(c.Ticket, c.Place), c.Day)));
        var matching = day.Rows is null && day.Carried.Rows.IsEmpty
            ? new Matching.Matching([], [], [])
            : Matcher.Match(tenders, rows.Except(stoodNowhere).Concat(day.Carried.Rows.Select(c => Item.Of(c.Row, settlement.CellOf(c.Row), c.Day))));

        var causes = new Causes(day, standing, matching);
        ImmutableArray<OpenItem> open =
        [
            .. matching.OpenRows.Concat(stoodNowhere).OrderBy(r => r.Key, StringComparer.Ordinal).Select(r => new OpenItem(Side.Batch, r, causes.OfRow(r))),
            .. matching.OpenJournal.Select(j => new OpenItem(Side.Journal, j, causes.OfTender(j))),
        ];
        var result = new Reconciliation(day, cells, matching.Matches, open, BatchTotalDifference.In(day));
        if (day.Rows is not null)
        {
            Conservation.Assert(result, proofs);
        }

        return result;
    }

    private ImmutableArray<DrawerSession>? _sessions;
    private ImmutableArray<Journal.Hold>? _openHolds;
    private FrozenSet<Journal.TerminalId>? _settled;
    private int? _tickets;

    /// <summary>The drawer sessions of the day, by register and time.</summary>
    public ImmutableArray<DrawerSession> Sessions => _sessions ??= DrawerSession.In(Day);

    /// <summary>The holds that were neither recalled nor voided.</summary>
    public ImmutableArray<Journal.Hold> OpenHolds => _openHolds ??= HoldsLeftOpen();

    /// <summary>The terminals that have a batch today.</summary>
    public FrozenSet<Journal.TerminalId> SettledTerminals =>
        _settled ??= (Day.Rows ?? []).Select(r => r.Key.Terminal).Concat(Day.Totals.Select(t => t.Terminal)).ToFrozenSet();

    /// <summary>How many tickets were taken in, voided ones included.</summary>
    public int Tickets => _tickets ??= Day.Journal.Count(e => e is Journal.Ticket);

    private ImmutableArray<Journal.Hold> HoldsLeftOpen()
    {
        var taken = Day.Journal.Select(e => e switch { Journal.Recall r => r.Original, Journal.VoidEvent v => v.Original, _ => (Journal.EventId?)null }).ToHashSet();
        return [.. Day.Journal.OfType<Journal.Hold>().Where(h => !taken.Contains(h.Id)).OrderBy(h => h.At)];
    }
}
