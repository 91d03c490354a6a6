using System.Globalization;
using System.Xml;
using System.Xml.Linq;
using Fondo.Core.Banking;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>What a file of the bank was read as.</summary>
/// <param name="Objection">Why it could not be taken, as a sentence that names the place; null where it could.</param>
public sealed record StatementReading(ImmutableArray<BankStatement> Statements, string? Objection);

/// <summary>Reads statements as ISO 20022 camt.053, versions 02 and 08 (Bank-to-Customer Statement; names of elements from memory).
/// Booked entries count; pending ones are no bookings yet. What is a batch of the bank's is one line with its number of items.</summary>
public static class CamtFile
{
    private const string Family = "urn:iso:std:iso:20022:tech:xsd:camt.053.001.";

    private static readonly string[] _versions = ["02", "08"];

    /// <summary>Whether a file begins like one: XML.</summary>
    public static bool IsLike(ReadOnlySpan<byte> head)
    {
        var text = head.StartsWith((ReadOnlySpan<byte>)[0xEF, 0xBB, 0xBF]) ? head[3..] : head;
        return text.TrimStart(" \t\r\n"u8).StartsWith("<"u8);
    }

    /// <param name="zone">Of the store: what is booked in its evening is booked on that evening's date.</param>
    public static StatementReading Read(Stream content, TimeZoneInfo zone)
    {
        try
        {
            return Read(BoundedXml.Load(content), zone);
        }
        catch (XmlException e)
        {
            return No($"line {e.LineNumber}: {(e is TooLargeXmlException large ? large.Says : "this is not well-formed XML")}");
        }
        catch (Unreadable e)
        {
            return No(e.Message);
        }
    }

    private static StatementReading Read(XDocument document, TimeZoneInfo zone)
    {
        var root = document.Root!;
        var space = root.Name.NamespaceName;
        if (!space.StartsWith(Family, StringComparison.Ordinal) || !_versions.Contains(space[Family.Length..]))
        {
            return No($"its document is {(space.Length == 0 ? root.Name.LocalName : space)}; expected camt.053 of version 02 or 08");
        }

        XNamespace ns = space;
        var pages = root.Elements(ns + "BkToCstmrStmt").Elements(ns + "Stmt").Select(s => Statement(s, ns, zone)).ToList();
        var statements = pages.GroupBy(p => (p.Statement.Id, p.Statement.Account)).Select(g => Together([.. g.OrderBy(p => p.Page)]))
            .ToImmutableArray();
        return statements.IsEmpty ? No("the file contains no statement") : new(statements, null);
    }

    /// <summary>Pages of one statement are one statement, from the first opening to the last closing balance.</summary>
    private static BankStatement Together(List<(BankStatement Statement, int Page)> pages)
    {
        var (first, last) = (pages[0].Statement, pages[^1].Statement);
        return first with
        {
            From = pages.Min(p => p.Statement.From),
            To = pages.Max(p => p.Statement.To),
            Closing = last.Closing,
            Lines = BankFileText.WithOwnKeys(pages.SelectMany(p => p.Statement.Lines)),
        };
    }

    private static (BankStatement Statement, int Page) Statement(XElement s, XNamespace ns, TimeZoneInfo zone)
    {
        var id = Text(s, ns, "Id");
        var account = s.Element(ns + "Acct") is { } acct
            ? acct.Element(ns + "Id")?.Element(ns + "IBAN")?.Value.Trim()
                ?? acct.Element(ns + "Id")?.Element(ns + "Othr")?.Element(ns + "Id")?.Value.Trim() : null;
        if (string.IsNullOrEmpty(account))
        {
            throw At(s, "the statement names no account");
        }

        var balances = s.Elements(ns + "Bal").ToList();
        var (opening, closing) =
            (Balance(s, ns, balances, zone, ["OPBD", "PRCD", "ITBD"]), Balance(s, ns, balances, zone, ["CLBD", "ITBD"]));
        var page = s.Element(ns + "StmtPgntn")?.Element(ns + "PgNb")?.Value.Trim();
        var currency = Core.Amounts.Currency.IsCode(closing.Currency)
            ? Core.Amounts.Currency.Of(closing.Currency)
            : throw At(s, $"“{closing.Currency}” is not a currency");
        var lines = new List<BankLine>();
        foreach (var (entry, place) in s.Elements(ns + "Ntry").Select((e, i) => (e, i + 1)))
        {
            if (Status(entry, ns) is not "BOOK")
            {
                continue;
            }

            lines.Add(Line(entry, ns, currency,
                $"{id}/{(page is null or "1" ? "" : $"{page}.")}{place.ToString(CultureInfo.InvariantCulture)}", zone));
        }

        var period = s.Element(ns + "FrToDt");
        var to = period is null ? closing.Date : Date(period.Element(ns + "ToDtTm") ?? throw At(period, "ToDtTm is missing"), zone);
        var from = period is null
            ? (lines.Count == 0 ? opening.Date : lines.Min(l => l.Booked))
            : Date(period.Element(ns + "FrDtTm") ?? throw At(period, "FrDtTm is missing"), zone);
        return (new(id, account, closing.Currency, from, to, opening.Amount, closing.Amount, [.. lines]),
            int.TryParse(page, CultureInfo.InvariantCulture, out var number) ? number : 1);
    }

    private static BankLine Line(XElement entry, XNamespace ns, Core.Amounts.Currency currency, string key, TimeZoneInfo zone)
    {
        var amount = Amount(entry, ns, currency);
        var booked = Date((entry.Element(ns + "BookgDt") ?? entry.Element(ns + "ValDt") ?? throw At(entry, "the entry has no booking date"))
            .Elements().FirstOrDefault() ?? throw At(entry, "the booking date is empty"), zone);
        var details = entry.Elements(ns + "NtryDtls").ToList();
        var transactions = details.Elements(ns + "TxDtls").ToList();
        var number = details.Elements(ns + "Btch").Elements(ns + "NbOfTxs")
            .Select(n => int.TryParse(n.Value, NumberStyles.None, CultureInfo.InvariantCulture, out var many) ? many : (int?)null)
            .FirstOrDefault();
        var text = BankFileText.Join(
        [
            .. transactions.SelectMany(t => Said(t, ns)),
            .. details.Elements(ns + "Btch").Elements().Where(b => b.Name.LocalName is "MsgId" or "PmtInfId").Select(b => b.Value),
            .. entry.Elements(ns + "AddtlNtryInf").Select(a => a.Value),
        ]);
        var line =
            new BankLine(BankFileText.Reference(entry.Element(ns + "AcctSvcrRef")?.Value) ?? key, default, booked, amount, text, number)
            {
                IsReversal = entry.Element(ns + "RvslInd")?.Value.Trim() is "true" or "1",
                Details = transactions.Count < 2 ? [] : [.. transactions.Select(t => Detail(t, entry, ns, currency)).OfType<BankDetail>()],
            };
        return BankFileText.IsFullCard(line)
            ? throw At(entry, "the entry contains a full card number; such a file is not imported")
            : line;
    }

    /// <summary>Who paid, what for, and by which reference.</summary>
    private static IEnumerable<string> Said(XElement transaction, XNamespace ns) =>
    [
        .. transaction.Elements(ns + "RmtInf").Elements(ns + "Ustrd").Select(u => u.Value),
        .. transaction.Elements(ns + "RmtInf").Elements(ns + "Strd").Descendants()
            .Where(e => e.Name.LocalName is "Ref" or "Nb" or "AddtlRmtInf").Select(e => e.Value),
        .. transaction.Elements(ns + "Refs").Elements().Where(r => r.Name.LocalName is "EndToEndId" or "InstrId" or "MsgId" or "ChqNb")
            .Select(r => BankFileText.Reference(r.Value) ?? ""),
        .. transaction.Elements(ns + "RltdPties").Elements().Where(p => p.Name.LocalName is "Dbtr" or "Cdtr" or "UltmtDbtr" or "UltmtCdtr")
            .Descendants(ns + "Nm").Select(n => n.Value),
        .. transaction.Elements(ns + "AddtlTxInf").Select(a => a.Value),
    ];

    /// <summary>A transaction of an entry with its own amount; null where the bank does not say it in the account's currency.</summary>
    private static BankDetail? Detail(XElement transaction, XElement entry, XNamespace ns, Core.Amounts.Currency currency)
    {
        // Version 02 has the amount within AmtDtls, version 08 beside its direction.
        var amount = transaction.Element(ns + "Amt") ?? transaction.Element(ns + "AmtDtls")?.Element(ns + "TxAmt")?.Element(ns + "Amt");
        if (amount?.Attribute("Ccy")?.Value != currency.Code
            || !decimal.TryParse(amount.Value.Trim(), NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var value)
            || value * currency.Unit % 1 != 0 || value >= Limits.WholeUnits)
        {
            return null;
        }

        var money = new Money((long)(value * currency.Unit));
        return new((transaction.Element(ns + "CdtDbtInd") ?? entry.Element(ns + "CdtDbtInd"))?.Value.Trim() == "DBIT" ? -money : money,
            BankFileText.Join(Said(transaction, ns)));
    }

    /// <summary>Version 02 writes the status as text, version 08 within Cd.</summary>
    private static string Status(XElement entry, XNamespace ns) =>
        entry.Element(ns + "Sts") is not { } status
            ? throw At(entry, "the entry has no status")
            : (status.Element(ns + "Cd")?.Value ?? status.Value).Trim();

    private static (Money Amount, string Currency, DateOnly Date) Balance(XElement s, XNamespace ns, List<XElement> balances,
        TimeZoneInfo zone, string[] codes)
    {
        // Of two interim balances on a page in the middle, the first one opens it and the last one closes it.
        var ordered = codes[0] == "OPBD" ? balances : [.. balances.AsEnumerable().Reverse()];
        var found = codes.Select(c => ordered.FirstOrDefault(b => CodeOf(b, ns) == c)).FirstOrDefault(b => b is not null)
            ?? throw At(s, codes[0] == "OPBD" ? "the opening balance is missing" : "the closing balance is missing");
        var currency = found.Element(ns + "Amt")?.Attribute("Ccy")?.Value ?? throw At(found, "the balance has no currency");
        if (!Core.Amounts.Currency.IsCode(currency))
        {
            throw At(found, $"“{currency}” is not a currency");
        }

        return (Amount(found, ns, Core.Amounts.Currency.Of(currency)), currency,
            Date(found.Element(ns + "Dt")?.Elements().FirstOrDefault() ?? throw At(found, "the balance has no date"), zone));
    }

    private static string? CodeOf(XElement balance, XNamespace ns) =>
        balance.Element(ns + "Tp")?.Element(ns + "CdOrPrtry")?.Element(ns + "Cd")?.Value.Trim();

    private static Money Amount(XElement of, XNamespace ns, Core.Amounts.Currency currency)
    {
        var amt = of.Element(ns + "Amt") ?? throw At(of, "the amount is missing");
        if (amt.Attribute("Ccy")?.Value is { } code && code != currency.Code)
        {
            throw At(amt, $"the amount is in {code}, the account in {currency.Code}");
        }

        var typed = amt.Value.Trim();
        // The standard writes up to five decimals and may leave trailing noughts away.
        if (!decimal.TryParse(typed, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var value)
            || value * currency.Unit % 1 != 0 || value >= Limits.WholeUnits)
        {
            throw At(amt, $"“{(typed.Length > 40 ? typed[..40] : typed)}” is not an amount of {currency.Code}");
        }

        var money = new Money((long)(value * currency.Unit));
        return of.Element(ns + "CdtDbtInd")?.Value.Trim() switch
        {
            "CRDT" => money,
            "DBIT" => -money,
            _ => throw At(of, "CdtDbtInd says neither CRDT nor DBIT"),
        };
    }

    private static DateOnly Date(XElement e, TimeZoneInfo zone)
    {
        var text = e.Value.Trim();
        return BankFileText.DateOf(text, zone) is { } date && date.Year is >= Limits.FirstYear and <= Limits.LastYear
            ? date : throw At(e, $"“{(text.Length > 40 ? text[..40] : text)}” is not a date");
    }

    private static string Text(XElement of, XNamespace ns, string name) =>
        of.Element(ns + name)?.Value.Trim() is { Length: > 0 and <= 64 } text
            ? text
            : throw At(of, $"{name} is missing, or longer than 64 characters");

    private static Unreadable At(XElement e, string what) =>
        new($"line {((IXmlLineInfo)e).LineNumber.ToString(CultureInfo.InvariantCulture)}: {what}");

    private static StatementReading No(string objection) => new([], char.ToUpperInvariant(objection[0]) + objection[1..] + ".");

    private sealed class Unreadable(string message) : Exception(message);
}
