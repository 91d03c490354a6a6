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

/// <summary>A trading day, named by the calendar date on which it began.</summary>
public readonly record struct TradingDay(DateOnly Date) : IComparable<TradingDay>
{
    public int CompareTo(TradingDay other) => Date.CompareTo(other.Date);

    public override string ToString() => Date.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);

    public static bool TryParse(string? text, out TradingDay day)
    {
        var ok = DateOnly.TryParseExact(text, "yyyy-MM-dd", out var date);
        day = new(date);
        return ok;
    }

    public static bool operator <(TradingDay a, TradingDay b) => a.Date < b.Date;

    public static bool operator >(TradingDay a, TradingDay b) => a.Date > b.Date;

    public static bool operator <=(TradingDay a, TradingDay b) => a.Date <= b.Date;

    public static bool operator >=(TradingDay a, TradingDay b) => a.Date >= b.Date;
}
