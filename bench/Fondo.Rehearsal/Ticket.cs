using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Rehearsal;

/// <summary>A tender of a ticket.</summary>
public sealed record Paid(string Type, long Amount, long Change, CardRow? Card, string? Check);

/// <summary>A sale or a refund as a register rings it. Amounts of a refund are negative.</summary>
public sealed record Ticket(string Id, Register Register, string? Drawer, DateTimeOffset At, long Goods, long Tax, long Fee, long Rounding, IReadOnlyList<Paid> Tenders, string? Original)
{
    public long Total => Goods + Tax + Fee + Rounding;

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
            ["lines"] = new JsonArray(new JsonObject { ["sku"] = "g1", ["name"] = "Garden goods", ["qty"] = "1", ["amount"] = plan.Text(Goods), ["tax"] = plan.Text(Tax), ["taxRate"] = Tax == 0 ? "0" : "0.08", ["ebt"] = false }),
            ["subtotal"] = plan.Text(Goods),
            ["discount"] = plan.Text(0),
            ["tax"] = plan.Text(Tax),
            ["fee"] = plan.Text(Fee),
            ["rounding"] = plan.Text(Rounding),
            ["total"] = plan.Text(Total),
            ["tenders"] = new JsonArray([.. Tenders.Select(t => Tender(t, plan))]),
        };
        if (IsRefund)
        {
            json["original"] = Original;
        }

        return json.ToJsonString();
    }

    private JsonObject Tender(Paid paid, ShopPlan plan)
    {
        var json = new JsonObject { ["type"] = paid.Card is not null && CardsAsCash ? "cash" : paid.Type, ["amount"] = plan.Text(paid.Amount) };
        if (paid.Change != 0)
        {
            json["change"] = plan.Text(paid.Change);
        }

        if (paid.Check is not null)
        {
            (json["number"], json["name"]) = (paid.Check, "Pell");
        }

        if (paid.Card is { } card && !CardsAsCash)
        {
            if (Fee != 0 && paid.Type == "credit")
            {
                json["fee"] = plan.Text(Fee);
            }

            (json["terminal"], json["brand"], json["card"], json["auth"], json["rrn"], json["entry"]) = (card.Terminal, card.Tender == "debit" ? "debit" : "heron", "4471", card.Approval, card.Reference, "chip");
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
        var goods = random.Next(3, 90) * plan.Unit + (plan.Digits == 0 ? random.Next(1, 100) : random.Next(0, (int)plan.Unit) / 10 * 10 + random.Next(10));
        var tax = random.Next(3) == 0 ? 0 : (long)Math.Round(goods * 0.08m, MidpointRounding.AwayFromZero);
        var listed = goods + tax;
        var way = !register.HasDrawer ? 10 : register.Terminal is null ? random.Next(5) : random.Next(10);
        switch (way)
        {
            case < 4:
                {
                    var due = plan.Rounded(listed);
                    var handed = (due / (10 * plan.Unit) + 1) * 10 * plan.Unit;
                    return new(NextId(register), register, drawer, at, goods, tax, 0, due - listed, [new("cash", handed, handed - due, null, null)], null);
                }

            case 4:
                return new(NextId(register), register, drawer, at, goods, tax, 0, 0, [new("check", listed, 0, null, string.Create(CultureInfo.InvariantCulture, $"{1000 + random.Next(9000)}"))], null);
            case 5:
                {
                    // Split: some in cash, the rest by card.
                    var byCard = listed / 3;
                    var cash = plan.Rounded(listed - byCard);
                    var fee = Surcharge(byCard);
                    return new(NextId(register), register, drawer, at, goods, tax, fee, cash - (listed - byCard), [Card(register, "credit", byCard + fee, at), new("cash", cash, 0, null, null)], null);
                }

            case 6:
                return new(NextId(register), register, drawer, at, goods, tax, 0, 0, [Card(register, "debit", listed, at)], null);
            case 10:
                return new(NextId(register), register, null, at, goods, tax, 0, 0, [Card(register, "online", listed, at)], null);
            default:
                {
                    var fee = Surcharge(listed);
                    return new(NextId(register), register, drawer, at, goods, tax, fee, 0, [Card(register, "credit", listed + fee, at)], null);
                }
        }
    }

    /// <summary>Gives back in cash what a cash ticket took.</summary>
    public Ticket Refund(Ticket of, DateTimeOffset at) =>
        new(NextId(of.Register), of.Register, of.Drawer, at, -of.Goods, -of.Tax, 0, -of.Rounding, [new("cash", -of.Total, 0, null, null)], of.Id);

    private long Surcharge(long value) => (long)Math.Round(value * plan.Surcharge, MidpointRounding.AwayFromZero);

    private Paid Card(Register register, string type, long amount, DateTimeOffset at)
    {
        var number = ++_cards;
        // A reference of twelve digits that no check digit fits, so that nobody takes it for a card.
        var card = new CardRow(register.Terminal!, register.Id, type, amount, at, string.Create(CultureInfo.InvariantCulture, $"A{number:00000}"), string.Create(CultureInfo.InvariantCulture, $"R{number:00000000000}"));
        return new(type, amount, 0, card, null);
    }
}
