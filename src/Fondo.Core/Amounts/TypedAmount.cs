using System.Globalization;
using System.Text.RegularExpressions;

namespace Fondo.Core.Amounts;

/// <summary>An amount as people type it: <c>58.2</c>, <c>58.20</c>, <c>58</c>, <c>1,058.20</c>, <c>58,20</c>, <c>1.058,20</c>, or a
/// sum such as <c>3.50+2</c>. A comma parts thousands only in groups of three; elsewhere it is the decimal sign, and never passed
/// over.</summary>
public static partial class TypedAmount
{
    private const int Longest = 40;

    /// <summary>Null where it is none, or below none of its parts within the stated range.</summary>
    public static Money? Read(string? typed, Currency currency)
    {
        var text = typed?.Replace('−', '-').Replace(" ", "", StringComparison.Ordinal) ?? "";
        if (text.Length is 0 or > Longest)
        {
            return null;
        }

        var (sum, from) = (0m, 0);
        while (from < text.Length)
        {
            var sign = text[from] == '-' ? -1 : 1;
            var begin = text[from] is '+' or '-' ? from + 1 : from;
            var end = text.AsSpan(begin).IndexOfAny('+', '-') is >= 0 and var next ? begin + next : text.Length;
            if (!decimal.TryParse(Plain(text[begin..end]), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture,
                out var value) || decimal.Round(value, currency.MinorDigits) != value)
            {
                return null;
            }

            (sum, from) = (sum + (sign * value), end);
        }

        return Math.Abs(sum) < Limits.WholeUnits ? new Money((long)(sum * currency.Unit)) : null;
    }

    /// <summary>With a point as its decimal sign, and nothing between thousands.</summary>
    private static string Plain(string number) =>
        CommaThousands().IsMatch(number) ? number.Replace(",", "", StringComparison.Ordinal)
        : PointThousands().IsMatch(number) ? number.Replace(".", "", StringComparison.Ordinal).Replace(',', '.')
        : number.Replace(',', '.');

    [GeneratedRegex(@"^[1-9]\d{0,2}(,\d{3})+(\.\d*)?$", RegexOptions.CultureInvariant)]
    private static partial Regex CommaThousands();

    [GeneratedRegex(@"^[1-9]\d{0,2}(\.\d{3})+,\d+$", RegexOptions.CultureInvariant)]
    private static partial Regex PointThousands();
}
