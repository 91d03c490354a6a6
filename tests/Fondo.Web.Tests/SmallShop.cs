using System.Text;
using Fondo.Core.SetUp;
using Fondo.Files;
using Fondo.Rehearsal;
using Fondo.Store.Days;

namespace Fondo.Web.Tests;

/// <summary>A shop of one lane from its first start on: a few sales a day, and days that close with two presses.</summary>
public abstract class SmallShop : IDisposable
{
    protected static readonly Person Odile = new(new("p01"), "Odile Marchetti", Role.Manager), Tamsin = Shop.Tamsin;

    protected Shop Own { get; } = new() { IsEmpty = true };

    public void Dispose()
    {
        Own.Dispose();
        GC.SuppressFinalize(this);
    }

    protected static string SetUp(string day) => $$"""
        {"fondo":1,"store":"Mossgate Market Hall","tradingDay":"{{day}}","currency":"USD","timeZone":"America/New_York","dayEndsAt":"04:00",
         "registers":[{"id":"L1","name":"Lane 1","kind":"lane"}],"terminals":[{"id":"T-1","register":"L1"}],
         "processors":[{"id":"cards","name":"Quill","reference":"{{ShopPlan.Cards}}","tenders":["credit","debit","online"],"days":1,"net":true}],
         "people":[{"id":"p01","name":"Odile Marchetti","role":"manager"},{"id":"p02","name":"Tamsin Okafor","role":"manager"}],
         "policy":{"cashTolerance":"2.00","approvalAbove":"20.00"} }
        """;

    protected static string Event(string day, string id, string hour, string kind, string more = "") =>
        $$"""{"id":"{{id}}","register":"L1","drawer":"L1-{{day[^2..]}}","cashier":"p01","at":"{{day}}T{{hour}}:00:00-05:00","kind":"{{kind}}"{{more}} }""";

    protected const string Totals =
        ",\"lines\":[],\"subtotal\":\"5.00\",\"discount\":\"0.00\",\"tax\":\"0.00\",\"fee\":\"0.00\",\"rounding\":\"0.00\",\"total\":\"5.00\",\"tenders\":[{\"amount\":\"5.00\",";

    protected static string Sale(string day, string id, string tender) => Event(day, id, "10", "sale", $"{Totals}{tender}}}]");

    protected Task<Visitor> BeginShop() => Own.Opened();

    /// <summary>A day of one sale in cash, counted, its files taken in.</summary>
    /// <param name="cards">How many cards of 5.00 were taken.</param>
    /// <param name="isSettled">Whether their batch came.</param>
    protected static async Task Trade(Visitor odile, string day, int cards, bool isSettled = true)
    {
        var journal = string.Join('\n', Event(day, $"o{day[^2..]}", "08", "open", ",\"amount\":\"0.00\""),
            Sale(day, $"s{day[^2..]}", "\"type\":\"cash\""),
            string.Join('\n', Enumerable.Range(1, cards)
                .Select(n => Sale(day, $"c{day[^2..]}-{n}",
                    $"\"type\":\"credit\",\"terminal\":\"T-1\",\"card\":\"111{n}\",\"auth\":\"7{n}\",\"rrn\":\"90000{n}\""))),
            Event(day, $"x{day[^2..]}", "12", "close"));
        var rows =
            $"terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n{string.Concat(Enumerable.Range(1, cards).Select(n => $"T-1,7,{n},{day}T10:00:00-05:00,sale,5.00,,,heron,111{n},7{n},90000{n},chip,\n"))}";
        (string, byte[])[] files = [
            (DayFiles.Setup, Encoding.UTF8.GetBytes(SetUp(day))),
            (DayFiles.Journal, Encoding.UTF8.GetBytes(journal)),
            (DayFiles.Rows, Encoding.UTF8.GetBytes(rows))
        ];
        var page = await odile.Upload("/take-in", isSettled ? files : files[..2]);
        Assert.Contains("Imported", page.Body!.TextContent, StringComparison.Ordinal);
        await odile.Post($"/{day}/count/L1-{day[^2..]}", new() { ["form"] = Guid.NewGuid().ToString(), ["attempt"] = "1", ["p500"] = "1" });
    }

    /// <summary>Excuses what may be excused, and closes.</summary>
    protected async Task Close(Visitor odile, DateOnly date)
    {
        var day = $"/{date:yyyy-MM-dd}";
        var view = (await Own.Ask(async (DayStore days) => (await days.View(date))!));
        foreach (var (gate, item) in view.Gates.SelectMany(g => g.Left.Where(l => l.CanBeExcused).Select(l => (g.Id, l.Key))))
        {
            await odile.Post($"{day}/close?handler=Excuse",
                new() { ["gate"] = gate.ToString(), ["item"] = item, ["reason"] = "a small shop" }, $"{day}/close");
        }

        Assert.Null((await Own.Ask((ClosingDesk desk) => desk.Close(date, Odile))).Objection);
    }
}
