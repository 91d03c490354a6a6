using System.Globalization;
using System.Text.Json.Nodes;

namespace Fondo.Standins.Days;

/// <summary>What customers owe and are owed over the weeks before the demo's Saturday: invoices that are paid in parts, gift cards that are
/// loaded and used, layaways.</summary>
public sealed partial class DayMaker
{
    /// <summary>One invoice is paid above what is owed.</summary>
    private const int PaidTwice = 3;

    private static readonly string[] _articles = ["M206", "M204", "M203"];

    /// <summary>By how many days this day lies before the Saturday decides what customers do on it.</summary>
    private void ServeCustomers()
    {
        var back = Scene.Date.DayNumber - _date.DayNumber;
        if (back % 3 == 0)
        {
            SellOn(9.2, "house-account", Article(back / 3), Number("INV-", 1200 - (back / 3)), "R. Pell");
        }

        if ((back + 1) % 3 == 0)
        {
            Take(10.1, "account-payment", "Paid on account", Number("INV-", 1200 - ((back + 1) / 3)), 5_00);
        }

        if ((back + 4) % 6 == 0)
        {
            var invoice = (back + 4) / 3;
            Take(10.4, "account-payment", "Paid on account", Number("INV-", 1200 - invoice), PriceOf(Article(invoice)) - 5_00);
        }

        if (back == (PaidTwice * 3) - 2)
        {
            Take(11.3, "account-payment", "Paid on account", Number("INV-", 1200 - PaidTwice), PriceOf(Article(PaidTwice)));
        }

        Take(12.6, "gift-card-load", "Gift card loaded", Number("GC-", 6100 - back), 25_00);
        if (back % 2 == 0)
        {
            SellOn(14.2, "gift-card", Article(1 + (back / 2 % 2)), Number("GC-", 6100 - back), null);
        }

        if (back % 4 < 2)
        {
            Take(15.5, "layaway", "Layaway, a part", Number("LAY-", 320 - (back / 8)), 15_00);
        }
    }

    private static string Article(int number) => _articles[number % _articles.Length];

    private static string Number(string kind, int number) => string.Create(CultureInfo.InvariantCulture, $"{kind}{number}");

    /// <summary>One piece of an article on a tender that the store's own books prove.</summary>
    private void SellOn(double hour, string tender, string sku, string reference, string? name)
    {
        var (e, total) = Ring("GY", hour, sku);
        var paid = new JsonObject { ["type"] = tender, ["amount"] = Write.Amount(total), ["ref"] = reference };
        if (name is not null)
        {
            paid["name"] = name;
        }

        e["tenders"] = new JsonArray(paid);
        _ledger.Add($"{tender},{_ledger.Count + 1},{Write.Time(At(hour))},GY,sale,{Write.Amount(total)},{reference}\n");
    }

    /// <summary>Cash for something that is no sale.</summary>
    private void Take(double hour, string account, string what, string reference, long value)
    {
        var register = Named("GY");
        var e = Event(register, register.Sessions[0], hour, "sale");
        e["lines"] = new JsonArray(new JsonObject
        {
            ["sku"] = account.ToUpperInvariant(),
            ["name"] = what,
            ["qty"] = "1",
            ["amount"] = Write.Amount(value),
            ["tax"] = "0.00",
            ["taxRate"] = "0.00",
            ["ebt"] = false,
            ["account"] = account,
            ["ref"] = reference,
        });
        (e["subtotal"], e["discount"], e["tax"]) = (Write.Amount(value), "0.00", "0.00");
        (e["fee"], e["rounding"], e["total"]) = ("0.00", "0.00", Write.Amount(value));
        e["tenders"] = new JsonArray(new JsonObject { ["type"] = "cash", ["amount"] = Write.Amount(value), ["change"] = "0.00" });
        _tills[register.Sessions[0].Drawer!].Cash += value;
        _tickets++;
    }
}
