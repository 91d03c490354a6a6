using System.Globalization;
using Fondo.Core.Proof;

namespace Fondo.Core.Cash;

/// <summary>What a row of a count comes to.</summary>
/// <param name="Parts">How it was counted; empty for an empty row.</param>
/// <param name="Objection">What is wrong with it, as a sentence; null where nothing is.</param>
public readonly record struct RowRead(int Pieces, ImmutableArray<CountedPart> Parts, string? Objection);

/// <summary>Reads what a person types into a row of a count, on a numeric keypad alone: <c>25</c> pieces, <c>2*</c> rolls or straps,
/// <c>7.50</c> in value, <c>850/</c> grams;
/// and sums of these, such as <c>2*+13−1</c>.</summary>
public static class CountSheet
{
    /// <summary>No drawer holds more pieces of one kind than this; more is a slip of the hand.</summary>
    public const int MostPieces = 100_000;

    /// <summary>Behind a number: so many packs; so many grams. A letter does as well.</summary>
    public const string PackSigns = "*rs", WeightSigns = "/g";

    private const int LongestShown = 20;

    /// <summary>The row as it is meant; 0 pieces for an empty one.</summary>
    public static RowRead Row(string? typed, Denomination kind, Currency currency, Scale scale)
    {
        var text = typed?.Replace('−', '-').Replace(" ", "", StringComparison.Ordinal).ToLowerInvariant() ?? "";
        var parts = ImmutableArray.CreateBuilder<CountedPart>();
        var (sum, from) = (0L, 0);
        while (from < text.Length)
        {
            var isLess = text[from] == '-';
            if (isLess && from == 0)
            {
                return Wrong($"{Shown(text)}: a drawer cannot hold fewer than 0 pieces.");
            }

            var begin = text[from] is '+' or '-' ? from + 1 : from;
            var end = text.AsSpan(begin).IndexOfAny('+', '-') is >= 0 and var next ? begin + next : text.Length;
            var (part, objection) = Part(text[begin..end], kind, currency, scale);
            if (objection is not null)
            {
                return Wrong($"{Shown(text)}: {objection}");
            }

            parts.Add(isLess ? part with { Pieces = -part.Pieces } : part);
            sum += parts[^1].Pieces;
            from = end;
        }

        return sum < 0 ? Wrong($"{Shown(text)}: a drawer cannot hold fewer than 0 pieces.")
            : sum > MostPieces ? Wrong($"{Shown(text)}: more than {MostPieces:N0} pieces in one drawer cannot be right.")
            : new((int)sum, parts.ToImmutable(), null);
    }

    private static (CountedPart Part, string? Objection) Part(string text, Denomination kind, Currency currency, Scale scale)
    {
        var (pieces, pack) = (kind.IsNote ? "notes" : "coins", kind.IsNote ? "strap" : "roll");
        if (text.Length > 0 && PackSigns.Contains(text[^1], StringComparison.Ordinal))
        {
            return !Whole(text[..^1], out var packs) ? Not($"type a whole number of {pack}s before the *.")
                : kind.Pack is not { } size ? Not($"there is no {pack} of {currency.Format(kind.Worth)}; type the {pieces}.")
                : Is(Means.Pack, text[..^1], packs * size);
        }

        if (text.Length > 0 && WeightSigns.Contains(text[^1], StringComparison.Ordinal))
        {
            return Weighed(text[..^1], kind, currency, scale);
        }

        if (text.Contains('.', StringComparison.Ordinal))
        {
            return !currency.TryParse(text.StartsWith('.') ? "0" + text : text, out var value)
                ? Not($"pieces are whole; a value has {currency.MinorDigits} decimals, like {currency.Format(kind.Worth * 4)}.")
                : value.Minor % kind.Worth.Minor != 0
                    ? Not($"{currency.Format(value)} is not a multiple of {currency.Format(kind.Worth)}.")
                : Is(Means.Value, currency.Format(value), value.Minor / kind.Worth.Minor);
        }

        return Whole(text, out var number) ? Is(Means.Piece, text, number) : Not("type a whole number of pieces, or a sum such as 20+5.");
    }

    private static (CountedPart, string?) Weighed(string grams, Denomination kind, Currency currency, Scale scale)
    {
        if (grams.Length > 12 || !decimal.TryParse(grams, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var gross))
        {
            return Not("type grams before the /, like 850.5/.");
        }

        if (kind.Grams is not { } unit)
        {
            return Not($"what a {currency.Format(kind.Worth)} weighs is not in the set-up; count it by hand.");
        }

        var said = scale.Tare == 0 ? grams : string.Create(CultureInfo.InvariantCulture, $"{grams} less {scale.Tare}");
        return scale.Weigh(gross, unit) switch
        {
            { Says: Weighing.LighterThanTare } => Not(string.Create(CultureInfo.InvariantCulture,
                $"{grams} g is less than the container alone, which weighs {scale.Tare} g.")),
            { Says: Weighing.Between } between =>
                Not($"{grams} g is {between.Pieces} or {between.Most} pieces. The scale cannot tell which: count this row by hand."),
            var sure => Is(Means.Weight, said, sure.Pieces),
        };
    }

    private static (CountedPart, string?) Is(Means by, string said, long pieces) =>
        pieces > MostPieces ? Not($"more than {MostPieces:N0} pieces in one drawer cannot be right.") : (new(by, said, (int)pieces), null);

    private static (CountedPart, string?) Not(string objection) => (default, objection);

    private static bool Whole(string text, out long number)
    {
        var isOne = text.Length > 0 && text.All(char.IsAsciiDigit);
        number = !isOne ? 0 : text.Length > 9 ? Limits.WholeUnits : long.Parse(text, CultureInfo.InvariantCulture);
        return isOne;
    }

    private static RowRead Wrong(string objection) => new(0, [], objection);

    private static string Shown(string text) => text.Length > LongestShown ? text[..LongestShown] + "…" : text;
}
