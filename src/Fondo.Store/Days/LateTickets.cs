using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>Finds what was rung after the close of its drawer, and the later day on which it counts: the core places it there.</summary>
public sealed class LateTickets(StoreContext db, SetupBook book)
{
    /// <summary>So far back one looks.</summary>
    private const int MostDays = 14;

    private sealed record Late(long Id, DateOnly Day, string Key, string Register);

    /// <summary>The day with its late tickets in their place.</summary>
    public async Task<Day> Place(Day day)
    {
        var date = day.Setup.TradingDay.Date;
        var moved = await db.LateTickets.AsNoTracking().Where(t => t.RungOn <= date && t.CountsOn > date)
            .ToDictionaryAsync(t => new EventId(t.Ticket), t => new TradingDay(t.CountsOn));
        return Placement.Place(day, await Arriving(date), moved);
    }

    /// <summary>Writes down where the late tickets of a day that closes were counted: there they stay. What still waits goes on to the next
    /// day with trade.</summary>
    public async Task Fix(Day day)
    {
        var date = day.Setup.TradingDay.Date;
        var known = (await db.LateTickets.Where(t => t.CountsOn == date).Select(t => t.Ticket).ToListAsync())
            .ToHashSet(StringComparer.Ordinal);
        db.LateTickets.AddRange(day.Journal.OfType<Ticket>()
            .Where(t => t.Head.LateFrom is { } from && from < date && !known.Contains(t.Id.Value))
            .Select(t => new LateTicketRow { Ticket = t.Id.Value, RungOn = t.Head.LateFrom!.Value, CountsOn = day.Setup.TradingDay.Date }));
        await db.SaveChangesAsync();
    }

    private async Task<IReadOnlyCollection<JournalEvent>> Arriving(DateOnly date)
    {
        var (first, last) =
            (date.AddDays(-MostDays), await db.Days.Where(d => d.HasTrade && d.Date < date).MaxAsync(d => (DateOnly?)d.Date));
        first = last < first ? last.Value : first;
        var fixedHere = db.LateTickets.Where(t => t.CountsOn == date).Select(t => t.Ticket);
        List<Late> late;
        if (await db.StandingCloses.AnyAsync(c => c.Day == date))
        {
            late = await db.Events.AsNoTracking().Where(e => fixedHere.Contains(e.Key) && e.Day < date)
                .Select(e => new Late(e.Id, e.Day, e.Key, e.Register)).ToListAsync();
        }
        else
        {
            var candidates = await db.Database.SqlQuery<Late>($"""
                SELECT e.Id, e.Day, e.Key, e.Register FROM Days AS d CROSS JOIN Events AS e ON e.Day = d.Date
                WHERE NOT d.HasTrade AND d.Date >= {first} AND d.Date < {date} AND e.Kind IN ('sale', 'refund')
                  AND NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE e.Id BETWEEN o.First AND o.Last) AND NOT EXISTS (SELECT 1 FROM LateTickets AS t WHERE t.Ticket = e.Key)
                UNION
                SELECT e.Id, e.Day, e.Key, e.Register FROM
                  (SELECT Day, Drawer, MAX(At) AS Closed FROM Events WHERE Kind = 'close' AND Day >= {first} AND Day < {date} AND Drawer IS NOT NULL GROUP BY Day, Drawer) AS k
                  CROSS JOIN Events AS e ON e.Day = k.Day AND e.Drawer = k.Drawer AND e.At > k.Closed
                WHERE e.Kind IN ('sale', 'refund') AND NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE e.Id BETWEEN o.First AND o.Last) AND NOT EXISTS (SELECT 1 FROM LateTickets AS t WHERE t.Ticket = e.Key)
                """).ToListAsync();
            // What an earlier revision of this day had stays here.
            late = await db.Events.AsNoTracking().Where(e => fixedHere.Contains(e.Key) && e.Day < date)
                .Select(e => new Late(e.Id, e.Day, e.Key, e.Register)).ToListAsync();
            foreach (var ticket in candidates)
            {
                // The first day behind it on which its register has a session takes it; a closed one took what it had.
                if (!await IsTaken(ticket.Register, ticket.Day.AddDays(1), date))
                {
                    late.Add(ticket);
                }
            }

            foreach (var ticket in await FiledLate(first, date))
            {
                if (late.TrueForAll(l => l.Id != ticket.Id) && !await IsTaken(ticket.Register, ticket.Day, date))
                {
                    late.Add(ticket);
                }
            }
        }

        return late.Count == 0 ? [] : await Read(late);
    }

    /// <summary>Tickets that came after the day of their time was closed, filed under days on which their register had no session: they
    /// wait still.</summary>
    private async Task<List<Late>> FiledLate(DateOnly first, DateOnly date)
    {
        List<Late> late = [];
        foreach (var day in await db.Days.Where(d => d.HasTrade && d.Date >= first && d.Date < date).Select(d => d.Date).ToListAsync())
        {
            // From drawer to drawer along the index: a day's tickets are not read for it.
            var begins = (await book.For(day))!.Setup.Begins(day).UtcTicks;
            late.AddRange(await db.Database.SqlQuery<Late>($"""
                WITH RECURSIVE Drawers(Name) AS (
                  SELECT MIN(Drawer) FROM Events WHERE Day = {day}
                  UNION ALL SELECT (SELECT MIN(Drawer) FROM Events WHERE Day = {day} AND Drawer > Name) FROM Drawers WHERE Name IS NOT NULL)
                SELECT e.Id, e.Day, e.Key, e.Register FROM Drawers AS n CROSS JOIN Events AS e ON e.Day = {day} AND e.Drawer = n.Name AND e.At < {begins}
                WHERE e.Kind IN ('sale', 'refund')
                  AND NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE e.Id BETWEEN o.First AND o.Last) AND NOT EXISTS (SELECT 1 FROM LateTickets AS t WHERE t.Ticket = e.Key)
                """).ToListAsync());
        }

        return late;
    }

    /// <summary>Whether a register has a drawer session of its own on an open day between: opened there, or with something of that day's
    /// time.</summary>
    private async Task<bool> IsTaken(string register, DateOnly first, DateOnly date)
    {
        foreach (var day in await db.Days.Where(d => d.Date >= first && d.Date < date && !db.StandingCloses.Any(c => c.Day == d.Date))
            .OrderBy(d => d.Date).Select(d => d.Date).ToListAsync())
        {
            var from = (await book.For(day))!.Setup.Begins(day);
            if (await db.Events.AnyAsync(e => e.Day == day && e.Register == register && e.Drawer != null
                && (e.Kind == EventKind.Open || e.At >= from)))
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>The tickets, and the voids that name them, as their own days understand them.</summary>
    private async Task<IReadOnlyCollection<JournalEvent>> Read(List<Late> late)
    {
        var keys = late.Select(l => l.Key).ToList();
        var voids = await db.Events.AsNoTracking().Where(e => e.Kind == EventKind.Void && keys.Contains(e.Original!))
            .Select(e => new Late(e.Id, e.Day, e.Key, e.Register)).ToListAsync();
        var read = new List<JournalEvent>();
        foreach (var day in late.Concat(voids).GroupBy(l => l.Day))
        {
            var (lines, ids) = (new EventLines((await book.For(day.Key))!.Setup), day.Select(l => l.Id).ToList());
            read.AddRange((await db.Records.AsNoTracking().Where(r => ids.Contains(r.Id)).Select(r => r.Json).ToListAsync())
                .Select(json => lines.Read(json).Event).OfType<JournalEvent>());
        }

        return read;
    }
}
