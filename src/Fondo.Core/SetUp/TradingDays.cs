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
using Fondo.Core.Sheets;

namespace Fondo.Core.SetUp;

/// <summary>To which trading day a moment belongs by the clock alone.</summary>
public static class TradingDays
{
    /// <param name="endsAt">The hour at which a trading day ends: what happens before it at night belongs to the day before.</param>
    public static TradingDay Of(DateTimeOffset at, TimeZoneInfo zone, TimeOnly endsAt)
    {
        var local = TimeZoneInfo.ConvertTime(at, zone);
        var date = DateOnly.FromDateTime(local.DateTime);
        return new(TimeOnly.FromDateTime(local.DateTime) < endsAt ? date.AddDays(-1) : date);
    }
}
