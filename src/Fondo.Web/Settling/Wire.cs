using System.Globalization;
using System.Text;
using Fondo.Files.Text;

namespace Fondo.Web.Settling;

/// <summary>How a processor and its terminals are spoken to over HTTP: amounts as decimal strings, times with their offset. Described as
/// OpenAPI.</summary>
/// <param name="Number">How many.</param>
public sealed record WireSum(int Number, string Amount);

/// <summary>The reconciliation elements of ISO 8583: debits are sales, credits refunds.</summary>
public sealed record WireTotals(WireSum Debits, WireSum Credits, WireSum Reversals, string Net, IReadOnlyList<WireBrand>? Brands);

/// <summary>The totals of one brand; of a benefit card by its kind.</summary>
public sealed record WireBrand(string Brand, string? Benefit, WireSum Debits, WireSum Credits);

/// <summary>A transaction, by the columns of batches.csv.</summary>
public sealed record WireRow(string Seq, DateTimeOffset At, string Type, string Amount, string Tip, string Cashback, string? Brand,
    string? Card, string? Auth, string? Rrn, string? Entry, string? Benefit);

/// <summary>What a terminal holds and has not settled.</summary>
public sealed record WireRunning(string Terminal, WireTotals Totals, IReadOnlyList<WireRow> Rows);

/// <summary>A closed batch; its rows where they were asked for.</summary>
public sealed record WireBatch(string Terminal, string Batch, DateTimeOffset Closed, WireTotals Totals, IReadOnlyList<WireRow>? Rows);

/// <param name="Key">Made once for a settlement: the same key settles once.</param>
public sealed record WireSettlement(Guid Key);

/// <summary>What the wire says, as the files of a day say it.</summary>
internal static class WireFiles
{
    /// <summary>The rows as batches.csv.</summary>
    public static string Rows(WireBatch batch) => Rows(batch.Terminal, batch.Batch, batch.Rows ?? []);

    public static string Rows(string terminal, string batch, IReadOnlyList<WireRow> rows)
    {
        var text = new StringBuilder("terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n");
        foreach (var r in rows)
        {
            Line(text, terminal, batch, r.Seq, Time(r.At), r.Type, r.Amount, r.Tip, r.Cashback, r.Brand, r.Card, r.Auth, r.Rrn, r.Entry,
                r.Benefit);
        }

        return text.ToString();
    }

    /// <summary>What the host says it settled, as batch-totals.csv.</summary>
    public static string Totals(WireBatch batch)
    {
        var text = new StringBuilder("terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\n");
        var (debits, credits) = (batch.Totals.Debits, batch.Totals.Credits);
        Line(text, batch.Terminal, batch.Batch, Time(batch.Closed), Number(debits.Number), debits.Amount, Number(credits.Number),
            credits.Amount);
        return text.ToString();
    }

    private static string Number(int number) => number.ToString(CultureInfo.InvariantCulture);

    private static string Time(DateTimeOffset at) => at.ToString("yyyy-MM-ddTHH:mm:sszzz", CultureInfo.InvariantCulture);

    private static void Line(StringBuilder text, params IEnumerable<string?> fields) =>
        text.AppendJoin(',', fields.Select(CsvText.Field)).Append('\n');
}
