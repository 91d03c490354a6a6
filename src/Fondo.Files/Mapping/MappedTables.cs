using System.Globalization;
using System.Text;
using Fondo.Files.Reading;
using Fondo.Files.Text;

namespace Fondo.Files.Mapping;

/// <summary>Makes tables of which a line is a row of the file: settled rows, lines of the store's own books, totals of hosts.</summary>
internal static class MappedTables
{
    /// <summary>A line of the table.</summary>
    /// <param name="Net">What it adds to what the file comes to.</param>
    /// <param name="Says">What it is, for the page.</param>
    internal sealed record Line(string?[] Fields, DateTimeOffset At, Money Net, string Says);

    public static MappedFile Ledger(MappedSource source, MappedMaking making)
    {
        var seen = new Dictionary<string, int>();
        return Of(MappedKind.Ledger, ProofReader.LedgerColumns, source, making, (row, m) => LedgerRow(row, m, seen));
    }

    public static MappedFile Totals(MappedSource source, MappedMaking making) =>
        Of(MappedKind.Totals, ProofReader.TotalColumns, source, making, TotalRow);

    internal static MappedFile Of(MappedKind kind, string[] columns, MappedSource source, MappedMaking making,
        Func<MappedRow, MappedMaking, Line?> read)
    {
        var text = new StringBuilder().AppendJoin(',', columns).Append('\n');
        var (lines, days, rows) = (new List<int> { 1 }, new List<DateTimeOffset>(), new List<MappedFate>());
        var net = Money.Zero;
        foreach (var (row, made) in making.Each(source, rows, read, leavesVoidsOut: true))
        {
            text.AppendJoin(',', made.Fields.Select(f => CsvText.Field(f?.ReplaceLineEndings(" ")))).Append('\n');
            lines.Add(row.Line);
            days.Add(made.At);
            rows.Add(new(row.Line, RowFate.Taken, made.Says));
            net += made.Net;
        }

        return new(kind, text.ToString(), lines, days, rows, making.Findings.All, []) { Net = net };
    }

    private static Line? LedgerRow(MappedRow row, MappedMaking making, Dictionary<string, int> seen)
    {
        var (at, amount) = (making.At(row), making.Amount(row, MappedFields.Amount, isNeeded: true));
        var tender = MappedWords.TenderOf(row.Word(MappedFields.Tender), making.Setup);
        if (tender is null || making.Setup.Find(new TenderId(tender))?.Proof != ProofKind.Ledger)
        {
            making.Fault(row, MappedFields.Tender, row[MappedFields.Tender],
                "expected a tender that the store keeps its own books of; set in the mapping what this word means");
        }

        if (making.RegisterOf(row) is null)
        {
            making.Fault(row, MappedFields.Register, row[MappedFields.Register],
                "expected a register in the set-up; set in the mapping which one this is");
        }

        if (at is not { } moment || amount is not { } signed || MappedBatches.IsRefund(row, signed, making) is not { } isRefund)
        {
            return null;
        }

        var (size, currency, type) = (signed.Abs(), making.Setup.Currency, (isRefund ? Direction.Refund : Direction.Sale).Written());
        var reference = row[MappedFields.Ref] is var told && told.Any(c => c is '*' or '•' or '·') ? MappedMaking.LastFour(told) : told;
        return new([tender, SequenceOf(row, moment, size, reference, seen), IsoTime.Format(moment), making.RegisterIdOf(row), type,
            currency.Format(size), reference], moment, isRefund ? -size : size,
            $"{type} of {currency.Format(size)} by {tender} at {making.RegisterIdOf(row)}, {Time(moment)}");
    }

    /// <summary>The row's own number; else what it says, so that the same file again has the same keys.</summary>
    private static string SequenceOf(MappedRow row, DateTimeOffset at, Money amount, string reference, Dictionary<string, int> seen)
    {
        if (MappedMaking.Id(row[MappedFields.Seq]) is { Length: > 0 } own)
        {
            return own;
        }

        var made = string.Create(CultureInfo.InvariantCulture, $"at{at:yyMMdd}t{at:HHmmss}a{amount.Minor}r{reference}");
        seen[made] = seen.GetValueOrDefault(made) + 1;
        return MappedMaking.Id(seen[made] > 1 ? $"{made}.{seen[made]}" : made);
    }

    private static Line? TotalRow(MappedRow row, MappedMaking making)
    {
        var (at, sales, refunds) = (making.At(row), making.Amount(row, MappedFields.SalesAmount, isNeeded: true),
            making.Amount(row, MappedFields.RefundsAmount));
        var (terminal, batch) = (row.Word(MappedFields.Terminal), MappedMaking.Id(row[MappedFields.Batch]));
        if (!MappedWords.IsTerminal(terminal, making.Setup))
        {
            making.Fault(row, MappedFields.Terminal, terminal, "expected a terminal of the set-up");
        }

        if (batch.Length == 0)
        {
            making.Fault(row, MappedFields.Batch, "", "expected a batch number, but the field is empty");
        }

        if (at is not { } moment || sales is not { } sold || refunds is not { } returned
            || Number(row, MappedFields.SalesCount, making) is not { } numberSold
            || Number(row, MappedFields.RefundsCount, making) is not { } numberReturned)
        {
            return null;
        }

        var currency = making.Setup.Currency;
        return new([terminal, batch, IsoTime.Format(moment), Text(numberSold), currency.Format(sold.Abs()), Text(numberReturned),
            currency.Format(returned.Abs())], moment, sold.Abs() - returned.Abs(),
            $"batch {batch} of {terminal}, closed {Time(moment)}: {numberSold} for {currency.Format(sold.Abs())}, "
                + $"{numberReturned} back for {currency.Format(returned.Abs())}");
    }

    /// <summary>A whole number; none is nothing. Null, and told, where it is no number.</summary>
    private static int? Number(MappedRow row, string field, MappedMaking making)
    {
        if (row[field].Length == 0)
        {
            return 0;
        }

        if (int.TryParse(row[field], NumberStyles.None, CultureInfo.InvariantCulture, out var number))
        {
            return number;
        }

        making.Fault(row, field, row[field], "expected a whole number");
        return null;
    }

    private static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);

    private static string Time(DateTimeOffset at) => at.ToString("d MMM HH:mm", CultureInfo.InvariantCulture);
}
