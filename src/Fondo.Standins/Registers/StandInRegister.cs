using System.Globalization;
using System.Text.Json.Nodes;
using Fondo.Standins.Days;

namespace Fondo.Standins.Registers;

/// <summary>A small simulated register: rings, takes any tender, and tells Fondo over its line. What it says is what a person should
/// read.</summary>
public sealed class StandInRegister(string id, string name, string drawer, string cashier, long firstNumber, CardReader reader,
    RegisterLink line, TimeProvider clock, TimeSpan offset, bool isOpen)
{
    private readonly OrderedDictionary<string, JsonObject> _tickets = [];
    private readonly Dictionary<string, Basket> _held = [];
    private readonly List<JsonObject> _tenders = [];
    private long _number = firstNumber;

    public string Id => id;

    public string Name => name;

    public string Drawer => drawer;

    public CardReader Reader => reader;

    public RegisterLink Line => line;

    /// <summary>Null between the end of a session and the next opening.</summary>
    public bool IsOpen { get; private set; } = isOpen;

    public Basket Basket { get; private set; } = new();

    /// <summary>The tenders taken on this ticket so far, in the shape of the journal.</summary>
    public IReadOnlyList<JsonObject> Tenders => _tenders;

    public IEnumerable<string> Held => _held.Keys;

    /// <summary>Its tickets, latest first.</summary>
    public IEnumerable<JsonObject> Tickets => _tickets.Values.Reverse();

    /// <summary>What a card pays more than cash; 0.03 for three percent.</summary>
    public decimal CardRate { get; set; }

    public string Says { get; private set; } = "";

    public long Paid => _tenders.Where(Counts)
        .Sum(t => Amount(t, "amount") - Amount(t, "change") - Amount(t, "tip") - Amount(t, "cashback")) * (Basket.IsRefund ? -1 : 1);

    public long Due => Basket.Total - Paid;

    public static IReadOnlyList<(string Sku, string Name, long Price, bool ByWeight, bool Eligible)> Goods =>
        [.. Scene.Goods.Select(g => (g.Sku, g.Name, g.Price, g.ByWeight, g.Ebt))];

    public async Task Open(long declared)
    {
        IsOpen = true;
        await Tell("open", e => e["amount"] = Write.Amount(declared));
    }

    public async Task Close()
    {
        IsOpen = false;
        await Tell("close");
    }

    /// <summary>Rings an article by its code.</summary>
    public void Ring(string? sku, decimal quantity)
    {
        var good = Scene.Goods.FirstOrDefault(g => g.Sku.Equals(sku?.Trim(), StringComparison.OrdinalIgnoreCase));
        var thousandths = (int)(quantity * 1000);
        if (good is null || thousandths is <= 0 or > 1_000_000)
        {
            Says = good is null ? $"There is no article {sku}." : "Type a quantity above nothing.";
            return;
        }

        Basket.Add(new(good.Sku, good.Name, thousandths, (long)Math.Round(good.Price * thousandths / 1000m, MidpointRounding.AwayFromZero),
            good.TaxRate, good.Ebt, null));
        Says = "";
    }

    /// <summary>Rings what is no article: a gift card loaded, a payment on account, a part of a layaway, a bottle deposit.</summary>
    public void RingAccount(string account, long amount)
    {
        var what = account switch
        {
            "gift-card-load" => "Gift card loaded",
            "account-payment" => "Paid on account",
            "layaway" => "Layaway, a part",
            "container-deposit" => "Bottle deposit",
            "service" => "Delivery",
            _ => "Donation",
        };
        Basket.Add(new(account.ToUpperInvariant(), what, 1000, amount, 0, false, account));
        Says = "";
    }

    public async Task Hold()
    {
        if (Basket.IsEmpty || _tenders.Count > 0)
        {
            Says = "Nothing to put on hold.";
            return;
        }

        var held = await Tell("hold", e => e["total"] = Write.Amount(Basket.Total));
        _held[held] = Basket;
        Basket = new();
    }

    public async Task Recall(string hold)
    {
        if (!Basket.IsEmpty || !_held.Remove(hold, out var basket))
        {
            Says = "Finish this ticket first.";
            return;
        }

        Basket = basket;
        await Tell("recall", e => e["original"] = hold);
    }

    /// <summary>Begins to give back what a ticket sold; without a ticket, what is rung next.</summary>
    public void Refund(string? ticket)
    {
        if (string.IsNullOrWhiteSpace(ticket))
        {
            Basket = new() { Refunds = "" };
            return;
        }

        if (!_tickets.TryGetValue(ticket, out var original))
        {
            Says = $"This register has no ticket {ticket}.";
            return;
        }

        Basket = new()
        {
            Refunds = ticket,
            Discount = Amount(original, "discount"),
            Food = original["tenders"]!.AsArray().Where(t => (string)t!["type"]! == "ebt-food").Sum(t => Amount(t!.AsObject(), "amount"))
        };
        foreach (var l in original["lines"]!.AsArray().Select(l => l!.AsObject()))
        {
            Basket.Add(new((string)l["sku"]!, (string)l["name"]!,
                (int)(decimal.Parse((string)l["qty"]!, CultureInfo.InvariantCulture) * 1000), Amount(l, "amount"),
                (int)(decimal.Parse((string)l["taxRate"]!, CultureInfo.InvariantCulture) * 10_000), (bool)l["ebt"]!,
                (string?)l["account"]));
        }

        Says = "";
    }

    /// <summary>Cancels a ticket of today whole; its cards come out of the terminal's batch.</summary>
    public async Task Void(string ticket)
    {
        if (!_tickets.Remove(ticket, out var original))
        {
            Says = $"This register has no ticket {ticket}.";
            return;
        }

        foreach (var tender in original["tenders"]!.AsArray().Select(t => t!.AsObject()).Where(t => t["terminal"] is not null && Counts(t)))
        {
            reader.TakeBack(tender);
        }

        await Tell("void", e => e["original"] = ticket);
        Says = $"{ticket} is void.";
    }

    public void Abandon()
    {
        foreach (var tender in _tenders.Where(t => t["terminal"] is not null && Counts(t)))
        {
            reader.TakeBack(tender);
        }

        _tenders.Clear();
        (Basket, Says) = (new(), "");
    }

    public async Task PayCash(long handed)
    {
        if (Basket.IsEmpty || handed <= 0)
        {
            Says = "Type what was handed over.";
            return;
        }

        var back = Math.Max(0, handed - Due);
        if (Basket.IsRefund)
        {
            _tenders.Add(new() { ["type"] = "cash", ["amount"] = Write.Amount(-Math.Min(handed, Due)) });
        }
        else
        {
            _tenders.Add(new() { ["type"] = "cash", ["amount"] = Write.Amount(handed), ["change"] = Write.Amount(back) });
        }

        await FinishIfPaid(back > 0 && !Basket.IsRefund ? $"Change {Write.Amount(back)}." : "");
    }

    /// <summary>A check, coupon, voucher, gift card, store credit or account.</summary>
    public async Task PayPaper(string type, long amount, string? number, string? holder)
    {
        if (Basket.IsEmpty || amount <= 0 || amount > Due)
        {
            Says = "Type an amount up to what is due.";
            return;
        }

        var tender = new JsonObject { ["type"] = type, ["amount"] = Write.Amount(Basket.IsRefund ? -amount : amount) };
        if (!string.IsNullOrWhiteSpace(number))
        {
            tender[type == "check" ? "number" : "ref"] = number.Trim();
        }

        if (type == "check" && !string.IsNullOrWhiteSpace(holder))
        {
            tender["name"] = holder.Trim();
        }

        _tenders.Add(tender);
        await FinishIfPaid("");
    }

    /// <summary>A card: what is due of it, with tip and cash back on top; food benefits up to what they may pay for, whose tax falls
    /// away.</summary>
    public async Task PayCard(string type, string brand, string card, long amount, long tip, long cashback, bool again)
    {
        if (type == "ebt-food")
        {
            amount = Math.Min(amount, Basket.Eligible - Basket.Food);
            Basket.Food += amount;
        }

        amount = Math.Min(amount, Due);
        if (Basket.IsEmpty || amount <= 0)
        {
            Says = "Nothing of this ticket can be paid that way.";
            return;
        }

        var fee = type == "credit" ? (long)Math.Round(amount * CardRate, MidpointRounding.AwayFromZero) : 0;
        var sign = Basket.IsRefund ? -1 : 1;
        var answer = await reader.Charge(type, type is "ebt-food" or "ebt-cash" ? "ebt" : type == "debit" ? "debit" : brand, card,
            sign * (amount + fee + tip + cashback), tip, cashback, sign * fee, again);
        if (answer.Tender is not null)
        {
            _tenders.Add(answer.Tender);
        }

        if (!answer.IsApproved)
        {
            Basket.Food -= type == "ebt-food" ? amount : 0;
            Says = answer.Says;
            return;
        }

        Basket.Fee += fee;
        await FinishIfPaid(answer.Says);
    }

    /// <summary>A later card failed and the customer gives up on cards: the earlier ones are taken back, and stay on the ticket as
    /// reversed.</summary>
    public void ReverseCards()
    {
        foreach (var tender in _tenders.Where(t => t["terminal"] is not null && Counts(t)))
        {
            tender["result"] = "reversed";
            reader.TakeBack(tender);
            Basket.Food -= (string)tender["type"]! == "ebt-food" ? Amount(tender, "amount") : 0;
            Basket.Fee -= Math.Abs(Amount(tender, "fee"));
        }

        Says = "The cards were taken back.";
    }

    public Task Drop(long amount, string bag) => Tell("drop", e => (e["amount"], e["bag"]) = (Write.Amount(amount), bag));

    /// <param name="kind">loan, paid-in or paid-out.</param>
    public Task Move(string kind, long amount, string reason) =>
        Tell(kind, e => (e["amount"], e["reason"]) = (Write.Amount(amount), reason));

    public Task NoSale() => Tell("no-sale");

    private async Task FinishIfPaid(string says)
    {
        Says = says;
        if (Due > 0)
        {
            return;
        }

        var basket = Basket;
        var ticket = new JsonObject();
        var key = await Tell(basket.IsRefund ? "refund" : "sale", e =>
        {
            if (basket.IsRefund)
            {
                e["original"] = basket.Refunds!.Length == 0 ? null : basket.Refunds;
            }

            basket.Write(e);
            e["tenders"] = new JsonArray([.. _tenders.Select(t => t.DeepClone())]);
            ticket = e;
        });
        if (!basket.IsRefund)
        {
            _tickets[key] = ticket;
        }

        _tenders.Clear();
        Basket = new();
        Says = $"{says} {key} is done.".Trim();
    }

    private async Task<string> Tell(string kind, Action<JsonObject>? more = null)
    {
        var e = new JsonObject
        {
            ["id"] = $"{id}-{++_number:000000}",
            ["register"] = id,
            ["drawer"] = drawer,
            ["cashier"] = cashier,
            ["at"] = Write.Time(clock.GetUtcNow().ToOffset(offset)),
            ["kind"] = kind,
        };
        more?.Invoke(e);
        await line.Send(Write.Json(e));
        return (string)e["id"]!;
    }

    private static bool Counts(JsonObject tender) => tender["result"] is null;

    private static long Amount(JsonObject of, string name) =>
        (string?)of[name] is { } text ? (long)(decimal.Parse(text, CultureInfo.InvariantCulture) * 100) : 0;
}
