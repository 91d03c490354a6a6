using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
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
