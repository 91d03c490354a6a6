using System.Collections.Frozen;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;

namespace Fondo.Core.Sheets;

/// <summary>What follows from a reconciled day beside its cells: sessions, drawers, the reading, what registers did otherwise. Worked out
/// once for a revision by whoever holds it.</summary>
/// <param name="Sessions">By register and time.</param>
/// <param name="Drawers">Every drawer session through its day.</param>
/// <param name="Disagreements">What the registers did otherwise than the set-up says, by time.</param>
/// <param name="OpenHolds">The holds that were neither recalled nor voided, by time.</param>
/// <param name="SettledTerminals">The terminals that have a batch with sales of today, or whose printed totals stand for one: a batch
/// belongs to the day of its sales.</param>
/// <param name="Unlike">The matches that are more than one tender and one row of one cell and amount: with another cell, of another amount,
/// of several, of an earlier day, by hand.</param>
/// <param name="Tickets">How many tickets were taken in, voided ones included.</param>
public sealed record Overview(
    Reconciliation Result,
    ImmutableArray<DrawerSession> Sessions,
    ImmutableArray<DrawerDay> Drawers,
    Reading Reading,
    ImmutableArray<Disagreement> Disagreements,
    ImmutableArray<Hold> OpenHolds,
    FrozenSet<TerminalId> SettledTerminals,
    ImmutableArray<Match> Unlike,
    int Tickets)
{
    public static Overview Of(Reconciliation result)
    {
        var day = result.Day;
        var sessions = DrawerSession.In(day);
        return new(
            result, sessions, DrawerDay.In(day, sessions), Reading.Of(day), Disagreement.In(day), new Standing(day).OpenHolds,
            Settled(day),
            [.. result.Matches.Where(m => !m.IsPlain)],
            day.Journal.Count(e => e is Ticket));
    }

    private static FrozenSet<TerminalId> Settled(Day day)
    {
        var begins = day.Setup.Begins(day.Setup.TradingDay.Date);
        var (settled, earlier) = (new PrintedTotals(day).Terminals.ToHashSet(), new HashSet<(TerminalId, string)>());
        foreach (var row in day.Rows ?? [])
        {
            if (row.At >= begins)
            {
                settled.Add(row.Key.Terminal);
            }
            else
            {
                earlier.Add((row.Key.Terminal, row.Key.Batch));
            }
        }

        // Of an empty batch only its total is there.
        settled.UnionWith(day.Totals.Where(t => !earlier.Contains((t.Terminal, t.Batch))).Select(t => t.Terminal));
        return settled.ToFrozenSet();
    }
}
