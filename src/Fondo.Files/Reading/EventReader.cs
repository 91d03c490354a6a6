using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads the events of journal.jsonl, one after the other.</summary>
internal sealed class EventReader
{
    private static readonly Dictionary<string, TenderResult> _results = new()
    {
        ["approved"] = TenderResult.Approved,
        ["declined"] = TenderResult.Declined,
        ["reversed"] = TenderResult.Reversed,
    };

    private const string Kinds = "expected one of: open, sale, refund, void, hold, recall, drop, loan, paid-in, paid-out, no-sale, close";

    private readonly List<TicketLine> _lines = [];
    private readonly List<Tender> _tenders = [];
    private readonly JsonPlace _place;
    private readonly Vocabulary _words;
    private readonly Func<JsonFields, TicketLine> _line;
    private readonly Func<JsonFields, Tender> _tender;
    private JsonFields? _fields;

    public EventReader(JsonPlace place, Vocabulary words) => (_place, _words, _line, _tender) = (place, words, Line, Tender);

    /// <summary>The event; null when it is at fault, which is reported.</summary>
    public JournalEvent? Read(JsonValue root)
    {
        if (!_place.IsObject(root))
        {
            return null;
        }

        var fields = (_fields ??= new JsonFields(root, _place, _words.Setup.Currency)).Aim(root);
        return Read(fields) is { } e && !fields.Faulty ? e : null;
    }

    /// <summary>The event; its faults are reported and show in <see cref="Fields.Faulty"/>.</summary>
    public JournalEvent? Read(JsonFields f)
    {
        var id = f.Text("id", recurs: false);
        var register = _words.Register(f, "register");
        var drawer = f.OptionalText("drawer");
        if (drawer is null && register is { Kind: not RegisterKind.Online })
        {
            f.Fault("drawer", null, "expected a drawer session; only an online register has none");
        }

        var head = new EventHead(
            new(id),
            register?.Id ?? default,
            drawer is null ? null : new DrawerId(drawer),
            f.OptionalText("cashier") is { } cashier ? new PersonId(cashier) : null,
            f.Time("at"));
        switch (f.Text("kind"))
        {
            case "sale":
                return Ticket(f, head, EventKind.Sale);
            case "refund":
                return Ticket(f, head, EventKind.Refund);
            case "open":
                return new SessionOpen(head, f.Size("amount"));
            case "close":
                return new SessionClose(head);
            case "void":
                return new VoidEvent(head, new(f.Text("original")));
            case "hold":
                return new Hold(head, f.Amount("total"));
            case "recall":
                return new Recall(head, new(f.Text("original")));
            case "no-sale":
                return new NoSale(head);
            case "drop":
                return new CashMovement(head, EventKind.Drop, f.Size("amount"), f.OptionalText("bag"), null);
            case "loan":
                return new CashMovement(head, EventKind.Loan, f.Size("amount"), null, null);
            case "paid-in":
                return new CashMovement(head, EventKind.PaidIn, f.Size("amount"), null, f.OptionalText("reason"));
            case "paid-out":
                return new CashMovement(head, EventKind.PaidOut, f.Size("amount"), null, f.OptionalText("reason"));
            case "":
                return null;
            case var unknown:
                f.Fault("kind", unknown, Kinds);
                return null;
        }
    }

    private Ticket Ticket(JsonFields f, EventHead head, EventKind kind)
    {
        f.Each("lines", required: false, _lines, _line);
        var (subtotal, discount, cashDiscount, tax) = (f.Amount("subtotal"), f.AmountOrZero("discount"), f.AmountOrZero("cashDiscount"), f.Amount("tax"));
        var (fee, rounding, total) = (f.AmountOrZero("fee"), f.AmountOrZero("rounding"), f.Amount("total"));
        f.Each("tenders", required: true, _tenders, _tender);
        return new(
            head, kind, kind == EventKind.Refund && f.OptionalText("original") is { } original ? new EventId(original) : null,
            [.. _lines], subtotal, discount, cashDiscount, tax, fee, rounding, total, [.. _tenders], f.OptionalText("note"));
    }

    private TicketLine Line(JsonFields f)
    {
        var (sku, name) = (f.OptionalText("sku") ?? "", f.OptionalText("name") ?? "");
        var quantity = f.Number("qty", 1);
        var (amount, tax) = (f.Amount("amount"), f.AmountOrZero("tax"));
        var article = _words.Article(sku, name, f.Number("taxRate", 0), f.Flag("ebt"), f.OptionalText("account"));
        return new(article, quantity, amount, tax, f.OptionalAmount("cost"));
    }

    private Tender Tender(JsonFields f)
    {
        var type = _words.Tender(f, "type");
        var (amount, change, tip) = (f.Amount("amount"), f.AmountOrZero("change"), f.AmountOrZero("tip"));
        var (cashback, fee) = (f.AmountOrZero("cashback"), f.AmountOrZero("fee"));
        var terminal = _words.Terminal(f, "terminal");
        var brand = f.OptionalText("brand");
        var card = LastFour(f, "card");
        var auth = f.OptionalText("auth", recurs: false);
        var rrn = f.OptionalText("rrn", recurs: false);
        var entry = f.OptionalText("entry");
        var ran = terminal is not null || brand is not null || card is not null || auth is not null || rrn is not null || entry is not null;
        return new(
            type, amount, change, tip, cashback, fee, ran ? new CardSlip(terminal, brand, card, auth, rrn, entry) : null,
            f.Choice("result", _results, "approved"), f.OptionalText("number"), f.OptionalText("name"), f.OptionalText("ref"));
    }

    internal static string? LastFour(Fields f, string name)
    {
        var card = f.OptionalText(name);
        if (card is null || (card.Length <= 4 && !card.AsSpan().ContainsAnyExceptInRange('0', '9')))
        {
            return card;
        }

        f.Fault(name, null, "expected at most the last four digits");
        return null;
    }
}
