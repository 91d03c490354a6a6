using System.Text;
using Fondo.Files;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>Days that are unlike the demo's: things left open, terminals that stood nowhere, books that never came.</summary>
public sealed class OtherDays : IDisposable
{
    private readonly Shop _shop = new() { IsEmpty = true };

    public void Dispose() => _shop.Dispose();

    private const string Setup = """
        {"fondo":1,"store":"Mossgate Market Hall","tradingDay":"2026-04-DD","currency":"USD","timeZone":"America/New_York",
         "registers":[{"id":"L1","name":"Lane 1","kind":"lane"},{"id":"W1","name":"Web Orders","kind":"online"}],
         "terminals":[{"id":"T-1","register":"L1","until":"2026-04-DDT12:00:00-04:00"},{"id":"T-9","register":"W1"}],"policy":{"cashTolerance":"2.00","approvalAbove":"20.00"}}
        """;

    private static string Event(string id, string kind, string more, string hour = "10") =>
        $$"""{"id":"{{id}}","register":"L1","drawer":"L1-X","cashier":"p15","at":"2026-04-DDT{{hour}}:00:00-04:00","kind":"{{kind}}"{{more}}}""";

    private const string Totals =
        ",\"lines\":[],\"subtotal\":\"5.00\",\"discount\":\"0.00\",\"tax\":\"0.00\",\"fee\":\"0.00\",\"rounding\":\"0.00\",\"total\":\"5.00\",\"tenders\":";

    /// <summary>Takes the day in and returns its address.</summary>
    private async Task<(Visitor Supervisor, string Day)> Open(string date, params (string Name, string Text)[] files)
    {
        var supervisor = await _shop.Opened();
        var page = await supervisor.Upload("/take-in",
            [.. files.Prepend((DayFiles.Setup, Setup))
                .Select(f => (f.Item1, Encoding.UTF8.GetBytes(f.Item2.Replace("DD", date, StringComparison.Ordinal))))]);
        Assert.Contains("Imported", page.Body!.TextContent, StringComparison.Ordinal);
        return (supervisor, $"/2026-04-{date}");
    }

    [Fact]
    public async Task What_may_be_excused_closes_with_a_reason_and_nothing_else_does()
    {
        var (supervisor, day) = await Open("01", (DayFiles.Journal, string.Join('\n',
            Event("o1", "open", ",\"amount\":\"50.00\"", "07"), Event("h1", "hold", ",\"total\":\"9.00\""),
            Event("s1", "sale", Totals + """[{"type":"gift-card","amount":"5.00","ref":"1234"}]"""))));
        var close = $"{day}/close";
        var left = (await supervisor.Page(close)).QuerySelector(".gates")!.TextContent;
        Assert.All(new[]
        {
            "is still open",
            "is not counted",
            "put on hold and never recalled"
        }, s => Assert.Contains(s, left, StringComparison.Ordinal));
        Assert.Contains("No terminal had to settle", left, StringComparison.Ordinal); // none took a card

        Task<AngleSharp.Dom.IDocument> Excuse(string gate, string item, string reason) =>
            supervisor.PostForPage($"{close}?handler=Excuse", new() { ["gate"] = gate, ["item"] = item, ["reason"] = reason }, close);
        Assert.Contains("This cannot be excused", (await Excuse("counts", "L1-X", "no time")).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("full card number", (await Excuse("holds", "h1", "card 7992 7398 7100 04")).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("Give a reason", (await Excuse("holds", "h1", " ")).Body!.TextContent, StringComparison.Ordinal);
        foreach (var (gate, item) in new[]
        {
            ("holds", "h1"),
            ("sessions", "L1-X"),
            ("safe", "safe")
        })
        {
            using var answer = await supervisor.Post($"{close}?handler=Excuse",
                new() { ["gate"] = gate, ["item"] = item, ["reason"] = "the register broke" }, close);
            Assert.Equal(System.Net.HttpStatusCode.Redirect, answer.StatusCode);
        }

        using (await supervisor.Post($"{day}/count/L1-X",
            new() { ["form"] = Guid.NewGuid().ToString(), ["attempt"] = "1", ["p5000"] = "1" }))
        {
            Assert.Contains("Every gate is green", (await supervisor.Page(close)).QuerySelector("h1")!.TextContent,
                StringComparison.Ordinal);
        }

        await supervisor.Post($"{close}?handler=Close", [], close);
        var document = (await supervisor.Page($"{close}/document")).Body!.TextContent;
        Assert.Contains("the register broke", document, StringComparison.Ordinal);
        Assert.Contains("journal-only", document, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_row_whose_terminal_stood_nowhere_has_a_place_on_the_board()
    {
        var (supervisor, day) = await Open("02", (DayFiles.Journal, Event("o2", "open", ",\"amount\":\"0.00\"", "07")),
            (DayFiles.Rows,
                "terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\nT-1,7,1,2026-04-DDT13:00:00-04:00,sale,8.00,,,heron,1234,99,77,chip,\n"));
        var board = await supervisor.Page($"{day}/board");
        var link = board.QuerySelectorAll("td a[aria-label]")
            .Single(a => a.GetAttribute("aria-label")!.StartsWith("No register", StringComparison.Ordinal));
        Assert.Contains("over 8.00", link.GetAttribute("aria-label"), StringComparison.Ordinal);
        var cell = await supervisor.Page(link.GetAttribute("href")!);
        Assert.Contains("T-1/7/1", cell.QuerySelector(".slips")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Equal_amounts_with_other_numbers_are_explained_by_an_entry_of_nothing()
    {
        var (supervisor, day) = await Open("03",
            (DayFiles.Journal, Event("o3", "open", ",\"amount\":\"0.00\"", "07") + "\n"
                + Event("s3", "sale",
                    Totals + """[{"type":"credit","amount":"5.00","terminal":"T-1","card":"1111","auth":"1","rrn":"5"}]""")),
            (DayFiles.Rows,
                "terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\nT-1,7,1,2026-04-DDT10:00:00-04:00,sale,2.00,,,heron,1234,99,77,chip,\nT-1,7,2,2026-04-DDT10:00:00-04:00,sale,3.00,,,heron,1234,98,78,chip,\n"));
        var cell = $"{day}/cell/L1/-/credit";
        Assert.Contains("amounts match, counts don’t: 1 expected, 2 proved",
            (await supervisor.Page(cell)).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        var id = Guid.NewGuid().ToString();
        await supervisor.Post($"{cell}?handler=Entry",
            new() { ["Id"] = id, ["Kind"] = "Accept", ["Amount"] = "0.00", ["Reason"] = "paid in two, rung in one" }, cell);
        // The gate says that it waits, and the same again is refused.
        Assert.Contains("1 expected, 2 proved, an entry waits for approval.",
            (await supervisor.Page($"{day}/close")).QuerySelector(".gates")!.TextContent, StringComparison.Ordinal);
        var again = await supervisor.PostForPage($"{cell}?handler=Entry",
            new() { ["Id"] = Guid.NewGuid().ToString(), ["Kind"] = "Accept", ["Amount"] = "0.00", ["Reason"] = "again" }, cell);
        Assert.Contains("already waits for approval", again.Body!.TextContent, StringComparison.Ordinal);
        Assert.Equal(1, await _shop.InStore(db => db.Entries.CountAsync()));

        await supervisor.Post($"{cell}?handler=Approve", new() { ["entry"] = id, ["approver"] = "p02", ["pin"] = "7410" }, cell);
        Assert.DoesNotContain("credit", (await supervisor.Page($"{day}/close")).QuerySelector(".gates")!.TextContent,
            StringComparison.Ordinal);
    }

    /// <summary>Money that is simply gone: the page says what was looked for, and offers nothing.</summary>
    [Fact]
    public async Task Where_nothing_explains_a_difference_the_page_says_so()
    {
        var (supervisor, day) = await Open("04", (DayFiles.Journal, Event("o4", "open", ",\"amount\":\"50.00\"", "07")),
            (DayFiles.Counts,
                """[{"id":"k4","kind":"closing","drawer":"L1-X","by":"p01","at":"2026-04-DDT21:00:00-04:00","attempt":1,"cash":{"20.00":1,"0.01":1713}}]"""));
        var page = await supervisor.Page($"{day}/cell/L1/L1-X/cash?handler=Leads"); // as the page asks for it when it takes longer
        Assert.Contains("Nothing on record explains it", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("comes to 12.87", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Null(page.QuerySelector(".leads"));
    }
}
