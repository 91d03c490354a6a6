using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Sheets;

/// <summary>One step of a drawer through its day.</summary>
/// <param name="Change">What the event did to the cash that should be there.</param>
/// <param name="Level">What should be there afterwards.</param>
public sealed record DrawerStep(JournalEvent Event, Money Change, Money Level);

/// <summary>A count of the drawer, beside what expected at that moment.</summary>
public sealed record DrawerCount(Count Count, Money Expected)
{
    public Money Variance => Count.Cash - Expected;
}

/// <summary>A drawer session from its first event to its last: the cash that should be there, event by event (rules §1).</summary>
public sealed record DrawerDay(DrawerSession Session, ImmutableArray<DrawerStep> Steps, ImmutableArray<DrawerCount> Counts)
{
    /// <summary>What should be there at the end of what is known.</summary>
    public Money Level => Steps.IsEmpty ? Money.Zero : Steps[^1].Level;

    /// <summary>What should go to the safe now: above the register's limit, all that is above its float, in whole twenties. Null when
    /// nothing is due.</summary>
    public Money? DropDue(Register register, Currency currency)
    {
        var twenty = 20 * currency.Unit;
        return Session.Until is null && register.DropAbove is { } most && Level > most
            && (Level - register.Float).Minor / twenty * twenty is > 0 and var drop ? new Money(drop) : null;
    }

    /// <summary>Every drawer session of the day, by register and time.</summary>
    public static ImmutableArray<DrawerDay> In(Day day, ImmutableArray<DrawerSession> sessions)
    {
        var standing = new Standing(day);
        var tickets = day.Journal.OfType<Ticket>().Where(t => standing.IsVoided(t.Id)).ToDictionary(t => t.Id);
        // A void takes the ticket out of the drawer that it was rung at, wherever it is made; once, however often it is said.
        var voids = day.Journal.OfType<VoidEvent>().Where(v => tickets.ContainsKey(v.Original))
            .GroupBy(v => v.Original).Select(g => g.MinBy(v => (v.At, v.Id))!).ToDictionary(v => v.Id);
        var steps =
            day.Journal.Select(e => (Drawer: e is VoidEvent v && voids.ContainsKey(v.Id) ? tickets[v.Original].Drawer : e.Drawer, Event: e))
            .Where(s => s.Drawer is not null).ToLookup(s => s.Drawer!.Value, s => s.Event);
        return [.. sessions.Select(s => Of(day, s, steps[s.Drawer].Where(e => e.Register == s.Register || e is VoidEvent), Change))];

        Money Change(JournalEvent e) => e switch
        {
            SessionOpen open => open.Float,
            CashMovement movement => movement.Effect,
            Ticket ticket when !standing.IsAfterClose(ticket) => Cash(ticket),
            VoidEvent v when voids.ContainsKey(v.Id) && !standing.IsAfterClose(tickets[v.Original]) => -Cash(tickets[v.Original]),
            _ => Money.Zero,
        };
    }

    private static DrawerDay Of(Day day, DrawerSession session, IEnumerable<JournalEvent> events, Func<JournalEvent, Money> changeBy)
    {
        var level = Money.Zero;
        var steps = ImmutableArray.CreateBuilder<DrawerStep>();
        // At the same moment the opening comes first, and then the order of the ids.
        foreach (var e in events.OrderBy(e => e.At).ThenBy(e => e is SessionOpen ? 0 : 1).ThenBy(e => e.Id))
        {
            var change = changeBy(e);
            level += change;
            steps.Add(new(e, change, level));
        }

        var all = steps.ToImmutable();
        var counts = day.Counts.Where(c => c.Drawer == session.Drawer && c.Kind != CountKind.Kept).OrderBy(c => c.At)
            .ThenBy(c => c.Id, StringComparer.Ordinal)
            .Select(c =>
                new DrawerCount(c, c.Kind == CountKind.Closing ? level : all.LastOrDefault(s => s.Event.At <= c.At)?.Level ?? Money.Zero));
        return new(session, all, [.. counts]);
    }

    /// <summary>What a ticket leaves in the drawer.</summary>
    private static Money Cash(Ticket ticket) =>
        ticket.Tenders.Where(t => t.Counts).Sum(t => (t.Type == TenderId.Cash ? t.Expected : Money.Zero) - t.Cashback);
}
