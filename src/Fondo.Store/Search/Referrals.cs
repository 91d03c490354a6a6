using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Search;

/// <summary>Which events refer to which, over all days.</summary>
public sealed class Referrals(StoreContext db)
{
    /// <summary>Refunds, voids and recalls that name this event, by time.</summary>
    public async Task<IReadOnlyList<EventRow>> To(string key) => await db.Events.AsNoTracking().Where(e => e.Original == key).OrderBy(e => e.At).ToListAsync();

    /// <summary>The trading day of an event; null when it was never taken in.</summary>
    public async Task<DateOnly?> DayOf(string key) => await db.Events.Where(e => e.Key == key).Select(e => (DateOnly?)e.Day).FirstOrDefaultAsync();
}
