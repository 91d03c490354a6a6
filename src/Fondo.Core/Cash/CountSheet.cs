using System.Globalization;

namespace Fondo.Core.Cash;

/// <summary>Reads what a person types into a count: a number of pieces, or a sum of them such as <c>20+5</c>.</summary>
public static class CountSheet
{
    /// <summary>No drawer holds more pieces of one kind than this; more is a slip of the hand.</summary>
    public const int MostPieces = 100_000;

    /// <summary>The number of pieces, 0 for an empty row; otherwise what is wrong, as a sentence.</summary>
    public static (int Pieces, string? Objection) Pieces(string? typed)
    {
        if (string.IsNullOrWhiteSpace(typed))
        {
            return (0, null);
        }

        long sum = 0;
        foreach (var part in typed.Split('+', StringSplitOptions.TrimEntries))
        {
            if (part.StartsWith('-') || part.StartsWith('−'))
            {
                return (0, $"{typed.Trim()}: a drawer cannot hold less than no pieces.");
            }

            if (part.Length == 0 || !part.All(char.IsAsciiDigit))
            {
                return (0, $"{Shown(typed)}: type a whole number of pieces, or a sum such as 20+5.");
            }

            if (part.Length > 9 || (sum += long.Parse(part, CultureInfo.InvariantCulture)) > MostPieces)
            {
                return (0, $"{Shown(typed)}: more than {MostPieces:N0} pieces in one drawer cannot be right.");
            }
        }

        return ((int)sum, null);
    }

    private static string Shown(string typed) => typed.Trim() is { Length: > 20 } text ? text[..20] + "…" : typed.Trim();
}
