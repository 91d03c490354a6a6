using System.Text.Json.Nodes;

namespace Fondo.Standins.Days;

/// <summary>What else happened on the demo's Saturday, beside what may happen on any day.</summary>
public sealed partial class DayMaker
{
    /// <summary>What credit cards pay more in the demo store, in thousandths.</summary>
    private const int DemoRate = 30;

    private const string AutomaticTerminal = "T-05", CountedWrongly = "GY-A";

    private const double AutomaticHour = 15;

    private readonly bool _isDemo;

    /// <summary>What credit cards pay more, in thousandths.</summary>
    private readonly int _cardRate;

    private void PlantDemo()
    {
        SecondCardFailed();
        RefundRunAsSale();
        FeeOnDebit();
        HoldLeftOpen();
        OrderAfterTheBatch();
    }

    private long FeeOf(long value) => (long)Math.Round(value * _cardRate / 1000m, MidpointRounding.AwayFromZero);

    private Scene.RegisterPlan Named(string register) => _registers.Single(r => r.Id == register);

    private static long TaxOf(Scene.Good good) => (long)Math.Round(good.Price * good.TaxRate / 10_000m, MidpointRounding.AwayFromZero);

    private static long PriceOf(string sku) => Scene.Goods.Single(g => g.Sku == sku) is var good ? good.Price + TaxOf(good) : 0;

    /// <summary>One piece of one article, not paid yet; a refund is the same with the sign turned.</summary>
    private (JsonObject Event, long Total) Ring(string register, double hour, string sku, long fee = 0, string? refundOf = null)
    {
        var at = Named(register);
        var good = Scene.Goods.Single(g => g.Sku == sku);
        var sign = refundOf is null ? 1 : -1;
        var tax = TaxOf(good);
        var total = good.Price + tax + fee;
        var e = Event(at, at.Sessions[0], hour, refundOf is null ? "sale" : "refund");
        if (refundOf is not null)
        {
            e["original"] = refundOf;
        }

        e["lines"] = new JsonArray(new TicketLine(good, "1", sign * good.Price, sign * tax, good.Ebt).ToJson());
        (e["subtotal"], e["discount"], e["tax"]) = (Write.Amount(sign * good.Price), "0.00", Write.Amount(sign * tax));
        (e["fee"], e["rounding"], e["total"]) = (Write.Amount(sign * fee), "0.00", Write.Amount(sign * total));
        _tickets++;
        return (e, total);
    }

    /// <summary>Two cards for one ticket: the second was declined, the first taken back, and cash paid. The terminal settled the first one
    /// all the same.</summary>
    private void SecondCardFailed()
    {
        var register = Named("SB");
        const double hour = 13.7;
        var (e, total) = Ring("SB", hour, "M206");
        const long first = 15_00;
        JsonObject Try(long value, string result, string brand, out Row row)
        {
            var card = Card(null, register, hour, "credit", value + FeeOf(value), 0, brand, "", out row);
            (card["fee"], card["result"]) = (Write.Amount(FeeOf(value)), result);
            return card;
        }

        var reversed = Try(first, "reversed", "heron", out var settled);
        var declined = Try(total - first, "declined", "egret", out var never);
        _rows.Remove(never);
        e["tenders"] = new JsonArray(reversed, declined,
            new JsonObject { ["type"] = "cash", ["amount"] = "30.00", ["change"] = Write.Amount(30_00 - total) });
        _tills[register.Sessions[0].Drawer!].Cash += total;
        _planted.Add(new("reversal-not-sent", [$"{e["id"]}#1", settled], [(register.Id, null, "credit", settled.Amount)], [settled]));
    }

    /// <summary>A watering can brought back: the register refunded it, the terminal sold it a second time.</summary>
    private void RefundRunAsSale()
    {
        var register = Named("GY");
        var fee = FeeOf(PriceOf("M206"));
        var (sale, total) = Ring("GY", 10.6, "M206", fee);
        var paid = Card($"{sale["id"]}#1", register, 10.6, "credit", total, 0, "merle", "", out var bought);
        paid["fee"] = Write.Amount(fee);
        sale["tenders"] = new JsonArray(paid);

        var (refund, _) = Ring("GY", 16.2, "M206", fee, (string)sale["id"]!);
        var back = Card($"{refund["id"]}#1", register, 16.2, "credit", -total, 0, "merle", "", out var row);
        _rows.Remove(row);
        row = row with { Amount = total, Card = bought.Card };
        _rows.Add(row);
        (back["card"], back["fee"]) = (row.Card, Write.Amount(-fee));
        refund["tenders"] = new JsonArray(back);
        _planted.Add(new("direction", [$"{refund["id"]}#1", row], [(register.Id, null, "credit", 2 * total)]));
    }

    private void FeeOnDebit()
    {
        var register = Named("L4");
        var (e, total) = Ring("L4", 12.25, "M205", fee: 22);
        var card = Card($"{e["id"]}#1", register, 12.25, "debit", total, 0, "debit", "", out _);
        card["fee"] = "0.22";
        e["tenders"] = new JsonArray(card);
    }

    private void HoldLeftOpen()
    {
        var register = Named("L3");
        Event(register, register.Sessions[0], 17.35, "hold")["total"] = "18.40";
    }

    /// <summary>An order that came when its terminal had settled for the day.</summary>
    private void OrderAfterTheBatch()
    {
        var register = Named("WO");
        var (e, total) = Ring("WO", 21.55, "M204");
        e["tenders"] = new JsonArray(Card($"{e["id"]}#1", register, 21.55, "online", total, 0, "kestrel", "", out var row));
        _rows.Remove(row);
        _planted.Add(new("after-cutoff", [$"{e["id"]}#1"], [(register.Id, null, "online", -total)], [$"{e["id"]}#1"]));
    }

    /// <summary>What lies in the safe beside the bags, for change.</summary>
    private const long ChangeStock = 640_00;

    /// <summary>The bags that were opened and the stock for change, counted by two.</summary>
    private void CountSafe() => _counts.Add(new JsonObject
    {
        ["id"] = "k-safe",
        ["kind"] = "safe",
        ["by"] = "p01",
        ["witness"] = "p02",
        ["at"] = Write.Time(At(21.5)),
        ["attempt"] = 1,
        ["cash"] = new JsonObject([.. PiecesOf(ChangeStock
            + _counts.Where(c => (string?)c["kind"] == "drop").Sum(c => c["cash"]!.AsObject().Sum(p => Amount(p.Key) * (int)p.Value!)))
            .Select(p => KeyValuePair.Create<string, JsonNode?>(Write.Amount(p.Key), p.Value))]),
    });

    private static long Amount(string text) => (long)(decimal.Parse(text, System.Globalization.CultureInfo.InvariantCulture) * 100);

    /// <summary>The tens of a drawer were entered on the line of the fives.</summary>
    private void TensAsFives()
    {
        var count = _counts.Single(c => (string?)c["kind"] == "closing" && (string?)c["drawer"] == CountedWrongly);
        var cash = (JsonObject)count["cash"]!;
        var tens = (int)cash["10.00"]!;
        cash.Remove("10.00");
        cash["5.00"] = ((int?)cash["5.00"] ?? 0) + tens;
        _planted.Add(new("count-slip", [(string)count["id"]!], [(RegisterOf(CountedWrongly).Id, CountedWrongly, "cash", -5_00L * tens)]));
    }
}
