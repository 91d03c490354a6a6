using System.Globalization;
using Fondo.Core.Proof;

namespace Fondo.Core.Cash;

/// <summary>What a row of a count comes to.</summary>
/// <param name="Parts">How it was counted; empty for an empty row.</param>
/// <param name="Fault">What is wrong with it; null where nothing is.</param>
public readonly record struct RowRead(int Pieces, ImmutableArray<CountedPart> Parts, RowFault? Fault);

/// <summary>Reads what a person types into a row of a count, on a numeric keypad alone: <c>25</c> pieces, <c>2*</c> rolls or straps,
/// <c>7.50</c> in value, <c>850/</c> grams;
/// and sums of these, such as <c>2*+13−1</c>.</summary>
public static class CountSheet
{
    /// <summary>No drawer holds more pieces of one kind than this; more is a slip of the hand.</summary>
    public const int MostPieces = 100_000;

    /// <summary>Behind a number: so many packs; so many grams. A letter does as well.</summary>
    public const string PackSigns = "*rs", WeightSigns = "/g";

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
                return Wrong(new RowFault.FewerThanNone());
            }

            var begin = text[from] is '+' or '-' ? from + 1 : from;
            var end = text.AsSpan(begin).IndexOfAny('+', '-') is >= 0 and var next ? begin + next : text.Length;
            var (part, fault) = Part(text[begin..end], kind, currency, scale);
            if (fault is not null)
            {
                return Wrong(fault);
            }

            parts.Add(isLess ? part with { Pieces = -part.Pieces } : part);
            sum += parts[^1].Pieces;
            from = end;
        }

        return sum < 0 ? Wrong(new RowFault.FewerThanNone())
            : sum > MostPieces ? Wrong(new RowFault.TooManyPieces())
            : new((int)sum, parts.ToImmutable(), null);
    }

    private static (CountedPart Part, RowFault? Fault) Part(string text, Denomination kind, Currency currency, Scale scale)
    {
        if (text.Length > 0 && PackSigns.Contains(text[^1], StringComparison.Ordinal))
        {
            return !Whole(text[..^1], out var packs) ? Not(new RowFault.PacksNotWhole(kind))
                : kind.Pack is not { } size ? Not(new RowFault.NoPacks(kind))
                : Is(Means.Pack, text[..^1], packs * size);
        }

        if (text.Length > 0 && WeightSigns.Contains(text[^1], StringComparison.Ordinal))
        {
            return Weighed(text[..^1], kind, scale);
        }

        if (text.AsSpan().ContainsAny('.', ','))
        {
            // Of three decimals the other sign may as well part thousands.
            var plain = currency.MinorDigits != 3 ? text.Replace(',', '.')
                : currency.DecimalMark == Currency.Point ? text
                : text.Replace('.', '?').Replace(',', '.');
            return !currency.TryParse(plain.StartsWith('.') ? "0" + plain : plain, out var value)
                ? Not(new RowFault.NoValue(kind))
                : value.Minor % kind.Worth.Minor != 0
                    ? Not(new RowFault.NoMultiple(value, kind))
                : Is(Means.Value, currency.Format(value), value.Minor / kind.Worth.Minor);
        }

        return Whole(text, out var number) ? Is(Means.Piece, text, number) : Not(new RowFault.PiecesNotWhole());
    }

    private static (CountedPart, RowFault?) Weighed(string grams, Denomination kind, Scale scale)
    {
        if (grams.Length > 12 || !decimal.TryParse(grams, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var gross))
        {
            return Not(new RowFault.NoGrams());
        }

        if (kind.Grams is not { } unit)
        {
            return Not(new RowFault.WeightUnknown(kind));
        }

        var said = scale.Tare == 0 ? grams : string.Create(CultureInfo.InvariantCulture, $"{grams} less {scale.Tare}");
        return scale.Weigh(gross, unit) switch
        {
            { Says: Weighing.LighterThanTare } => Not(new RowFault.LighterThanContainer(grams, scale.Tare)),
            { Says: Weighing.Between } between => Not(new RowFault.OneOfTwo(grams, between.Pieces, between.Most)),
            var sure => Is(Means.Weight, said, sure.Pieces),
        };
    }

    private static (CountedPart, RowFault?) Is(Means by, string said, long pieces) =>
        pieces > MostPieces ? Not(new RowFault.TooManyPieces()) : (new(by, said, (int)pieces), null);

    private static (CountedPart, RowFault?) Not(RowFault fault) => (default, fault);

    private static bool Whole(string text, out long number)
    {
        var isOne = text.Length > 0 && text.All(char.IsAsciiDigit);
        number = !isOne ? 0 : text.Length > 9 ? Limits.WholeUnits : long.Parse(text, CultureInfo.InvariantCulture);
        return isOne;
    }

    private static RowRead Wrong(RowFault fault) => new(0, [], fault);
}
