using System.Globalization;
using Fondo.Core.Cash;

namespace Fondo.Wording;

/// <summary>What is wrong with a row of a count, beside what was typed.</summary>
public static class RowFaultText
{
    private const int LongestShown = 20;

    /// <param name="typed">As it was typed.</param>
    public static string Says(this RowFault fault, string? typed, Currency currency)
    {
        var text = typed?.Replace('−', '-').Replace(" ", "", StringComparison.Ordinal).ToLowerInvariant() ?? "";
        return $"{(text.Length > LongestShown ? text[..LongestShown] + "…" : text)}: {Of(fault, currency)}";
    }

    public static string Of(RowFault fault, Currency currency) => fault switch
    {
        RowFault.FewerThanNone => "a drawer cannot hold fewer than 0 pieces.",
        RowFault.TooManyPieces => $"more than {CountSheet.MostPieces:N0} pieces in one drawer cannot be right.",
        RowFault.PacksNotWhole f => $"type a whole number of {Pack(f.Kind)}s before the *.",
        RowFault.NoPacks f =>
            $"there is no {Pack(f.Kind)} of {currency.Format(f.Kind.Worth)}; type the {(f.Kind.IsNote ? "notes" : "coins")}.",
        RowFault.NoValue f => $"pieces are whole; a value has {currency.MinorDigits} decimals, like {currency.Typed(f.Kind.Worth * 4)}.",
        RowFault.NoMultiple f => $"{currency.Format(f.Value)} is not a multiple of {currency.Format(f.Kind.Worth)}.",
        RowFault.PiecesNotWhole => "type a whole number of pieces, or a sum such as 20+5.",
        RowFault.NoGrams => "type grams before the /, like 850.5/.",
        RowFault.WeightUnknown f => $"what a {currency.Format(f.Kind.Worth)} weighs is not in the set-up; count it by hand.",
        RowFault.LighterThanContainer f => string.Create(CultureInfo.InvariantCulture,
            $"{f.Grams} g is less than the container alone, which weighs {f.Tare} g."),
        RowFault.OneOfTwo f => $"{f.Grams} g is {f.Pieces} or {f.Most} pieces. The scale cannot tell which: count this row by hand.",
        _ => throw new ArgumentOutOfRangeException(nameof(fault)),
    };

    private static string Pack(Denomination kind) => kind.IsNote ? "strap" : "roll";
}
