using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Rehearsal;

/// <summary>A tender of a ticket.</summary>
/// <param name="Ref">The gift card or invoice of a tender that the store's own books prove.</param>
public sealed record Paid(string Type, long Amount, long Change, CardRow? Card, string? Check, string? Ref = null);

/// <summary>A sale or a refund as a register rings it. Amounts of a refund are negative.</summary>
public sealed record Ticket(string Id, Register Register, string? Drawer, DateTimeOffset At, long Goods, long Tax, long Fee, long Rounding,
    IReadOnlyList<Paid> Tenders, string? Original)
{
    public long Total => Goods - CashDiscount + Tax + Fee + Rounding;

    /// <summary>What is taken off for paying in cash or by check.</summary>
    public long CashDiscount { get; init; }

    /// <summary>What its line is for: goods, or a payment on something.</summary>
    public string Account { get; init; } = "goods";

    /// <summary>The invoice, layaway or gift card that its line pays or loads.</summary>
    public string? Ref { get; init; }

    /// <summary>Whether food benefits may pay for it.</summary>
    public bool IsFood { get; init; }

    public bool IsRefund => Total < 0;

    /// <summary>As the register wrote it down: a card may stand there as cash.</summary>
    public bool CardsAsCash { get; init; }

    public string Line(ShopPlan plan)
    {
        var json = new JsonObject
        {
            ["id"] = Id,
            ["register"] = Register.Id,
            ["drawer"] = Drawer,
            ["cashier"] = "p11",
            ["at"] = ShopPlan.Text(At),
            ["kind"] = IsRefund ? "refund" : "sale",
            ["lines"] = new JsonArray(Article(plan)),
            ["subtotal"] = plan.Text(Goods),
            ["discount"] = plan.Text(CashDiscount),
            ["tax"] = plan.Text(Tax),
            ["fee"] = plan.Text(Fee),
            ["rounding"] = plan.Text(Rounding),
            ["total"] = plan.Text(Total),
            ["tenders"] = new JsonArray([.. Tenders.Select(t => Tender(t, plan))]),
        };
        if (CashDiscount != 0)
        {
            json["cashDiscount"] = plan.Text(CashDiscount);
        }

        if (IsRefund)
        {
            json["original"] = Original;
        }

        return json.ToJsonString();
    }

    private JsonObject Article(ShopPlan plan)
    {
        var json = new JsonObject
        {
            ["sku"] = "g1",
            ["name"] = "Garden goods",
            ["qty"] = "1",
            ["amount"] = plan.Text(Goods),
            ["tax"] = plan.Text(Tax),
            ["taxRate"] = Tax == 0 ? "0" : "0.08",
            ["ebt"] = IsFood,
        };
        if (Account != "goods")
        {
            (json["account"], json["ref"]) = (Account, Ref);
        }

        return json;
    }

    private JsonObject Tender(Paid paid, ShopPlan plan)
    {
        var json =
            new JsonObject { ["type"] = paid.Card is not null && CardsAsCash ? "cash" : paid.Type, ["amount"] = plan.Text(paid.Amount) };
        if (paid.Change != 0)
        {
            json["change"] = plan.Text(paid.Change);
        }

        if (paid.Check is not null)
        {
            (json["number"], json["name"]) = (paid.Check, "Pell");
        }

        if (paid.Ref is not null)
        {
            json["ref"] = paid.Ref;
        }

        if (paid.Card is { } card && !CardsAsCash)
        {
            if (Fee != 0 && paid.Type == "credit")
            {
                json["fee"] = plan.Text(Fee);
            }

            (json["terminal"], json["brand"], json["card"]) = (card.Terminal, card.Brand, "4471");
            (json["auth"], json["rrn"], json["entry"]) = (card.Approval, card.Reference, "chip");
        }

        return json;
    }
}

/// <summary>Rings tickets at random, each paid in one of the ways of a shop.</summary>
public sealed class Till(ShopPlan plan, Random random)
{
    private readonly Dictionary<string, int> _numbers = [];
    private int _cards;

    public string NextId(Register register)
    {
        var number = _numbers[register.Id] = _numbers.GetValueOrDefault(register.Id) + 1;
        return string.Create(CultureInfo.InvariantCulture, $"{register.Id}-{number:000000}");
    }

    public Ticket Ring(Register register, string? drawer, DateTimeOffset at)
    {
        var goods = (random.Next(3, 90) * plan.Unit)
            + (plan.Digits == 0 ? random.Next(1, 100) : (random.Next(0, (int)plan.Unit) / 10 * 10) + random.Next(10));
        var tax = random.Next(3) == 0 ? 0 : (long)Math.Round(goods * 0.08m, MidpointRounding.AwayFromZero);
        var ticket = new Ticket(NextId(register), register, drawer, at, goods, tax, 0, 0, [], null);
        if (!register.HasDrawer)
        {
            return Charge(ticket, "online");
        }

        var way = register.Terminal is null ? random.Next(7) : random.Next(14);
        return way switch
        {
            < 4 => InCash(ticket),
            4 => ByCheck(ticket),
            5 => OnAnAccount(ticket),
            6 => PaysOn(ticket),
            7 => Split(ticket),
            8 => Charge(ticket, "debit"),
            9 or 10 when plan.TakesBenefits => Food(ticket, half: random.Next(2) == 0),
            _ => Charge(ticket, "credit"),
        };
    }

    private Ticket InCash(Ticket ticket)
    {
        var off = Off(ticket.Total);
        var due = plan.Rounded(ticket.Total - off);
        var handed = ((due / (10 * plan.Unit)) + 1) * 10 * plan.Unit;
        return ticket with
        {
            CashDiscount = off,
            Rounding = due - (ticket.Total - off),
            Tenders = [new("cash", handed, handed - due, null, null)]
        };
    }

    private Ticket ByCheck(Ticket ticket)
    {
        var off = Off(ticket.Total);
        var number = string.Create(CultureInfo.InvariantCulture, $"{1000 + random.Next(9000)}");
        return ticket with { CashDiscount = off, Tenders = [new("check", ticket.Total - off, 0, null, number)] };
    }

    /// <summary>Sold on account, or paid by a gift card: the store's own books prove it.</summary>
    private Ticket OnAnAccount(Ticket ticket)
    {
        var type = random.Next(2) == 0 ? "house-account" : "gift-card";
        return ticket with
        {
            Tenders = [new(type, ticket.Total, 0, null, null, Number(type == "gift-card" ? "gift-card-load" : "account-payment"))]
        };
    }

    /// <summary>No sale of goods: an invoice, a layaway or a gift card is paid in cash, and bears no tax.</summary>
    private Ticket PaysOn(Ticket ticket)
    {
        var account = random.Next(3) switch { 0 => "account-payment", 1 => "layaway", _ => "gift-card-load" };
        return InCash(ticket with { Tax = 0, Account = account, Ref = Number(account) });
    }

    /// <summary>One of a few numbers, so that many are charged or loaded, and paid or used in parts; now and then past what is
    /// there.</summary>
    private string Number(string account) =>
        string.Create(CultureInfo.InvariantCulture,
            $"{account switch { "layaway" => "LAY-", "gift-card-load" => "", _ => "INV-" }}{random.Next(5001, 5025)}");

    /// <summary>Some in cash, the rest by card.</summary>
    private Ticket Split(Ticket ticket)
    {
        var byCard = ticket.Total / 3;
        var (listed, off, fee) = (ticket.Total - byCard, Off(ticket.Total - byCard), Surcharge(byCard));
        var cash = plan.Rounded(listed - off);
        var card = Card(ticket, "credit", byCard + fee);
        return ticket with
        {
            Fee = fee,
            CashDiscount = off,
            Rounding = cash - (listed - off),
            Tenders = [card, new("cash", cash, 0, null, null)]
        };
    }

    private Ticket Charge(Ticket ticket, string type)
    {
        var fee = type == "credit" ? Surcharge(ticket.Total) : 0;
        return ticket with { Fee = fee, Tenders = [Card(ticket, type, ticket.Total + fee)] };
    }

    /// <summary>Groceries, which bear no tax, on food benefits; half of them may be paid in cash.</summary>
    private Ticket Food(Ticket ticket, bool half)
    {
        var food = ticket with { Tax = 0, IsFood = true };
        var benefits = half ? food.Total / 2 : food.Total;
        var (listed, off) = (food.Total - benefits, Off(food.Total - benefits));
        var cash = plan.Rounded(listed - off);
        var card = Card(food, "ebt-food", benefits);
        return food with
        {
            CashDiscount = off,
            Rounding = cash - (listed - off),
            Tenders = half ? [card, new("cash", cash, 0, null, null)] : [card]
        };
    }

    /// <summary>Gives back, the way it was paid, what a ticket of one tender took.</summary>
    public Ticket Refund(Ticket of, DateTimeOffset at)
    {
        var back = of with
        {
            Id = NextId(of.Register),
            At = at,
            Goods = -of.Goods,
            Tax = -of.Tax,
            Fee = -of.Fee,
            Rounding = -of.Rounding,
            CashDiscount = -of.CashDiscount,
            Original = of.Id,
        };
        return back with
        {
            Tenders = [of.Tenders[0].Card is null ? new("cash", -of.Total, 0, null, null) : Card(back, of.Tenders[0].Type, -of.Total)]
        };
    }

    /// <summary>The same card run once more by mistake: another transaction, with a reference of its own.</summary>
    public CardRow Again(CardRow card) =>
        card with { At = card.At.AddMinutes(1), Approval = NextCard(out var reference), Reference = reference };

    private long Surcharge(long value) => (long)Math.Round(value * plan.Surcharge, MidpointRounding.AwayFromZero);

    private long Off(long listed) => (long)Math.Round(listed * plan.CashDiscount, MidpointRounding.AwayFromZero);

    private Paid Card(Ticket ticket, string type, long amount)
    {
        var approval = NextCard(out var reference);
        return new(type, amount, 0, new(plan.TerminalOf(ticket.Register, ticket.At)!, ticket.Register.Id, type, amount, ticket.At, approval,
            reference), null);
    }

    /// <summary>An approval code, and a reference that nobody can take for a card.</summary>
    private string NextCard(out string reference)
    {
        var number = ++_cards;
        reference = string.Create(CultureInfo.InvariantCulture, $"R{number:00000000000}");
        return string.Create(CultureInfo.InvariantCulture, $"A{number:00000}");
    }
}
