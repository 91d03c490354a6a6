using System.Globalization;
using System.Net;
using System.Security.Cryptography;
using System.Text;
using System.Text.RegularExpressions;
using Fondo.Core.Banking;

namespace Fondo.Files.Reading;

/// <summary>Reads statements as OFX, versions 1 (SGML) and 2 (XML): bank statement responses with their transactions and ledger balance
/// (names of elements from memory).
/// OFX names no opening balance: it follows from the closing one.</summary>
public static partial class OfxFile
{
    /// <summary>Whether a file begins like one.</summary>
    public static bool IsLike(string text)
    {
        var head = text.Length > 2_000 ? text[..2_000] : text;
        return head.TrimStart().StartsWith("OFXHEADER", StringComparison.OrdinalIgnoreCase)
            || head.Contains("<?OFX", StringComparison.OrdinalIgnoreCase) || head.Contains("<OFX>", StringComparison.OrdinalIgnoreCase);
    }

    /// <param name="zone">Of the store: what is posted in the evening is posted on that evening's date.</param>
    public static StatementReading Read(string text, TimeZoneInfo zone)
    {
        try
        {
            var statements = Tree(text).All("STMTRS").Concat(Tree(text).All("CCSTMTRS")).Select(s => Statement(s, zone)).ToImmutableArray();
            return statements.IsEmpty ? new([], "The file contains no bank statement.") : new(statements, null);
        }
        catch (Unreadable e)
        {
            return new([], e.Message);
        }
    }

    /// <summary>An element with what it holds; version 1 leaves the ends of elements with a value away.</summary>
    private sealed class Element(string name, string value, int line)
    {
        public string Value => value;

        public int Line => line;

        public string Name => name;

        public List<Element> Children { get; } = [];

        public IEnumerable<Element> All(string wanted) => Children.SelectMany(c => c.Name == wanted ? [c] : c.All(wanted));

        public string? Find(string wanted) => All(wanted).Select(e => e.Value).FirstOrDefault(v => v.Length > 0);

        public string Need(string wanted) =>
            Find(wanted) ?? throw new Unreadable($"Line {Line.ToString(CultureInfo.InvariantCulture)}: {wanted} is missing.");
    }

    private static Element Tree(string text)
    {
        var root = new Element("", "", 1);
        Stack<Element> open = new([root]);
        var (line, read) = (1, 0);
        foreach (Match m in Tag().Matches(text))
        {
            line += text.AsSpan(read, m.Index - read).Count('\n');
            read = m.Index;
            var name = m.Groups["name"].Value.ToUpperInvariant();
            if (m.Groups["end"].Length > 0)
            {
                if (open.Any(e => e.Name == name))
                {
                    while (open.Pop().Name != name)
                    {
                    }
                }

                continue;
            }

            var element = new Element(name, WebUtility.HtmlDecode(m.Groups["value"].Value).Trim(), line);
            open.Peek().Children.Add(element);
            if (element.Value.Length == 0)
            {
                open.Push(element);
            }
        }

        return root;
    }

    private static BankStatement Statement(Element s, TimeZoneInfo zone)
    {
        var code = s.Need("CURDEF");
        var currency = Currency.IsCode(code) ? Currency.Of(code) : throw new Unreadable($"Line {s.Line}: “{code}” is not a currency.");
        var account = s.Need("ACCTID");
        var list = s.All("BANKTRANLIST").FirstOrDefault();
        var lines = (list?.All("STMTTRN") ?? []).Select(t => Line(t, currency, zone)).ToList();
        var balance = s.All("LEDGERBAL").FirstOrDefault()
            ?? throw new Unreadable($"Line {s.Line}: the closing balance (LEDGERBAL) is missing.");
        var closing = Amount(balance, "BALAMT", currency);
        var ends = Date(balance, "DTASOF", zone);
        var to = list?.Find("DTEND") is null ? ends : Date(list, "DTEND", zone);
        var from = list?.Find("DTSTART") is null ? to : Date(list, "DTSTART", zone);
        from = lines.Count > 0 && lines.Min(l => l.Booked) is var first && first < from ? first : from;
        to = lines.Count > 0 && lines.Max(l => l.Booked) is var last && last > to ? last : to;
        var hash =
            Convert.ToHexString(
                SHA256.HashData(Encoding.UTF8.GetBytes($"{account}|{closing.Minor}|{string.Join('|', lines.Select(l => l.Key))}")))[..8];
        return new(string.Create(CultureInfo.InvariantCulture, $"OFX-{from:yyyyMMdd}-{to:yyyyMMdd}-{hash}"), account, code, from, to,
            closing - lines.Sum(l => l.Amount), closing, BankFileText.WithOwnKeys(lines));
    }

    private static BankLine Line(Element t, Currency currency, TimeZoneInfo zone)
    {
        var (id, amount) = (t.Need("FITID"), Amount(t, "TRNAMT", currency));
        var text = BankFileText.Join([
            t.Find("NAME"),
            t.Find("MEMO"),
            t.Find("CHECKNUM") is { } check ? $"check {check}" : null,
            t.Find("REFNUM")
        ]);
        var line = new BankLine(BankFileText.Reference(id) ?? id[..Math.Min(64, id.Length)], default, Date(t, "DTPOSTED", zone), amount,
            text, null)
        { IsReversal = t.Find("CORRECTACTION") is "DELETE" };
        return BankFileText.IsFullCard(line)
            ? throw new Unreadable($"Line {t.Line}: the transaction contains a full card number; such a file is not imported.")
            : line;
    }

    private static Money Amount(Element of, string name, Currency currency)
    {
        var text = of.Need(name);
        return decimal.TryParse(text.Replace(',', '.'), NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign,
            CultureInfo.InvariantCulture, out var value) && value * currency.Unit % 1 == 0 && Math.Abs(value) < Limits.WholeUnits
            ? new((long)(value * currency.Unit))
            : throw new Unreadable($"Line {of.Line}: “{(text.Length > 40 ? text[..40] : text)}” is not an amount of {currency.Code}.");
    }

    /// <summary>A date, or a time with its hours from Greenwich in brackets; a time without them is Greenwich's.</summary>
    private static DateOnly Date(Element of, string name, TimeZoneInfo zone)
    {
        var text = of.Need(name);
        if (Moment().Match(text) is not { Success: true } m
            || !DateOnly.TryParseExact(m.Groups["date"].Value, "yyyyMMdd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)
            || date.Year is < Limits.FirstYear or > Limits.LastYear)
        {
            throw new Unreadable($"Line {of.Line}: “{(text.Length > 40 ? text[..40] : text)}” is not a date.");
        }

        if (!m.Groups["time"].Success || m.Groups["time"].Value is "000000"
            || !TimeOnly.TryParseExact(m.Groups["time"].Value, "HHmmss", CultureInfo.InvariantCulture, DateTimeStyles.None, out var time))
        {
            return date;
        }

        var hours = m.Groups["zone"].Success ? double.Parse(m.Groups["zone"].Value, CultureInfo.InvariantCulture) : 0;
        return DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(
            new DateTimeOffset(date.ToDateTime(time), TimeSpan.FromMinutes(Math.Round(hours * 60))), zone).DateTime);
    }

    private sealed class Unreadable(string message) : Exception(message);

    [GeneratedRegex("<(?<end>/?)(?<name>[A-Za-z0-9.]+)\\s*>(?<value>[^<]*)")]
    private static partial Regex Tag();

    [GeneratedRegex("^(?<date>[0-9]{8})(?:(?<time>[0-9]{6})(?:\\.[0-9]+)?)?(?:\\[(?<zone>[+-]?[0-9.]+)(?::[A-Za-z]+)?\\])?$")]
    private static partial Regex Moment();
}
