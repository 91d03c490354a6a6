using System.Collections.Immutable;
using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Closing;
using Fondo.Web.Text;

namespace Fondo.Web.Closing;

/// <summary>A span of days as tables: the page, the PDF and the workbook show these.</summary>
public static class SpanTables
{
    public static ImmutableArray<CloseTable> Of(Span span, Currency currency)
    {
        TableValue Amount(Money amount) => new(Say.Amount(amount, currency), (decimal)amount.Minor / currency.Unit);
        static string Day(DateOnly date) => date.ToString("d MMM yyyy", CultureInfo.InvariantCulture);
        ImmutableArray<CloseTable> tables =
        [
            new("Takings by tender", "takings", [new("Tender", Share: 30), new("Taken", true)],
                [.. span.Takings.Select(t => Row(t.Name, Amount(t.Amount))), Row("Together", Amount(span.Takings.Sum(t => t.Amount)))]),
            new("Over and short, by cause", "over-short", [new("Cause", Share: 40), new("Amount", true)],
                [.. span.OverShort.Select(t => Row(t.Name, Amount(t.Amount)))]),
            new("What processors keep", "fees", [new("What", Share: 40), new("Amount", true)],
                [.. span.Fees.Select(t => Row(t.Name, Amount(t.Amount)))]),
            new("Deposits and the bank", "deposits",
                [new("Deposit", Share: 10), new("Bag", Share: 14), new("Sealed on", Share: 16), new("Amount", true),
                    new("Still to be credited", true)],
                [.. span.Deposits.Select(d => Row(d.Number.ToString(CultureInfo.InvariantCulture), d.Bag, Day(d.Day), Amount(d.Amount),
                    d.Outstanding.IsZero ? "" : Amount(d.Outstanding)))]),
            new("Accounts", "accounts", [new("Account", Share: 34), new("At the start", true), new("Debits", true), new("Credits", true),
                new("At the end", true), new("By item", true), new("Apart", true)],
                [.. span.Accounts.Select(a => Row(a.Account, a.Start is { } start ? Amount(start) : "", Amount(a.Debits), Amount(a.Credits),
                    Amount(a.End), a.Start is null ? "" : Amount(a.Open), a.Start is null || a.Apart.IsZero ? "" : Amount(a.Apart)))]),
            .. span.Banks.Select((b, i) => new CloseTable($"{b.Account} against the bank", $"bank {i + 1}",
                [new("What", Share: 44), new("Date", Share: 14), new("Amount", true)],
                [
                    Row("Posted by the entries", Day(span.To), Amount(b.Entries)),
                    Row("At the bank before the first statement", "", Amount(b.Before)),
                    Row("Book balance", Day(span.To), Amount(b.Book)),
                    .. b.Outstanding.Select(o =>
                        Row(o.What.Length == 0 ? "Bank line without text" : o.What, Day(o.Date), Amount(o.Amount))),
                    Row($"Statement balance{(b.Numbers.Length == 1 ? $" of {b.Numbers[0]}" : "")}",
                        b.StatementOf is { } on ? Day(on) : "no statement yet", Amount(b.Statement)),
                    Row("Difference", "", Amount(b.Difference)),
                ])),
            new("On the accounts, item by item", "items",
                [new("Account", Share: 26), new("What", Share: 40), new("Since", Share: 14), new("Amount", true)],
                [.. span.Accounts.SelectMany(a => a.Items.Select(i =>
                    Row(a.Account, i.Name, Day(i.Since), Amount(currency.TryParse(i.Amount, out var amount) ? amount : Money.Zero))))]),
        ];
        return [.. tables.Where(t => !t.Rows.IsEmpty)];
    }

    private static ImmutableArray<TableValue> Row(params ReadOnlySpan<TableValue> values) => [.. values];
}
