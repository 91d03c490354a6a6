using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Days;

/// <summary>To which trading day, and to which drawer session of it, an event belongs: from times alone, never from the order in which
/// events arrive (rules §1).</summary>
/// <remarks>An event is filed under the day of its time; a void or recall under the day of what it names. A ticket rung after the close of
/// its drawer session counts on
/// the next day on which its register has a session, in the first of them; until there is one, it waits.</remarks>
public static class Placement
{
    /// <summary>The trading day of a moment, by the clock.</summary>
    /// <param name="endsAt">The hour at which a trading day ends: what happens before it at night belongs to the day before.</param>
    public static TradingDay ByClock(DateTimeOffset at, TimeZoneInfo zone, TimeOnly endsAt)
    {
        var local = TimeZoneInfo.ConvertTime(at, zone);
        var date = DateOnly.FromDateTime(local.DateTime);
        return new(TimeOnly.FromDateTime(local.DateTime) < endsAt ? date.AddDays(-1) : date);
    }

    /// <summary>The same, by the store's clock.</summary>
    public static TradingDay ByClock(DateTimeOffset at, Setup setup) => ByClock(at, setup.TimeZone, setup.DayEndsAt);

    /// <summary>The day with what was rung late on earlier days in its place: in the first drawer session of its register, or waiting until
    /// one opens.</summary>
    /// <param name="day">With the events that are filed under it.</param>
    /// <param name="arriving">Tickets of earlier days that count on this one, and their voids.</param>
    /// <param name="moved">Tickets of this day, or filed under it, that were counted on a later one that is closed: there they
    /// stay.</param>
    public static Day Place(Day day, IReadOnlyCollection<JournalEvent> arriving, IReadOnlyDictionary<EventId, TradingDay> moved)
    {
        var own = new List<JournalEvent>(day.Journal.Length);
        var late = arriving.ToList();
        var opened = day.Journal.OfType<SessionOpen>().Select(o => o.Drawer).ToHashSet();
        var begins = day.Setup.Begins(day.Setup.TradingDay.Date);
        foreach (var e in day.Journal)
        {
            // Drawers may be named alike every day: a ticket of an earlier day's time is of that day's session, whatever was opened here.
            if (e.Drawer is { } drawer && (e is Ticket || !opened.Contains(drawer)) && e.At < begins)
            {
                if (!moved.ContainsKey(e.Id))
                {
                    late.Add(e); // rung after its own day was closed
                }
            }
            else
            {
                own.Add(moved.TryGetValue(e.Id, out var to) && e is Ticket leaving
                    ? leaving with { Head = leaving.Head with { MovedTo = to.Date } }
                    : e);
            }
        }

        if (late.Count == 0)
        {
            return moved.Count == 0 ? day : day with { Journal = [.. own] };
        }

        var sessions = DrawerSession.In(day with { Journal = [.. own] }).ToLookup(s => s.Register);
        var waiting = new List<Ticket>();
        var placed = new HashSet<EventId>();
        foreach (var ticket in late.OfType<Ticket>().OrderBy(t => t.At).ThenBy(t => t.Id))
        {
            if (sessions[ticket.Register].FirstOrDefault() is { } first && IsUnderstood(ticket, day.Setup))
            {
                own.Add(ticket with { Head = Late(ticket.Head, first) });
                placed.Add(ticket.Id);
            }
            else
            {
                waiting.Add(ticket);
            }
        }

        own.AddRange(late.Where(e => e is VoidEvent v ? placed.Contains(v.Original) || day.Journal.Contains(v) : e is not Ticket)
            .Select(e => e with { Head = Late(e.Head, sessions[e.Register].FirstOrDefault()) }));
        return day with { Journal = [.. own], Waiting = [.. waiting] };

        EventHead Late(EventHead head, DrawerSession? session) =>
            head with { Drawer = session?.Drawer, LateFrom = ByClock(head.At, day.Setup).Date };
    }

    /// <summary>Whether this day's set-up still has the register and the tenders of a ticket.</summary>
    private static bool IsUnderstood(Ticket ticket, Setup setup) =>
        setup.Find(ticket.Register) is not null && ticket.Tenders.All(t => setup.Find(t.Type) is not null);
}
