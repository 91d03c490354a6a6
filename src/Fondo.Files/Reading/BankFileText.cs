using System.Globalization;
using System.Text;
using Fondo.Core.Banking;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>What files of the bank have in common, whatever their shape.</summary>
internal static class BankFileText
{
    public const int MostText = 500;

    private static readonly UTF8Encoding _utf8 = new(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true);

    /// <summary>UTF-8, else Latin-1: banks write both.</summary>
    public static string Decode(byte[] bytes)
    {
        try
        {
            return _utf8.GetString(bytes).TrimStart('\uFEFF');
        }
        catch (DecoderFallbackException)
        {
            return Encoding.Latin1.GetString(bytes);
        }
    }

    /// <summary>What a bank writes where it has no reference is none.</summary>
    public static string? Reference(string? typed) =>
        typed?.Trim() is { Length: > 0 and <= 64 } text && !text.Equals("NONREF", StringComparison.OrdinalIgnoreCase)
            && !text.Equals("NOTPROVIDED", StringComparison.OrdinalIgnoreCase) ? text : null;

    /// <summary>The parts of a text, each once, with single spaces.</summary>
    public static string Join(IEnumerable<string?> parts)
    {
        var text = string.Join(" · ", parts.Select(p =>
            string.Join(' ', (p ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries))).Where(p => p.Length > 0).Distinct());
        return text.Length > MostText ? text[..MostText] : text;
    }

    /// <summary>The date of a moment where the store is; of a time without an offset its own date.</summary>
    public static DateOnly? DateOf(string text, TimeZoneInfo zone)
    {
        if (text.Length > 10 && (text.EndsWith('Z') || text[10..].IndexOfAny(['+', '-']) >= 0)
            && DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.None, out var at))
        {
            return DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(at, zone).DateTime);
        }

        return text.Length >= 10 && DateOnly.TryParseExact(text[..10], "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None,
            out var date) ? date : null;
    }

    /// <summary>A line has one key: where the bank uses a reference twice, the second line says so.</summary>
    public static ImmutableArray<BankLine> WithOwnKeys(IEnumerable<BankLine> lines)
    {
        Dictionary<string, int> used = new(StringComparer.Ordinal);
        return
        [
            .. lines.Select(l =>
            {
                var times = used[l.Key] = used.GetValueOrDefault(l.Key) + 1;
                return times == 1 ? l : l with { Key = string.Create(CultureInfo.InvariantCulture, $"{l.Key}#{times}") };
            }),
        ];
    }

    public static bool IsFullCard(BankLine line) => CardNumbers.Contains(line.Text) || line.Details.Any(d => CardNumbers.Contains(d.Text));
}
