using System.Globalization;
using System.Text;
using Fondo.Core.Books;
using Fondo.Files.Text;

namespace Fondo.Files.Writing;

/// <summary>What stands above an exported entry.</summary>
/// <param name="Reference">What the books know it by: the number of the close.</param>
/// <param name="Says">The store, and what it is: the entry of a day, or the correction of one.</param>
public sealed record BooksHeading(DateOnly Date, string Reference, string Says);

/// <summary>An accounting entry as files: CSV, and a plain-text double-entry journal as ledger and hledger read it.</summary>
public static class BooksText
{
    private const int AmountColumn = 64;

    /// <summary>One line a sum: date, reference, account, debit, credit, register, what it is made of.</summary>
    public static string Csv(BooksHeading heading, AccountingEntry entry, Currency currency, Func<RegisterId?, string> nameOf)
    {
        var text = new StringBuilder("date,reference,account,debit,credit,currency,register,what,number\r\n");
        foreach (var sum in entry.Sums)
        {
            string[] fields =
            [
                Date(heading),
                heading.Reference,
                sum.Account,
                sum.Amount.Sign > 0 ? currency.Format(sum.Amount) : "",
                sum.Amount.Sign < 0 ? currency.Format(-sum.Amount) : "",
                currency.Code,
                sum.Register is null ? "" : nameOf(sum.Register),
                sum.What,
                sum.Number.ToString(CultureInfo.InvariantCulture),
            ];
            text.AppendJoin(',', fields.Select(CsvText.Shown)).Append("\r\n");
        }

        return text.ToString();
    }

    /// <summary>Every line: date, reference, account, debit, credit, register, what it is, and the ticket, movement, cell or entry that it
    /// comes from.</summary>
    public static string Lines(BooksHeading heading, IEnumerable<BookLine> lines, Currency currency, Func<RegisterId?, string> nameOf)
    {
        var text = new StringBuilder("date,reference,account,debit,credit,currency,register,what,source\r\n");
        foreach (var line in lines)
        {
            string[] fields =
            [
                Date(heading),
                heading.Reference,
                line.Account,
                line.Amount.Sign > 0 ? currency.Format(line.Amount) : "",
                line.Amount.Sign < 0 ? currency.Format(-line.Amount) : "",
                currency.Code, line.Register is null ? "" : nameOf(line.Register), line.What, line.Source,
            ];
            text.AppendJoin(',', fields.Select(CsvText.Shown)).Append("\r\n");
        }

        return text.ToString();
    }

    /// <summary>One transaction; a posting for each sum, what it is made of as its comment.</summary>
    public static string Journal(BooksHeading heading, AccountingEntry entry, Currency currency, Func<RegisterId?, string> nameOf)
    {
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"{Date(heading)} * ({Plain(heading.Reference)}) {Plain(heading.Says)}\n");
        foreach (var sum in entry.Sums)
        {
            var account = "    " + AccountOf(sum.Account);
            var amount = $"{currency.Format(sum.Amount)} {currency.Code}";
            // Two spaces at least stand between an account and its amount.
            text.Append(account).Append(' ', Math.Max(2, AmountColumn - account.Length - amount.Length)).Append(amount);
            text.Append(CultureInfo.InvariantCulture,
                $"  ; {Comment(sum.Register is null ? sum.What : $"{nameOf(sum.Register)} - {sum.What}")}\n");
        }

        return text.Append('\n').ToString();
    }

    private static string Date(BooksHeading heading) => heading.Date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    /// <summary>A text on one line that neither opens a comment nor a code.</summary>
    private static string Plain(string text) =>
        string.Concat(text.Select(c => char.IsControl(c) || c is ';' or '(' or ')' or '|' ? ' ' : c)).Trim();

    /// <summary>A comment in which neither program finds a date or a tag: both read brackets as dates, and a word before a colon as a
    /// tag.</summary>
    private static string Comment(string text) =>
        string.Concat(Plain(text).Select(c => c switch { ':' or '[' or ']' or '{' or '}' or ',' => ' ', _ => c }));

    /// <summary>An account whose name both programs take as it is: single spaces, no sign that means something to them.</summary>
    private static string AccountOf(string account)
    {
        var name = string.Join(' ', Plain(account).Split(' ', StringSplitOptions.RemoveEmptyEntries))
            .TrimStart('[', ']', '*', '!', '=', '~', '@', '#', '%');
        return name.Length == 0 ? "Unnamed" : name;
    }
}
