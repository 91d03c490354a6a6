namespace Fondo.Core.SetUp;

/// <summary>What is usual in a country: a new store begins with it, and may say otherwise of each.</summary>
/// <param name="Currency">ISO 4217.</param>
/// <param name="SmallestCoin">In minor units: cash totals are rounded to it (from memory).</param>
/// <param name="TimeZones">IANA names, the most usual first.</param>
/// <param name="Float">What a drawer usually begins with, in minor units (common practice).</param>
/// <param name="TakesBenefits">Whether shops there are paid with food and cash benefits.</param>
public sealed record Country(string Name, string Currency, char DecimalMark, long SmallestCoin, ImmutableArray<string> TimeZones,
    long Float, bool TakesBenefits = false)
{
    private const char Point = Amounts.Currency.Point, Comma = Amounts.Currency.Comma;

    /// <summary>By name.</summary>
    public static readonly ImmutableArray<Country> All =
    [
        new("Australia", "AUD", Point, 5, ["Australia/Sydney", "Australia/Melbourne", "Australia/Brisbane", "Australia/Adelaide",
            "Australia/Darwin", "Australia/Perth", "Australia/Hobart"], 300_00),
        new("Austria", "EUR", Comma, 1, ["Europe/Vienna"], 200_00),
        new("Belgium", "EUR", Comma, 5, ["Europe/Brussels"], 200_00),
        new("Canada", "CAD", Point, 5, ["America/Toronto", "America/Vancouver", "America/Edmonton", "America/Winnipeg", "America/Regina",
            "America/Halifax", "America/St_Johns"], 200_00),
        new("Denmark", "DKK", Comma, 50, ["Europe/Copenhagen"], 1_000_00),
        new("Finland", "EUR", Comma, 5, ["Europe/Helsinki"], 200_00),
        new("France", "EUR", Comma, 1, ["Europe/Paris"], 200_00),
        new("Germany", "EUR", Comma, 1, ["Europe/Berlin"], 200_00),
        new("Ireland", "EUR", Point, 5, ["Europe/Dublin"], 200_00),
        new("Italy", "EUR", Comma, 5, ["Europe/Rome"], 200_00),
        new("Japan", "JPY", Point, 1, ["Asia/Tokyo"], 30_000),
        new("Kuwait", "KWD", Point, 5, ["Asia/Kuwait"], 50_000),
        new("Mexico", "MXN", Point, 50, ["America/Mexico_City", "America/Tijuana", "America/Hermosillo", "America/Cancun"], 2_000_00),
        new("Netherlands", "EUR", Comma, 5, ["Europe/Amsterdam"], 200_00),
        new("New Zealand", "NZD", Point, 10, ["Pacific/Auckland"], 300_00),
        new("Norway", "NOK", Comma, 100, ["Europe/Oslo"], 2_000_00),
        new("Poland", "PLN", Comma, 1, ["Europe/Warsaw"], 500_00),
        new("Portugal", "EUR", Comma, 1, ["Europe/Lisbon", "Atlantic/Azores"], 200_00),
        new("Spain", "EUR", Comma, 1, ["Europe/Madrid", "Atlantic/Canary"], 200_00),
        new("Sweden", "SEK", Comma, 100, ["Europe/Stockholm"], 2_000_00),
        new("Switzerland", "CHF", Point, 5, ["Europe/Zurich"], 300_00),
        new("United Kingdom", "GBP", Point, 1, ["Europe/London"], 150_00),
        new("United States", "USD", Point, 1, ["America/New_York", "America/Chicago", "America/Denver", "America/Phoenix",
            "America/Los_Angeles", "America/Anchorage", "Pacific/Honolulu"], 200_00, TakesBenefits: true),
    ];

    /// <summary>The country of that name; null where it is none of the list.</summary>
    public static Country? Find(string? name) => All.FirstOrDefault(c => c.Name == name);
}
