using System.Globalization;
using System.Text;
using Fondo.Files.Text;

namespace Fondo.Files.Mapping;

/// <summary>Makes one statement of a bank's file: its lines, with the balance after each, from which the opening and the closing balance
/// follow.</summary>
internal static class MappedStatement
{
    private static readonly string[] _columns =
        ["statement", "account", "currency", "from", "to", "opening", "closing", "booked", "amount", "reference", "text", "items"];

    private sealed record Line(MappedRow Row, DateOnly Booked, Money Amount, Money Balance);

    public static MappedFile Of(MappedSource source, MappedMaking making)
    {
        var (rows, lines, currency) = (new List<MappedFate>(), new List<Line>(), making.Setup.Currency);
        foreach (var (row, line) in making.Each(source, rows, Read))
        {
            lines.Add(line);
            rows.Add(new(row.Line, RowFate.Taken,
                $"{currency.Format(line.Amount)} booked on "
                    + $"{line.Booked.ToString("d MMM yyyy", CultureInfo.InvariantCulture)}"
                    + $"{(row[MappedFields.Text] is { Length: > 0 } says ? $", {says}" : "")}"));
        }

        if (making.Findings.All.Count > 0 || lines.Count == 0)
        {
            return new(MappedKind.Statement, "", [], [], rows, making.Findings.All, []);
        }

        // Many banks write the newest line first; the balances tell, else the dates.
        var (asItStands, turned) = (Breaks(lines).Count(), Breaks([.. lines.AsEnumerable().Reverse()]).Count());
        if (asItStands > turned || (asItStands == turned && lines[0].Booked > lines[^1].Booked))
        {
            lines.Reverse();
        }

        if (Breaks(lines).Select(b => ((Line Line, Money Expected)?)b).FirstOrDefault() is { } broken)
        {
            making.Fault(broken.Line.Row, MappedFields.Balance, currency.Format(broken.Line.Balance),
                $"expected {currency.Format(broken.Expected)}, the balance before and this amount; are lines missing or signs reversed?");
            return new(MappedKind.Statement, "", [], [], rows, making.Findings.All, []);
        }

        return new(MappedKind.Statement, Written(lines, making), [1, .. lines.Select(l => l.Row.Line)], [], rows, [], [])
        {
            Net = lines.Sum(l => l.Amount)
        };
    }

    private static Line? Read(MappedRow row, MappedMaking making)
    {
        var (booked, balance) = (making.On(row), making.Amount(row, MappedFields.Balance, isNeeded: true));
        var amount = row[MappedFields.Amount].Length > 0 || (row[MappedFields.PaidIn].Length == 0 && row[MappedFields.PaidOut].Length == 0)
            ? making.Amount(row, MappedFields.Amount, isNeeded: true) * (making.Mapping.Signs == MappedSigns.NegativeSales ? -1 : 1)
            : making.Amount(row, MappedFields.PaidIn) - making.Amount(row, MappedFields.PaidOut)?.Abs();
        if (row[MappedFields.Account].Length == 0)
        {
            making.Fault(row, MappedFields.Account, "", "expected the account, in a column or the same on every row");
        }

        return booked is { } day && amount is { } moved && balance is { } after ? new(row, day, moved, after) : null;
    }

    /// <summary>The lines whose balance is not the one before and its amount.</summary>
    private static IEnumerable<(Line Line, Money Expected)> Breaks(List<Line> lines) =>
        lines.Zip(lines.Skip(1)).Select(p => (Line: p.Second, Expected: p.First.Balance + p.Second.Amount))
            .Where(b => b.Expected != b.Line.Balance);

    private static string Written(List<Line> lines, MappedMaking making)
    {
        var (currency, first) = (making.Setup.Currency, lines[0]);
        var (from, to) = (lines.Min(l => l.Booked), lines.Max(l => l.Booked));
        var id = first.Row[MappedFields.Statement] is { Length: > 0 } own
            ? own
            : string.Create(CultureInfo.InvariantCulture, $"{from:yyyy-MM-dd}/{to:yyyy-MM-dd}");
        var text = new StringBuilder().AppendJoin(',', _columns).Append('\n');
        foreach (var line in lines)
        {
            string[] fields =
            [
                id,
                first.Row[MappedFields.Account],
                currency.Code,
                Date(from),
                Date(to),
                currency.Format(first.Balance - first.Amount),
                currency.Format(lines[^1].Balance),
                Date(line.Booked),
                currency.Format(line.Amount),
                line.Row[MappedFields.Reference],
                line.Row[MappedFields.Text],
                line.Row[MappedFields.Items],
            ];
            text.AppendJoin(',', fields.Select(f => CsvText.Field(f.ReplaceLineEndings(" ")))).Append('\n');
        }

        return text.ToString();

        static string Date(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
    }
}
