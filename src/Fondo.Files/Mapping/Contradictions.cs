using Fondo.Files.Text;

namespace Fondo.Files.Mapping;

/// <summary>What a file says against itself, or against its mapping, as a whole: it is not read before a person says which is
/// right.</summary>
internal static class Contradictions
{
    /// <summary>From so many refunds on, and no sale, the signs are held to be turned.</summary>
    private const int FewRefunds = 3;

    /// <summary>Before any row is made of it.</summary>
    public static IEnumerable<Finding> Before(string file, MappedSource source, Mapping mapping, Currency currency)
    {
        foreach (var name in source.Header.Select(h => h.Trim()).Where(h => h.Length > 0)
            .GroupBy(h => h, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1
                && mapping.Columns.Values.Contains(g.Key, StringComparer.OrdinalIgnoreCase)))
        {
            yield return Of(file, mapping.SkipLines + 1, name.Key,
                "the file has several columns of this name, so Fondo cannot tell which one counts");
        }

        if (mapping.TimeZone.Length == 0)
        {
            yield return Of(file, source.Rows[0].Line, mapping.Columns.GetValueOrDefault(MappedFields.At)
                ?? mapping.Columns.GetValueOrDefault(MappedFields.Time) ?? MappedFields.Time,
                "rows after midnight may be of a late evening, or of UTC: say in the mapping whose times these are");
        }

        if (mapping.Whole == WholeAmounts.Asked && currency.MinorDigits > 0)
        {
            var field = MappedFields.AmountOf(mapping.Kind, mapping.Layout);
            var amounts = source.Rows.Where(r => !r.IsTotals && r[field].Length > 0).ToList();
            if (amounts.Count > 0 && amounts.All(r => r[field].All(c => c is '-' or '+' or '(' or ')' || char.IsAsciiDigit(c)))
                && amounts.Exists(r => r[field].Any(c => c is >= '1' and <= '9')))
            {
                yield return Of(file, amounts[0].Line, mapping.Columns.GetValueOrDefault(field) ?? field,
                    $"no amount has decimals: say in the mapping whether {amounts[0][field]} is in whole units or in the smallest unit");
            }
        }
    }

    /// <summary>What the rows came to.</summary>
    public static IEnumerable<Finding> After(string file, MappedSource source, MappedFile made, MappedMaking making)
    {
        var taken = made.Rows.Count(r => r.Fate == RowFate.Taken);
        if (made.Kind != MappedKind.Statement && making.SalesSeen == 0 && making.RefundsBySign >= FewRefunds)
        {
            yield return Of(file, source.Rows[0].Line, making.Mapping.Columns.GetValueOrDefault(MappedFields.Amount) ?? MappedFields.Amount,
                $"all {taken} rows would be refunds, by their sign alone: say in the mapping what a minus is");
        }

        // What a refused row comes to is not known.
        var isWhole = made.Kind == MappedKind.Batches && made.Number(RowFate.Refused) == 0;
        foreach (var finding in isWhole ? Totals(file, source, made, making) : [])
        {
            yield return finding;
        }
    }

    /// <summary>A row of totals has to be what some of the rows above it come to: all of them, or those since the row of totals
    /// before.</summary>
    private static IEnumerable<Finding> Totals(string file, MappedSource source, MappedFile made, MappedMaking making)
    {
        var fates = made.Rows.ToDictionary(r => r.Line, r => r.Fate);
        var (all, since) = (new Sums(), new Sums());
        var (lastOfAll, currency) = (default(Money?), making.Setup.Currency);
        foreach (var row in source.Rows)
        {
            if (MappedAmount.Read(row[MappedFields.Amount], making.Mapping.DecimalMark, currency) is not { } written)
            {
                continue;
            }

            written = making.Scaled(row[MappedFields.Amount], written);
            if (!row.IsTotals)
            {
                all.Add(written, fates.GetValueOrDefault(row.Line), making.IsRefund(row, written));
                since.Add(written, fates.GetValueOrDefault(row.Line), making.IsRefund(row, written));
                continue;
            }

            if (!all.Are(written) && !since.Are(written) && lastOfAll != written)
            {
                yield return Of(file, row.Line, making.Mapping.Columns.GetValueOrDefault(MappedFields.Amount) ?? MappedFields.Amount,
                    $"this row of totals says {currency.Format(written)}, but the rows above it come to {currency.Format(all.Net)}");
            }

            (since, lastOfAll) = (new(), written);
        }
    }

    /// <summary>What rows come to, in the ways in which totals are written.</summary>
    private sealed class Sums
    {
        private Money _written, _withVoids, _sales;

        /// <summary>Sales less refunds, of the rows that are taken.</summary>
        public Money Net { get; private set; }

        public void Add(Money written, RowFate fate, bool isRefund)
        {
            _withVoids += written;
            if (fate == RowFate.Taken)
            {
                _written += written;
                Net += isRefund ? -written.Abs() : written.Abs();
                _sales += isRefund ? Money.Zero : written.Abs();
            }
        }

        public bool Are(Money total) => total == _written || total == Net || total == _withVoids || total == _sales || total == -Net;
    }

    private static Finding Of(string file, int line, string column, string says) => new(file, line, column, null, says);
}
