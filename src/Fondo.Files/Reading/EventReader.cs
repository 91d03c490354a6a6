using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads the events of journal.jsonl, one after the other.</summary>
internal sealed class EventReader
{
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
        var id = Strings.CodeOf(f.Id("id", recurs: false));
        var register = _words.Register(f, "register");
        var drawer = f.OptionalId("drawer");
        if (drawer is null && register is { Kind: not RegisterKind.Online })
        {
            f.Fault("drawer", null, "expected a drawer session; only an online register has none");
        }

        var head = new EventHead(
            new(id),
            register?.Id ?? default,
            drawer is null ? null : new DrawerId(drawer),
            f.OptionalId("cashier") is { } cashier ? new PersonId(cashier) : null,
            f.Time("at"));
        return f.OneOf<EventKind>("kind") switch
        {
            null => null,
            EventKind.Sale => Ticket(f, head, EventKind.Sale),
            EventKind.Refund => Refund(f, head),
            EventKind.Open => new SessionOpen(head, f.Size("amount")),
            EventKind.Close => new SessionClose(head),
            EventKind.Void => new VoidEvent(head, new(Strings.CodeOf(f.Id("original", recurs: false)))),
            EventKind.Hold => new Hold(head, f.Amount("total")),
            EventKind.Recall => new Recall(head, new(Strings.CodeOf(f.Id("original", recurs: false)))),
            EventKind.NoSale => new NoSale(head),
            EventKind.Drop => new CashMovement(head, EventKind.Drop, f.Size("amount"), f.OptionalText("bag"), null),
            EventKind.Loan => new CashMovement(head, EventKind.Loan, f.Size("amount"), null, null),
            { } paid => new CashMovement(head, paid, f.Size("amount"), null, f.OptionalText("reason"))
            {
                Purpose = f.Choice("purpose", (CashPurpose?)CashPurpose.Other)
            },
        };
    }

    /// <summary>On a refund what is given back is negative; its lines may go either way, where something was taken in exchange.</summary>
    private Ticket Refund(JsonFields f, EventHead head)
    {
        var ticket = Ticket(f, head, EventKind.Refund);
        if (ticket.Total.Sign > 0 || ticket.Subtotal.Sign > 0)
        {
            f.Fault(ticket.Total.Sign > 0 ? "total" : "subtotal", null,
                "expected an amount that is not positive: on a refund amounts are negative");
        }

        var wrong = ticket.Tenders.IndexOf(ticket.Tenders.FirstOrDefault(t => t.Amount.Sign > 0 || t.Change.Sign > 0 || t.Tip.Sign > 0
            || t.Cashback.Sign > 0 || t.Fee.Sign > 0)!);
        if (wrong >= 0)
        {
            f.Fault($"tenders[{wrong + 1}]", null, "expected amounts that are not positive: on a refund they are negative");
        }

        return ticket;
    }

    private Ticket Ticket(JsonFields f, EventHead head, EventKind kind)
    {
        f.Each("lines", required: false, Limits.MostLines, _lines, _line);
        var (subtotal, discount, cashDiscount, tax) =
            (f.Amount("subtotal"), f.AmountOrZero("discount"), f.AmountOrZero("cashDiscount"), f.Amount("tax"));
        var (fee, rounding, total) = (f.AmountOrZero("fee"), f.AmountOrZero("rounding"), f.Amount("total"));
        f.Each("tenders", required: true, Limits.MostTenders, _tenders, _tender);
        return new(
            head, kind, kind == EventKind.Refund && f.OptionalId("original", recurs: false) is { } original
                ? new EventId(Strings.CodeOf(original))
                : null,
            [.. _lines], subtotal, discount, cashDiscount, tax, fee, rounding, total, [.. _tenders], f.OptionalText("note"));
    }

    private TicketLine Line(JsonFields f)
    {
        var (sku, name) = (f.OptionalText("sku") ?? "", f.OptionalText("name") ?? "");
        var quantity = f.Number("qty", Limits.Quantity, 1);
        var (amount, tax) = (f.Amount("amount"), f.AmountOrZero("tax"));
        var article = _words.Article(sku, name, f.Number("taxRate", 1, 0), f.Flag("ebt"), f.OptionalText("account"));
        return _words.Line(new(article, quantity, amount, tax, f.OptionalAmount("cost"), f.OptionalText("ref")));
    }

    private Tender Tender(JsonFields f)
    {
        var type = _words.Tender(f, "type");
        var (amount, change, tip) = (f.Amount("amount"), f.AmountOrZero("change"), f.AmountOrZero("tip"));
        var (cashback, fee) = (f.AmountOrZero("cashback"), f.AmountOrZero("fee"));
        var terminal = _words.Terminal(f, "terminal");
        var brand = f.OptionalText("brand");
        var card = LastFour(f, "card");
        var auth = f.OptionalCode("auth");
        var rrn = f.OptionalCode("rrn");
        var entry = f.OptionalText("entry");
        return new(
            type, amount, change, tip, cashback, fee, _words.Slip(terminal, brand, card, auth, rrn, entry),
            f.Choice<TenderResult>("result", TenderResult.Approved), f.OptionalText("number"), f.OptionalText("name"),
            f.OptionalText("ref"));
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
