using System.Globalization;

namespace Fondo.Files.Mapping;

/// <summary>Reads amounts as other programs write them: <c>1.284,15</c>, <c>$1,284.15</c>, <c>(4.00)</c>, <c>4.00-</c>, <c>4.00
/// CR</c>.</summary>
internal static class MappedAmount
{
    /// <summary>The amount with its sign; null where the text is none.</summary>
    public static Money? Read(string text, char mark, Currency currency)
    {
        var plain = text.Trim().Replace('−', '-');
        var negative = false;
        if (plain.EndsWith("CR", StringComparison.OrdinalIgnoreCase))
        {
            (plain, negative) = (plain[..^2], true);
        }

        if (plain.StartsWith('(') && plain.EndsWith(')'))
        {
            (plain, negative) = (plain[1..^1], true);
        }

        plain = new string([.. plain.Where(c => char.IsAsciiDigit(c) || c is '.' or ',' or '-' or '+' or '\'')]) is var kept
            && kept.Length < plain.Count(c => !char.IsWhiteSpace(c) && !IsSymbol(c)) ? "" : kept;
        if (plain.EndsWith('-'))
        {
            (plain, negative) = (plain[..^1], true);
        }
        else if (plain.StartsWith('-'))
        {
            (plain, negative) = (plain[1..], !negative);
        }

        plain = plain.TrimStart('+');
        var thousands = mark == '.' ? ',' : '.';
        var parts = plain.Split(mark);
        if (parts.Length > 2 || parts[0].Length + (parts.Length > 1 ? parts[1].Length : 0) == 0
            || (parts.Length == 2 && (parts[1].Length > Math.Max(currency.MinorDigits, 0) || !parts[1].All(char.IsAsciiDigit)))
            || !Groups(parts[0], thousands))
        {
            return null;
        }

        var whole = parts[0].Replace(thousands.ToString(), "", StringComparison.Ordinal).Replace("'", "", StringComparison.Ordinal);
        return decimal.TryParse($"{(whole.Length == 0 ? "0" : whole)}.{(parts.Length == 2 && parts[1].Length > 0 ? parts[1] : "0")}",
            NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var value) && value < Limits.WholeUnits
            ? new Money((long)(value * currency.Unit) * (negative ? -1 : 1)) : null;
    }

    /// <summary>Thousands stand in groups of three, or not at all: a decimal mark is not taken for one.</summary>
    private static bool Groups(string whole, char thousands)
    {
        var groups = whole.Split(thousands, '\'');
        return groups.All(g => g.All(char.IsAsciiDigit))
            && (groups.Length == 1 || (groups[0].Length is >= 1 and <= 3 && groups.Skip(1).All(g => g.Length == 3)));
    }

    private static bool IsSymbol(char c) => char.GetUnicodeCategory(c) == UnicodeCategory.CurrencySymbol;
}
