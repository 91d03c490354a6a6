using System.Globalization;
using Fondo.Files.Text;

namespace Fondo.Files.Mapping;

/// <summary>Makes settled rows of a processor's file.</summary>
internal static class MappedBatches
{
    /// <summary>Of so few rows nothing is odd.</summary>
    private const int FewRows = 2;

    public static MappedFile Of(MappedSource source, MappedMaking making)
    {
        var seen = new Dictionary<string, int>();
        var made = MappedTables.Of(MappedKind.Batches, Reading.ProofReader.RowColumns, source, making, (r, m) => Row(r, m, seen));
        return making.SalesSeen + making.RefundsSeen > FewRows && making.RefundsSeen > making.SalesSeen
            ? made with { Remarks = ["Most rows would be refunds. Are the signs reversed?"] }
            : made;
    }

    private static MappedTables.Line? Row(MappedRow row, MappedMaking making, Dictionary<string, int> seen)
    {
        var (at, amount, currency) = (making.At(row), making.Amount(row, MappedFields.Amount, isNeeded: true), making.Setup.Currency);
        var (tip, cashback) = (making.Amount(row, MappedFields.Tip), making.Amount(row, MappedFields.Cashback));
        var terminal = row.Word(MappedFields.Terminal);
        if (!MappedWords.IsTerminal(terminal, making.Setup))
        {
            making.Fault(row, MappedFields.Terminal, terminal, "expected a terminal of the set-up");
        }

        var benefit = MappedWords.BenefitOf(row.Word(MappedFields.Benefit)) ?? "";
        if (benefit.Length == 0 && row.Word(MappedFields.Benefit).Length > 0)
        {
            making.Fault(row, MappedFields.Benefit, row[MappedFields.Benefit],
                "expected food or cash; set in the mapping what this word means");
        }

        if (at is not { } moment || amount is not { } alone || IsRefund(row, alone, making) is not { } isRefund
            || making.With(row, MappedFields.Tip, alone, tip ?? Money.Zero, making.Mapping.Tip) is not { } signed)
        {
            return null;
        }

        var (rrn, auth, card) = (row[MappedFields.Rrn], row[MappedFields.Auth], MappedMaking.LastFour(row[MappedFields.Card]));
        var batch =
            MappedMaking.Id(row[MappedFields.Batch] is { Length: > 0 } b ? b : moment.ToString("yyMMdd", CultureInfo.InvariantCulture));
        var seq = MappedMaking.Id(row[MappedFields.Seq]);
        if (seq.Length == 0)
        {
            // Without a number of its own a row is known by what it says, so that the same file again changes nothing.
            var own = rrn.Length > 0
                ? rrn
                : string.Create(CultureInfo.InvariantCulture, $"{moment:HHmmss}-{signed.Abs().Minor}-{card}{auth}");
            own = CardNumbers.Contains(own)
                ? string.Create(CultureInfo.InvariantCulture, $"at{moment:HHmmss}a{signed.Abs().Minor}c{card}n{auth}")
                : own;
            seen[$"{terminal}/{batch}/{own}"] = seen.GetValueOrDefault($"{terminal}/{batch}/{own}") + 1;
            seq = MappedMaking.Id(own + (seen[$"{terminal}/{batch}/{own}"] is > 1 and var times ? $".{times}" : ""));
        }

        var abs = currency.Format(signed.Abs());
        return new([
            terminal,
            batch,
            seq,
            IsoTime.Format(moment),
            isRefund ? "refund" : "sale",
            abs,
            currency.Format((tip ?? Money.Zero).Abs()),
            currency.Format((cashback ?? Money.Zero).Abs()),
            row.Word(MappedFields.Brand),
            card,
            auth,
            rrn,
            row.Word(MappedFields.Entry),
            benefit
        ],
            moment,
            isRefund ? -signed.Abs() : signed.Abs(),
            $"{(isRefund ? "refund" : "sale")} of {abs} on {terminal}, "
                + $"{moment:d MMM HH:mm}{(card.Length > 0 ? $", card {card}" : "")}"
                + $"{(row[MappedFields.Brand].Length > 0 ? $", {row.Word(MappedFields.Brand)}" : "")}");
    }

    /// <summary>Null, and told, where it cannot be known.</summary>
    internal static bool? IsRefund(MappedRow row, Money signed, MappedMaking making)
    {
        var direction = Direction(row, signed, making.Mapping.Signs);
        if (direction is { IsRefund: { } isRefund })
        {
            making.Seen(isRefund, direction.IsBySign);
            return isRefund;
        }

        making.Fault(row, direction.Field, row[direction.Field], direction.Expected!);
        return null;
    }

    /// <summary>Sale or refund; or what was expected of which field.</summary>
    internal static (bool? IsRefund, bool IsBySign, string Field, string? Expected) Direction(MappedRow row, Money signed,
        MappedSigns signs)
    {
        var word = row.Word(MappedFields.Type);
        if (MappedWords.SaysRefund(word) is not { } saysRefund)
        {
            return (null, false, MappedFields.Type, "expected a word for sale or refund; set in the mapping what this word means");
        }

        if (signs == MappedSigns.None)
        {
            return signed.Sign < 0
                ? (null, false, MappedFields.Amount, "expected an amount without a sign; set in the mapping what a minus means")
                : (saysRefund, false, MappedFields.Type, null);
        }

        var signSaysRefund = signs == MappedSigns.NegativeRefunds ? signed.Sign < 0 : signed.Sign > 0;
        return signed.IsZero || signSaysRefund == saysRefund || word.Length == 0
            ? (word.Length == 0 ? signSaysRefund : saysRefund, word.Length == 0, MappedFields.Type, null)
            : (null, false, MappedFields.Amount,
                $"the row says {(saysRefund ? "refund" : "sale")} and its sign says {(signSaysRefund ? "refund" : "sale")}; set in the "
                    + "mapping what a minus means");
    }
}
