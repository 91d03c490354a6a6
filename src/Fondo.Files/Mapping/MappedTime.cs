using System.Globalization;
using System.Text.RegularExpressions;

namespace Fondo.Files.Mapping;

/// <summary>Reads times as other programs write them: <c>11/21/2026 9:14 PM</c>, <c>21.11.2026 21:14:05</c>, <c>20261121 211405</c>,
/// <c>2026-11-21T21:14:05-05:00</c>.</summary>
internal static partial class MappedTime
{
    /// <summary>The moment; null, with what was expected, where the text is none.</summary>
    public static (DateTimeOffset? At, string? Expected) Read(string date, string time, DateOrder order, TimeZoneInfo zone)
    {
        var text = $"{date.Trim()} {time.Trim()}".Trim();
        if (Shape().Match(text) is not { Success: true } m)
        {
            return (null, "expected a date and a time");
        }

        var parts = m.Groups["compact"] is { Success: true, Value: var c } ? (order == DateOrder.Ymd
            ? [c[..4], c[4..6], c[6..]]
            : new[] { c[..2], c[2..4], c[4..] })
            : m.Groups["name"] is { Success: true } ? [m.Groups["b"].Value, m.Groups["name"].Value, m.Groups["c"].Value]
            : [m.Groups["a"].Value, m.Groups["b2"].Value, m.Groups["c2"].Value];
        var (year, month, day) = m.Groups["name"].Success ? (Number(parts[2]), Month(parts[1]), Number(parts[0])) : order switch
        {
            DateOrder.Ymd => (Number(parts[0]), Number(parts[1]), Number(parts[2])),
            DateOrder.Dmy => (Number(parts[2]), Number(parts[1]), Number(parts[0])),
            _ => (Number(parts[2]), Number(parts[0]), Number(parts[1])),
        };
        year += year < 100 ? 2000 : 0;
        var (hour, minute, second) =
            (Number(m.Groups["h"].Value), Number(m.Groups["m"].Value), m.Groups["s"].Success ? Number(m.Groups["s"].Value) : 0);
        if (m.Groups["half"] is { Success: true, Value: var half })
        {
            if (hour is < 1 or > 12)
            {
                return (null, "expected an hour from 1 to 12 before am or pm");
            }

            hour = (hour % 12) + (char.ToLowerInvariant(half[0]) == 'p' ? 12 : 0);
        }

        if (year is < Limits.FirstYear or > Limits.LastYear || month is < 1 or > 12 || day < 1 || day > DateTime.DaysInMonth(year, month)
            || hour > 23 || minute > 59 || second > 59)
        {
            return (null, $"expected a date written {Shown(order)}");
        }

        var local = new DateTime(year, month, day, hour, minute, second, DateTimeKind.Unspecified);
        if (m.Groups["zone"] is { Success: true, Value: var offset })
        {
            return (new DateTimeOffset(local, offset is "Z" or "z" ? TimeSpan.Zero : Offset(offset)), null);
        }

        return zone.IsInvalidTime(local) ? (null, $"expected a time that exists in {zone.Id}: the clock was put forward over it")
            // The hour that comes twice is taken as its first time.
            : (new DateTimeOffset(local, zone.IsAmbiguousTime(local)
                ? zone.GetAmbiguousTimeOffsets(local).Max()
                : zone.GetUtcOffset(local)), null);
    }

    /// <summary>How a date of that order is written, for a sentence.</summary>
    public static string Shown(DateOrder order) =>
        order switch { DateOrder.Ymd => "year, month, day", DateOrder.Dmy => "day, month, year", _ => "month, day, year" };

    private static int Number(string text) => int.Parse(text, CultureInfo.InvariantCulture);

    private static int Month(string name) => Array.FindIndex(CultureInfo.InvariantCulture.DateTimeFormat.AbbreviatedMonthNames,
        n => n.Length > 0 && name.StartsWith(n, StringComparison.OrdinalIgnoreCase)) + 1;

    private static TimeSpan Offset(string text)
    {
        var digits = text.Replace(":", "", StringComparison.Ordinal)[1..];
        var offset = new TimeSpan(Number(digits[..2]), digits.Length > 2 ? Number(digits[2..]) : 0, 0);
        return offset > TimeSpan.FromHours(14) ? TimeSpan.Zero : text[0] == '-' ? -offset : offset;
    }

    [GeneratedRegex("""^(?:(?<compact>\d{8})|(?<b>\d{1,2})[-. /](?<name>[A-Za-z]{3,9})[-. /](?<c>\d{4}|\d{2})|(?<a>\d{1,4})[-./](?<b2>\d{1,2})[-./](?<c2>\d{1,4}))(?:T|,?\s+)(?<h>\d{1,2})(?::?(?<m>\d{2}))(?::?(?<s>\d{2})(?:\.\d+)?)?\s*(?<half>[AaPp]\.?[Mm]\.?)?\s*(?<zone>Z|z|[+-]\d{2}:?\d{2}|[+-]\d{2})?$""", RegexOptions.CultureInvariant)]
    private static partial Regex Shape();
}
