using System.Globalization;
using System.Text.RegularExpressions;
using Fondo.Core.Banking;

namespace Fondo.Files.Reading;

/// <summary>Reads statements as MT940 (SWIFT Customer Statement Message; fields 20, 25, 28C, 60, 61, 86 and 62, from memory). Pages of one
/// statement are put together.</summary>
public static partial class Mt940File
{
    /// <summary>Whether a file begins like one: with a block header, or with field 20.</summary>
    public static bool IsLike(string text) => text.TrimStart() is var start
        && (start.StartsWith("{1:", StringComparison.Ordinal) || start.StartsWith(":20:", StringComparison.Ordinal));

    public static StatementReading Read(string text)
    {
        try
        {
            var pages = Pages(Fields(text)).ToList();
            return pages.Count == 0
                ? new([], "The file contains no statement.")
                : new([.. pages.GroupBy(p => (p.Account, p.Number, p.Closing.Date.Year)).Select(g => Statement([.. g]))], null);
        }
        catch (Unreadable e)
        {
            return new([], e.Message);
        }
    }

    private sealed record Field(string Tag, string Value, int Line);

    private sealed record Balance(bool IsMiddle, DateOnly Date, string Currency, Money Amount);

    private sealed record Page(string Account, string Number, int Sequence, Balance Opening, Balance Closing,
        IReadOnlyList<BankLine> Lines);

    private static IEnumerable<Field> Fields(string text)
    {
        Field? field = null;
        var number = 0;
        foreach (var raw in text.Split('\n'))
        {
            number++;
            var line = raw.TrimEnd('\r', ' ');
            if (Tag().Match(line) is { Success: true } tag)
            {
                if (field is not null)
                {
                    yield return field;
                }

                field = new(tag.Groups[1].Value, line[(tag.Index + tag.Length)..], number);
            }
            else if (line.StartsWith("-}", StringComparison.Ordinal) || line == "-")
            {
                if (field is not null)
                {
                    yield return field;
                }

                field = null;
            }
            else if (field is not null)
            {
                field = field with { Value = $"{field.Value}\n{line}" };
            }
        }

        if (field is not null)
        {
            yield return field;
        }
    }

    private static IEnumerable<Page> Pages(IEnumerable<Field> fields)
    {
        List<Field> message = [];
        foreach (var field in fields)
        {
            if (field.Tag == "20" && message.Count > 0)
            {
                yield return PageOf(message);
                message = [];
            }

            message.Add(field);
        }

        if (message.Count > 0)
        {
            yield return PageOf(message);
        }
    }

    private static Page PageOf(List<Field> fields)
    {
        Field One(params string[] tags) => fields.Find(f => tags.Contains(f.Tag)) ?? throw At(fields[0], $"field {tags[0]} is missing");
        var (account, number) = (One("25", "25P").Value.Split('\n')[0].Trim(), One("28C", "28"));
        var parts = number.Value.Trim().Split('/');
        var (opening, closing) = (BalanceOf(One("60F", "60M")), BalanceOf(One("62F", "62M")));
        var currency = Currency.Of(closing.Currency);
        List<BankLine> lines = [];
        for (var i = 0; i < fields.Count; i++)
        {
            if (fields[i].Tag == "61")
            {
                lines.Add(LineOf(fields[i], i + 1 < fields.Count && fields[i + 1].Tag == "86" ? fields[i + 1].Value : "", currency,
                    $"{parts[0]}-{closing.Date.Year}/{lines.Count + 1}"));
            }
        }

        return new(account, parts[0], parts.Length > 1 && int.TryParse(parts[1], CultureInfo.InvariantCulture, out var sequence)
            ? sequence
            : 1, opening, closing, lines);
    }

    private static BankStatement Statement(List<Page> pages)
    {
        pages = [.. pages.OrderBy(p => p.Sequence)];
        var (first, last) = (pages[0], pages[^1]);
        var lines = BankFileText.WithOwnKeys(pages.SelectMany(p => p.Lines));
        // The opening balance is dated by the statement before.
        var from = lines.IsEmpty ? last.Closing.Date : lines.Min(l => l.Booked);
        var id = $"{first.Number}-{last.Closing.Date.Year}{(first.Opening.IsMiddle ? $" page {first.Sequence}" : "")}";
        return new(id, first.Account, last.Closing.Currency, from < last.Closing.Date ? from : last.Closing.Date, last.Closing.Date,
            first.Opening.Amount, last.Closing.Amount, lines);
    }

    private static Balance BalanceOf(Field field)
    {
        if (BalanceShape().Match(field.Value.Trim()) is not { Success: true } m || !Currency.IsCode(m.Groups[3].Value))
        {
            throw At(field, $"“{Cut(field.Value)}” is not a balance");
        }

        var amount = AmountOf(m.Groups[4].Value, Currency.Of(m.Groups[3].Value), field);
        return new(field.Tag.EndsWith('M'), DateOf(m.Groups[2].Value, field), m.Groups[3].Value,
            m.Groups[1].Value == "D" ? -amount : amount);
    }

    private static BankLine LineOf(Field field, string information, Currency currency, string key)
    {
        var rows = field.Value.Split('\n');
        if (LineShape().Match(rows[0]) is not { Success: true } m)
        {
            throw At(field, $"“{Cut(rows[0])}” is not a statement line");
        }

        var (value, mark) = (DateOf(m.Groups["value"].Value, field), m.Groups["mark"].Value);
        var amount = AmountOf(m.Groups["amount"].Value, currency, field);
        var (own, bank) = (BankFileText.Reference(m.Groups["own"].Value), BankFileText.Reference(m.Groups["bank"].Value));
        var text = BankFileText.Join([Subfields().Replace(information, " "), own, .. rows.Skip(1)]);
        var line = new BankLine(bank ?? key, default, m.Groups["entry"].Success ? Entry(value, m.Groups["entry"].Value, field) : value,
            mark is "D" or "RC" ? -amount : amount, text, null)
        { IsReversal = mark is "RC" or "RD" };
        return BankFileText.IsFullCard(line) ? throw At(field, "the line contains a full card number; such a file is not imported") : line;
    }

    /// <summary>The booking date has no year: it is the one nearest to the value date.</summary>
    private static DateOnly Entry(DateOnly value, string monthAndDay, Field field) =>
        Enumerable.Range(value.Year - 1, 3)
            .Select(y => DateOnly.TryParseExact($"{y}{monthAndDay}", "yyyyMMdd", CultureInfo.InvariantCulture, DateTimeStyles.None,
                out var date) ? date : (DateOnly?)null)
            .OfType<DateOnly>().OrderBy(d => Math.Abs(d.DayNumber - value.DayNumber)).Select(d => (DateOnly?)d).FirstOrDefault()
            ?? throw At(field, $"“{monthAndDay}” is not a booking date");

    private static DateOnly DateOf(string text, Field field) =>
        DateOnly.TryParseExact($"20{text}", "yyyyMMdd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)
            ? date
            : throw At(field, $"“{text}” is not a date");

    private static Money AmountOf(string text, Currency currency, Field field) =>
        decimal.TryParse(text.Replace(',', '.'), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var value)
            && value * currency.Unit % 1 == 0 && value < Limits.WholeUnits
            ? new((long)(value * currency.Unit)) : throw At(field, $"“{Cut(text)}” is not an amount of {currency.Code}");

    private static string Cut(string text) => text.Length > 40 ? text[..40] : text;

    private static Unreadable At(Field field, string what) => new($"Line {field.Line.ToString(CultureInfo.InvariantCulture)}: {what}.");

    private sealed class Unreadable(string message) : Exception(message);

    [GeneratedRegex("^(?:\\{.*\\{4:)?:([0-9]{2}[A-Z]?):")]
    private static partial Regex Tag();

    [GeneratedRegex("^([CD])([0-9]{6})([A-Z]{3})([0-9]+,[0-9]*)$")]
    private static partial Regex BalanceShape();

    [GeneratedRegex("^(?<value>[0-9]{6})(?<entry>[0-9]{4})?(?<mark>R?[CD])[A-Z]?(?<amount>[0-9]+,[0-9]*)(?:[NSF][A-Z0-9]{3}(?<own>[^/\\n]{0,16}(?:/(?!/)[^/\\n]*)*)(?://(?<bank>.{0,34}))?)?")]
    private static partial Regex LineShape();

    /// <summary>Many banks divide field 86 by a question mark and two digits.</summary>
    [GeneratedRegex("\\?[0-9]{2}")]
    private static partial Regex Subfields();
}
