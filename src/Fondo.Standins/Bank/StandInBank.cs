using System.Globalization;
using System.Text;
using System.Xml;

namespace Fondo.Standins.Bank;

/// <summary>One booking of the invented bank.</summary>
/// <param name="Amount">To the store positive, in minor units.</param>
/// <param name="Items">How many items it gathers; null where it is one.</param>
public sealed record BankBooking(DateOnly Booked, long Amount, string Text, string Reference, int? Items = null);

/// <summary>What the invented bank remembers from one statement to the next.</summary>
/// <param name="Known">The bags and payments that it has heard of.</param>
public sealed record BankState(string Account, string Currency, long Balance, int Number, int Reference, DateOnly? Stated,
    IReadOnlyList<BankBooking> Coming, IReadOnlyList<string> Known);

/// <summary>How the invented bank's next statement misbehaves.</summary>
public enum BankFault
{
    None,
    NoteShort,
    InParts,
    PaysLate,
    PaysLess,
    TakesBack,
    DoesNotAddUp,
    IsCutOff,
}

/// <summary>An invented bank: it credits deposits and what processors pay some bank days later, keeps a balance, and writes statements as
/// ISO 20022 camt.053.
/// Told to, it finds a note short, credits a deposit in two parts, or pays late.</summary>
public sealed class StandInBank(string account, string currency, long opening)
{
    private readonly List<BankBooking> _coming = [];
    private readonly HashSet<string> _known = [];
    private long _balance = opening;
    private int _number, _reference;

    /// <summary>Everything that it has to remember.</summary>
    public BankState State => new(account, currency, _balance, _number, _reference, Stated, _coming, [.. _known]);

    /// <summary>Up to which date it has written statements; null while it has written none.</summary>
    public DateOnly? Stated { get; private set; }

    public static StandInBank Of(BankState state)
    {
        var bank = new StandInBank(state.Account, state.Currency, state.Balance)
        {
            Stated = state.Stated,
            _number = state.Number,
            _reference = state.Reference
        };
        bank._coming.AddRange(state.Coming);
        bank._known.UnionWith(state.Known);
        return bank;
    }

    /// <summary>Whether it hears of this bag or payment for the first time; from then on it knows it.</summary>
    public bool IsNew(string key) => _known.Add(key);

    /// <summary>What is booked and on no statement yet.</summary>
    public IReadOnlyList<BankBooking> Coming => _coming;

    /// <summary>A deposit that was handed over: it is credited on the next bank day.</summary>
    /// <param name="short">So much was found to be missing in it, and is taken off with a line of its own.</param>
    /// <param name="inParts">Whether notes and coin are credited before the checks.</param>
    public void Receive(string bag, DateOnly handedOver, long cash, long checks, long @short = 0, bool inParts = false)
    {
        var day = NextBankDay(handedOver);
        if (inParts && cash > 0 && checks > 0)
        {
            Book(day, cash, $"CASH DEPOSIT BAG {bag}");
            Book(NextBankDay(day), checks, $"CHECK DEPOSIT BAG {bag}");
        }
        else
        {
            Book(day, cash + checks, $"DEPOSIT BAG {bag}");
        }

        if (@short != 0)
        {
            Book(NextBankDay(day), -@short, $"DEPOSIT ADJUSTMENT BAG {bag} NOTE SHORT IN STRAP");
        }
    }

    /// <summary>What a processor pays.</summary>
    public void Pay(string reference, DateOnly booked, long amount, int items, DateOnly of)
    {
        if (amount != 0)
        {
            Book(booked, amount, string.Create(CultureInfo.InvariantCulture, $"{reference} SETTLEMENT {of:MMdd}"), items);
        }
    }

    /// <summary>Anything else that the bank books.</summary>
    public void Book(DateOnly booked, long amount, string text, int? items = null) =>
        _coming.Add(new(booked, amount, text, string.Create(CultureInfo.InvariantCulture, $"RB{booked:yyMMdd}{++_reference:0000}"), items));

    /// <summary>The next statement, from the day after the last one up to and with a date.</summary>
    /// <param name="version">02 or 08.</param>
    public string Statement(DateOnly from, DateOnly to, string version = "08")
    {
        var lines = _coming.Where(b => b.Booked <= to).OrderBy(b => b.Booked).ThenBy(b => b.Reference, StringComparer.Ordinal).ToList();
        _coming.RemoveAll(lines.Contains);
        var before = _balance;
        _balance += lines.Sum(l => l.Amount);
        Stated = to;
        return Camt(string.Create(CultureInfo.InvariantCulture, $"{to:yyyyMMdd}-{++_number:000}"), from, to, before, _balance, lines,
            version);
    }

    public static DateOnly NextBankDay(DateOnly date)
    {
        do
        {
            date = date.AddDays(1);
        }
        while (date.DayOfWeek is DayOfWeek.Saturday or DayOfWeek.Sunday);
        return date;
    }

    private string Camt(string id, DateOnly from, DateOnly to, long before, long after, IReadOnlyList<BankBooking> lines, string version)
    {
        var text = new StringBuilder();
        using (var xml = XmlWriter.Create(text, new XmlWriterSettings { Indent = true, OmitXmlDeclaration = true }))
        {
            string Date(DateOnly date) => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
            void Amount(long minor)
            {
                xml.WriteStartElement("Amt");
                xml.WriteAttributeString("Ccy", currency);
                xml.WriteString(string.Create(CultureInfo.InvariantCulture, $"{Math.Abs(minor) / 100}.{Math.Abs(minor) % 100:00}"));
                xml.WriteEndElement();
                xml.WriteElementString("CdtDbtInd", minor < 0 ? "DBIT" : "CRDT");
            }
            void Balance(string code, long minor, DateOnly date)
            {
                xml.WriteStartElement("Bal");
                xml.WriteStartElement("Tp"); xml.WriteStartElement("CdOrPrtry"); xml.WriteElementString("Cd",
                    code); xml.WriteEndElement(); xml.WriteEndElement();
                Amount(minor);
                xml.WriteStartElement("Dt"); xml.WriteElementString("Dt", Date(date)); xml.WriteEndElement();
                xml.WriteEndElement();
            }

            xml.WriteStartElement("Document", $"urn:iso:std:iso:20022:tech:xsd:camt.053.001.{version}");
            xml.WriteStartElement("BkToCstmrStmt");
            xml.WriteStartElement("GrpHdr"); xml.WriteElementString("MsgId", $"M{id}"); xml.WriteElementString("CreDtTm",
                $"{Date(to)}T23:30:00"); xml.WriteEndElement();
            xml.WriteStartElement("Stmt");
            xml.WriteElementString("Id", id);
            xml.WriteElementString("CreDtTm", $"{Date(to)}T23:30:00");
            xml.WriteStartElement("FrToDt"); xml.WriteElementString("FrDtTm", $"{Date(from)}T00:00:00"); xml.WriteElementString("ToDtTm",
                $"{Date(to)}T23:59:59"); xml.WriteEndElement();
            xml.WriteStartElement("Acct"); xml.WriteStartElement("Id"); xml.WriteStartElement("Othr"); xml.WriteElementString("Id",
                account); xml.WriteEndElement(); xml.WriteEndElement(); xml.WriteElementString("Ccy", currency); xml.WriteEndElement();
            Balance("OPBD", before, from);
            Balance("CLBD", after, to);
            foreach (var line in lines)
            {
                xml.WriteStartElement("Ntry");
                Amount(line.Amount);
                if (version == "02")
                {
                    xml.WriteElementString("Sts", "BOOK");
                }
                else
                {
                    xml.WriteStartElement("Sts"); xml.WriteElementString("Cd", "BOOK"); xml.WriteEndElement();
                }

                xml.WriteStartElement("BookgDt"); xml.WriteElementString("Dt", Date(line.Booked)); xml.WriteEndElement();
                xml.WriteElementString("AcctSvcrRef", line.Reference);
                if (line.Items is { } items)
                {
                    xml.WriteStartElement("NtryDtls"); xml.WriteStartElement("Btch"); xml.WriteElementString("NbOfTxs",
                        items.ToString(CultureInfo.InvariantCulture)); xml.WriteEndElement(); xml.WriteEndElement();
                }

                xml.WriteElementString("AddtlNtryInf", line.Text);
                xml.WriteEndElement();
            }
        }

        return text.ToString();
    }
}
