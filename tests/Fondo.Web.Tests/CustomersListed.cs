using System.Globalization;
using AngleSharp.Dom;
using Fondo.Store.Days;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>What customers owe and are owed, on its pages: from the sale that opened an item over its payments in parts.</summary>
public sealed class CustomersListed : InOwnShop
{
    private const string Accounts = "Assets:Customer accounts";

    private int _next = 990_000;

    private string Ticket(decimal amount, string line, string tender)
    {
        var total = amount.ToString("0.00", CultureInfo.InvariantCulture);
        return $$"""{"id":"L2-{{++_next}}","register":"L2","drawer":"L2-A","cashier":"p11","at":"2026-11-21T12:{{_next % 60:00}}:00-05:00","kind":"sale","lines":[{"sku":"","name":"{{line}}","amount":"{{total}}","tax":"0.00","ebt":false{{tender.Split('|')[0]}}}],"subtotal":"{{total}}","discount":"0.00","tax":"0.00","fee":"0.00","rounding":"0.00","total":"{{total}}","tenders":[{"type":"{{tender.Split('|')[1]}}","amount":"{{total}}"{{tender.Split('|')[2]}}}]}""";
    }

    private string Charges(decimal amount, string invoice) =>
        Ticket(amount, "Clay pot", $"|house-account|,\"ref\":\"{invoice}\",\"name\":\"Linden Hall\"");

    private string Pays(decimal amount, string? invoice) =>
        Ticket(amount, "Paid on account", $",\"account\":\"account-payment\"{(invoice is null ? "" : $",\"ref\":\"{invoice}\"")}|cash|");

    private async Task Ring(params string[] tickets)
    {
        var answer = await Shop.Send(await Shop.Register("L2"), "L2", tickets);
        Assert.Equal("", string.Join(' ', answer.Aside.Select(a => a.Why)));
        Assert.Equal(tickets.Length, answer.Taken);
    }

    private static string Row(IDocument page, string number) =>
        string.Join(' ', page.QuerySelectorAll(".customers tbody tr").Single(r => r.QuerySelector("th")!.TextContent == number)
            .QuerySelectorAll("td").Skip(3).Select(c => c.TextContent.Trim()));

    private static string Item(string reference) =>
        $"/customers/item?account={Uri.EscapeDataString(Accounts)}&reference={Uri.EscapeDataString(reference)}";

    [Fact]
    public async Task An_invoice_is_pending_until_nothing_is_left()
    {
        var odile = await Shop.SignedIn();
        await Ring(Charges(40m, "INV-7"), Pays(15m, "INV-7"));
        var page = await odile.Page("/customers");
        Assert.Equal("40.00 15.00 25.00 pending", Row(page, "INV-7"));
        Assert.Contains("Customers owe 25.00 on 1 invoice.", page.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("INV-7", (await odile.Page("/customers?q=linden")).QuerySelector(".customers tbody th")!.TextContent);
        Assert.Null((await odile.Page("/customers?q=inv-8")).QuerySelector(".customers tbody th"));

        var item = await odile.Page(Item("INV-7"));
        Assert.Contains("25.00 of invoice INV-7 is still owed", item.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(2, item.QuerySelectorAll("tbody tr").Length);
        Assert.Contains("A sale of 40.00",
            (await odile.Page(item.QuerySelector("tbody a")!.GetAttribute("href")!)).QuerySelector("h1")!.TextContent,
            StringComparison.Ordinal);

        await Ring(Pays(25m, "INV-7"));
        Assert.DoesNotContain((await odile.Page("/customers")).QuerySelectorAll(".customers tbody th"), r => r.TextContent == "INV-7");
        Assert.Equal("40.00 40.00 0.00 settled", Row(await odile.Page("/customers?all=true"), "INV-7"));
        Assert.Contains("is settled", (await odile.Page(Item("INV-7"))).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_payment_above_what_is_owed_and_of_an_invoice_nobody_knows_are_told()
    {
        var odile = await Shop.SignedIn();
        await Ring(Charges(40m, "INV-7"), Pays(55m, "INV-7"), Pays(12m, "INV-404"), Pays(3m, null));
        var page = await odile.Page("/customers");
        Assert.Equal("40.00 55.00 −15.00 15.00 paid beyond what was owed.", Row(page, "INV-7"));
        Assert.Equal("0.00 12.00 −12.00 Not opened in Fondo. 12.00 was paid on it.", Row(page, "INV-404"));
        Assert.Contains("Of that, −3.00 came without a number", page.Body!.TextContent, StringComparison.Ordinal);
        var close = (await odile.Page($"{Shop.Day}/close")).QuerySelector("main")!.TextContent;
        Assert.Contains("Invoice INV-7 was paid beyond what is owed, by 15.00.", close, StringComparison.Ordinal);
        Assert.Contains("3 payments on account, 70.00 in all.", close, StringComparison.Ordinal);
        var csv = await (await odile.Get("/customers?handler=File&q=INV-404")).Content.ReadAsStringAsync();
        Assert.Contains("INV-404", csv, StringComparison.Ordinal);
        Assert.DoesNotContain("INV-7", csv, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("/customers/item?account=Assets%3ACustomer%20accounts&reference=NONE")]
    [InlineData("/customers/item?account=&reference=")]
    [InlineData("/customers/item")]
    public async Task What_nobody_knows_is_no_page(string path) =>
        Assert.Equal(System.Net.HttpStatusCode.NotFound, (await (await Shop.SignedIn()).Get(path)).StatusCode);

    [Fact]
    public async Task A_void_takes_its_invoice_off()
    {
        var odile = await Shop.SignedIn();
        await Ring(Charges(40m, "INV-7"));
        await Ring(
            $$"""{"id":"L2-{{_next + 1}}","register":"L2","drawer":"L2-A","cashier":"p11","at":"2026-11-21T12:59:00-05:00","kind":"void","original":"L2-{{_next}}"}""");
        Assert.DoesNotContain((await odile.Page("/customers?all=true")).QuerySelectorAll(".customers tbody th"),
            r => r.TextContent == "INV-7");
    }

    [Fact]
    public async Task Cashiers_do_not_see_it() =>
        Assert.NotEqual(System.Net.HttpStatusCode.OK, (await (await Shop.Cashier()).Get("/customers")).StatusCode);
}

/// <summary>The same with closed days behind it: the list, the closes and the books say one thing.</summary>
public sealed class CustomersOverDays : IDisposable
{
    private readonly Shop _shop = new() { Weeks = 1 };

    public void Dispose() => _shop.Dispose();

    [Fact]
    public async Task The_sums_of_the_list_are_the_balances_of_each_close()
    {
        var odile = await _shop.SignedIn();
        using var scope = _shop.Services.CreateScope();
        var documents = (await scope.ServiceProvider.GetRequiredService<DayStore>().Closes()).Select(ClosingDesk.Read).ToList();
        Assert.Contains(documents, d => d.Customers.Length > 0);
        Dictionary<string, decimal> books = [];
        foreach (var doc in documents)
        {
            foreach (var sum in doc.Books)
            {
                books[sum.Account] = books.GetValueOrDefault(sum.Account) + decimal.Parse(sum.Amount, CultureInfo.InvariantCulture);
            }

            Assert.All(doc.CustomerAccounts,
                a => Assert.Equal(books.GetValueOrDefault(a.Account), decimal.Parse(a.Balance, CultureInfo.InvariantCulture)));
            var page = await odile.Page($"/customers?to={doc.TradingDay}");
            foreach (var account in doc.CustomerAccounts.Where(a => a.Balance != "0.00"))
            {
                var says = page.QuerySelectorAll("p.hint").Single(p =>
                    p.TextContent.StartsWith(account.Account, StringComparison.Ordinal)).TextContent;
                Assert.Contains($"has a balance of {Math.Abs(decimal.Parse(account.Balance, CultureInfo.InvariantCulture)):N2}",
                    says.Replace("−", "", StringComparison.Ordinal), StringComparison.Ordinal);
            }
        }
    }

    [Fact]
    public async Task A_span_says_what_each_account_is_made_of_and_goes_out_in_three_files()
    {
        var odile = await _shop.SignedIn();
        var page = await odile.Page("/span?from=2026-11-16&to=2026-11-19");
        Assert.Contains("every account equals the sum of its items", page.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        var bank = page.QuerySelectorAll("h2").Single(h =>
            h.TextContent.EndsWith("against the bank", StringComparison.Ordinal)).NextElementSibling!;
        Assert.Equal("0.00", bank.QuerySelectorAll("tbody tr")[^1].QuerySelectorAll("td")[^1].TextContent);
        var csv = await (await odile.Get("/span?handler=File&kind=csv&from=2026-11-16&to=2026-11-19")).Content.ReadAsStringAsync();
        var rows = csv.Split("\r\n", StringSplitOptions.RemoveEmptyEntries)[1..].Select(r => r.Split(',')).ToList();
        Assert.Equal(4, rows.Select(r => r[0]).Distinct().Count());
        Assert.Equal(0, rows.Sum(r => (r[3].Length > 0 ? decimal.Parse(r[3], CultureInfo.InvariantCulture) : 0) - (r[4].Length > 0
            ? decimal.Parse(r[4], CultureInfo.InvariantCulture)
            : 0)));
        var journal = await (await odile.Get("/span?handler=File&kind=journal&from=2026-11-16&to=2026-11-19")).Content.ReadAsStringAsync();
        Assert.Equal(4, journal.Split("\n2026-").Length);
        Assert.Equal(System.Net.HttpStatusCode.OK,
            (await odile.Get("/span?handler=File&kind=xlsx&from=2026-11-16&to=2026-11-19")).StatusCode);
    }
}
