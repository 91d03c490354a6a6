using System.Globalization;
using System.Text;
using System.Xml.Linq;

namespace Fondo.Rehearsal;

/// <summary>The shape in which a shop's bank gives its statements.</summary>
public enum StatementShape
{
    Csv,
    Camt02,
    Camt08,
    Mt940,
    Ofx,
}

/// <summary>Writes a statement in one of four open shapes, from their published descriptions alone.</summary>
public sealed class StatementWriter(ShopPlan plan, string id, DateOnly from, DateOnly to, long opening, IReadOnlyList<BankLine> lines)
{
    private long Closing => opening + lines.Sum(l => l.Amount);

    public string Ending =>
        plan.Shape switch { StatementShape.Csv => ".csv", StatementShape.Mt940 => ".sta", StatementShape.Ofx => ".ofx", _ => ".xml" };

    public string Write() => plan.Shape switch
    {
        StatementShape.Csv => Csv(),
        StatementShape.Mt940 => Mt940(),
        StatementShape.Ofx => Ofx(),
        _ => Camt(plan.Shape == StatementShape.Camt02 ? "02" : "08"),
    };

    private string Csv()
    {
        var head = string.Create(CultureInfo.InvariantCulture,
            $"{id},{ShopPlan.Account},{plan.Currency},{from:yyyy-MM-dd},{to:yyyy-MM-dd},{plan.Text(opening)},{plan.Text(Closing)}");
        var text = new StringBuilder("statement,account,currency,from,to,opening,closing,booked,amount,reference,text,items\n");
        foreach (var line in lines)
        {
            text.Append(CultureInfo.InvariantCulture,
                $"{head},{line.Booked:yyyy-MM-dd},{plan.Text(line.Amount)},{line.Reference},{line.Text},\n");
        }

        return lines.Count > 0 ? text.ToString() : text.Append(CultureInfo.InvariantCulture, $"{head},,,,,\n").ToString();
    }

    private string Camt(string version)
    {
        XNamespace ns = $"urn:iso:std:iso:20022:tech:xsd:camt.053.001.{version}";
        XElement Money(long amount) => new(ns + "Amt", new XAttribute("Ccy", plan.Currency), plan.Text(Math.Abs(amount)));
        XElement Side(long amount) => new(ns + "CdtDbtInd", amount < 0 ? "DBIT" : "CRDT");
        XElement Balance(string code, long amount, DateOnly date) =>
            new(ns + "Bal", new XElement(ns + "Tp", new XElement(ns + "CdOrPrtry", new XElement(ns + "Cd", code))), Money(amount),
                Side(amount), new XElement(ns + "Dt", new XElement(ns + "Dt", Date(date))));
        XElement Said(string text) => new(ns + "RmtInf", new XElement(ns + "Ustrd", text));
        IEnumerable<XElement> Details(BankLine line) => line.Pieces.Count == 0 ? [new XElement(ns + "TxDtls", Said(line.Text))]
            : line.Pieces.Select(p => new XElement(ns + "TxDtls",
                version == "02" ? new XElement(ns + "AmtDtls", new XElement(ns + "TxAmt", Money(p.Amount))) : Money(p.Amount),
                version == "02" ? null : Side(p.Amount), Said(p.Text)));
        var entries = lines.Select((line, n) => new XElement(
            ns + "Ntry", Money(line.Amount), Side(line.Amount), line.IsReversal ? new XElement(ns + "RvslInd", "true") : null,
            version == "02" ? new XElement(ns + "Sts", "BOOK") : new XElement(ns + "Sts", new XElement(ns + "Cd", "BOOK")),
            new XElement(ns + "BookgDt", n % 3 == 1
                ? new XElement(ns + "DtTm", Evening(line.Booked))
                : new XElement(ns + "Dt", Date(line.Booked))),
            line.Reference is null
                ? n % 2 == 0 ? new XElement(ns + "AcctSvcrRef", "NONREF") : null
                : new XElement(ns + "AcctSvcrRef", line.Reference),
            new XElement(ns + "NtryDtls", new XElement(ns + "Btch", new XElement(ns + "NbOfTxs", "1")), Details(line))));
        var period = new XElement(ns + "FrToDt", new XElement(ns + "FrDtTm", Date(from) + "T00:00:00"),
            new XElement(ns + "ToDtTm", Date(to) + "T23:59:59"));
        return new XDocument(new XElement(ns + "Document", new XElement(ns + "BkToCstmrStmt", new XElement(
            ns + "Stmt", new XElement(ns + "Id", id), period,
            new XElement(ns + "Acct", new XElement(ns + "Id", new XElement(ns + "Othr", new XElement(ns + "Id", ShopPlan.Account)))),
            Balance("OPBD", opening, from), Balance("CLBD", Closing, to), entries)))).ToString();
    }

    /// <summary>Half past nine in the evening, as Greenwich has it: often tomorrow's date.</summary>
    private string Evening(DateOnly date) =>
        plan.At(date, 21.5).ToUniversalTime().ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);

    private static string Date(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private string Mt940()
    {
        string Amount(long amount) => plan.Text(Math.Abs(amount)).Replace('.', ',') is var text && text.Contains(',') ? text : text + ",";
        static string Short(DateOnly date) => date.ToString("yyMMdd", CultureInfo.InvariantCulture);
        string Balance(string tag, long amount, DateOnly date) =>
            $":{tag}:{(amount < 0 ? "D" : "C")}{Short(date)}{plan.Currency}{Amount(amount)}\r\n";
        var text =
            new StringBuilder($":20:{id}\r\n:25:{ShopPlan.Account}\r\n:28C:{id[3..]}/1\r\n{Balance("60F", opening, from.AddDays(-1))}");
        foreach (var line in lines)
        {
            var mark = line.IsReversal ? line.Amount < 0 ? "RC" : "RD" : line.Amount < 0 ? "D" : "C";
            text.Append(CultureInfo.InvariantCulture,
                $":61:{Short(line.Booked)}{line.Booked:MMdd}{mark}{Amount(line.Amount)}NMSCNONREF//{line.Reference ?? "NONREF"}\r\n:86:"
                    + $"{line.Text}\r\n");
        }

        return text.Append(Balance("62F", Closing, to)).Append("-\r\n").ToString();
    }

    private string Ofx()
    {
        static string Short(DateOnly date) => date.ToString("yyyyMMdd", CultureInfo.InvariantCulture);
        var text = new StringBuilder("OFXHEADER:100\nDATA:OFXSGML\nVERSION:102\n\n<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS>");
        text.Append(CultureInfo.InvariantCulture,
            $"<CURDEF>{plan.Currency}\n<BANKACCTFROM><ACCTID>{ShopPlan.Account}\n</BANKACCTFROM><BANKTRANLIST><DTSTART>"
                + $"{Short(from)}\n<DTEND>{Short(to)}\n");
        foreach (var line in lines)
        {
            text.Append(CultureInfo.InvariantCulture,
                $"<STMTTRN><TRNTYPE>{(line.Amount < 0 ? "DEBIT" : "CREDIT")}\n<DTPOSTED>{Short(line.Booked)}\n<TRNAMT>"
                    + $"{plan.Text(line.Amount)}\n<FITID>{line.Reference}\n<NAME>{line.Text}\n</STMTTRN>\n");
        }

        return text.Append(CultureInfo.InvariantCulture,
            $"</BANKTRANLIST><LEDGERBAL><BALAMT>{plan.Text(Closing)}\n<DTASOF>"
                + $"{Short(to)}\n</LEDGERBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>").ToString();
    }
}
