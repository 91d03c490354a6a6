using System.Globalization;

namespace Fondo.Files.Text;

/// <summary>The last digits of cards, at most four: each text is kept once.</summary>
internal static class LastFours
{
    private const int Most = 4;

    /// <summary>The texts by their length and the number that they are; made when they are first asked for.</summary>
    private static readonly string?[][] _texts = [[], new string?[10], new string?[100], new string?[1000], new string?[10_000]];

    public static bool Are(ReadOnlySpan<byte> text) => text.Length <= Most && !text.ContainsAnyExceptInRange((byte)'0', (byte)'9');

    /// <param name="digits">Which they are.</param>
    /// <returns>Null of no digits.</returns>
    public static string? Of(ReadOnlySpan<byte> digits)
    {
        if (digits.IsEmpty)
        {
            return null;
        }

        var number = 0;
        foreach (var digit in digits)
        {
            number = (number * 10) + digit - '0';
        }

        return _texts[digits.Length][number] ??= number.ToString(CultureInfo.InvariantCulture).PadLeft(digits.Length, '0');
    }
}
