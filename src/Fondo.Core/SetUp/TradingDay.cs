namespace Fondo.Core.SetUp;

/// <summary>A trading day, named by the calendar date on which it began.</summary>
public readonly record struct TradingDay(DateOnly Date) : IComparable<TradingDay>
{
    public int CompareTo(TradingDay other) => Date.CompareTo(other.Date);

    public override string ToString() => Date.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>A date such as <c>2026-11-21</c>, of the years 2000 to 2099.</summary>
    public static bool TryParse(string? text, out TradingDay day)
    {
        var ok = DateOnly.TryParseExact(text, "yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture,
            System.Globalization.DateTimeStyles.None, out var date)
            && date.Year is >= Limits.FirstYear and <= Limits.LastYear;
        day = new(date);
        return ok;
    }

    public static bool operator <(TradingDay a, TradingDay b) => a.Date < b.Date;

    public static bool operator >(TradingDay a, TradingDay b) => a.Date > b.Date;

    public static bool operator <=(TradingDay a, TradingDay b) => a.Date <= b.Date;

    public static bool operator >=(TradingDay a, TradingDay b) => a.Date >= b.Date;
}
