using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Search;

/// <summary>How an event came in.</summary>
/// <param name="File">Null where it came over HTTP, or from a person.</param>
/// <param name="Line">From 1; 0 where it has none.</param>
public sealed record EventOrigin(string? File, int Line, DateTimeOffset At, string By);

/// <summary>Which events refer to which, over all days, and where they came from.</summary>
public sealed class Referrals(StoreContext db)
{
    /// <summary>Refunds, voids and recalls that name this event, by time.</summary>
    public async Task<IReadOnlyList<EventRow>> To(string key) =>
        await db.Events.AsNoTracking().Where(e => e.Original == key).OrderBy(e => e.At).ToListAsync();

    public async Task<EventOrigin?> OriginOf(string key) => await db.Events.Where(e => e.Key == key)
        .Join(db.Records, e => e.Id, r => r.Id, (_, r) => new EventOrigin(r.File, r.Line, r.TakenAt, r.TakenBy)).FirstOrDefaultAsync();

    /// <summary>Tickets of any day that were paid with this card under this approval code, by time: a settled row that no ticket of its day
    /// has may be theirs.</summary>
    public async Task<IReadOnlyList<EventRow>> PaidWith(string approval, string lastFour) =>
        await db.Tenders.AsNoTracking().Where(t => t.Approval == approval && t.LastFour == lastFour)
            .Select(t => t.Id / TenderRow.PlacesOfATicket)
            .Join(db.Events, id => id, e => e.Id, (_, e) => e).OrderBy(e => e.At).Take(5).ToListAsync();

    /// <summary>The trading day of an event; null when it was never taken in.</summary>
    public async Task<DateOnly?> DayOf(string key) =>
        await db.Events.Where(e => e.Key == key).Select(e => (DateOnly?)e.Day).FirstOrDefaultAsync();
}
