using System.Globalization;
using Fondo.Core.Banking;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads statements as CSV (RFC 4180):
/// <c>statement,account,currency,from,to,opening,closing,booked,amount,reference,text,items</c>, a line of the bank a row.
/// What belongs to the whole statement stands on each of its rows; a row without an amount is a statement without lines.</summary>
public static class StatementCsv
{
    private static readonly string[] _columns =
        ["statement", "account", "currency", "from", "to", "opening", "closing", "booked", "amount", "text"];

    public static StatementReading Read(string file, Stream content, Currency currency)
    {
        var findings = new Findings();
        var (heads, lines) = (new Dictionary<string, BankStatement>(StringComparer.Ordinal), new List<(string Statement, BankLine Line)>());
        CsvFile.Read(file, content, _columns, currency, findings, (at, f) =>
        {
            var head = new BankStatement(f.Text("statement"), f.Text("account"), f.Text("currency"), Date(f, "from"), Date(f, "to"),
                f.Amount("opening"), f.Amount("closing"), []);
            if (head.Id.Length > 64)
            {
                f.Fault("statement", head.Id[..40], "expected 64 characters at most");
            }

            if (heads.TryGetValue(head.Id, out var before) && before != head with { Lines = before.Lines })
            {
                f.Fault("statement", head.Id, "expected account, dates and balances as on the rows before");
            }

            if (f.IsThere("amount"))
            {
                var place = lines.Count(l => l.Statement == head.Id) + 1;
                var text = f.OptionalText("text") ?? "";
                lines.Add((head.Id, new(
                    BankFileText.Reference(f.OptionalText("reference")) is { } reference
                        ? reference
                        : $"{head.Id}/{place.ToString(CultureInfo.InvariantCulture)}", default, Date(f, "booked"), f.Amount("amount"),
                    text.Length > BankFileText.MostText ? text[..BankFileText.MostText] : text,
                    f.IsThere("items") ? f.Integer("items") : null)));
            }

            if (!f.Faulty)
            {
                heads.TryAdd(head.Id, head);
            }
        });
        if (findings.Any)
        {
            return new([], findings.All[0].ToString());
        }

        var byStatement = lines.ToLookup(l => l.Statement, l => l.Line);
        return heads.Count == 0
            ? new([], "The file has no rows.")
            : new([.. heads.Values.Select(h => h with { Lines = BankFileText.WithOwnKeys(byStatement[h.Id]) })], null);
    }

    private static DateOnly Date(CsvFields f, string name)
    {
        var text = f.Text(name);
        if (DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)
            && date.Year is >= Limits.FirstYear and <= Limits.LastYear)
        {
            return date;
        }

        f.Fault(name, text, "expected a date, like 2026-11-20");
        return default;
    }
}
