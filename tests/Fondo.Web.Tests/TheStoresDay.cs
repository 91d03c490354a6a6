using System.Net;
using System.Text;
using System.Text.Json.Nodes;
using AngleSharp.Dom;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Intake;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Set up, open, take in and watch, page by page.</summary>
public sealed class TheStoresDay : InOwnShop
{
    private static string Ticket(string kind) => System.Text.Json.JsonDocument.Parse(Shop.Made.Files["journal.jsonl"].Split('\n')
        .First(l => l.Contains($"\"type\":\"{kind}\"", StringComparison.Ordinal))).RootElement.GetRawText();

    private static (string Id, JsonNode Event, JsonNode Tender) First(string kind)
    {
        var e = JsonNode.Parse(Ticket(kind))!;
        return ((string)e["id"]!, e, e["tenders"]!.AsArray().First(t => (string)t!["type"]! == kind)!);
    }

    private static string Text(IParentNode page, string selector) =>
        string.Join(" ", page.QuerySelectorAll(selector).Select(e => e.TextContent.Trim()));

    [Fact]
    public async Task The_journal_shows_a_day_in_order_and_filters_it()
    {
        var visitor = await Shop.SignedIn();
        var all = await visitor.Page($"{Shop.Day}/journal?register=L1");
        var times = all.QuerySelectorAll(".events tbody tr td:first-child").Select(t => t.TextContent).ToList();
        Assert.Equal(times.Order(StringComparer.Ordinal), times);
        Assert.All(all.QuerySelectorAll(".events tbody tr td:nth-child(2)"), r => Assert.Equal("Lane 1", r.TextContent));
        var drops = await visitor.Page($"{Shop.Day}/journal?kind=drop");
        Assert.Equal(Shop.Made.Files["journal.jsonl"].Split('\n').Count(l => l.Contains("\"kind\":\"drop\"", StringComparison.Ordinal)),
            drops.QuerySelectorAll(".events tbody tr").Length);
        var large = await visitor.Page($"{Shop.Day}/journal?kind=sale&least=60");
        Assert.All(large.QuerySelectorAll(".events tbody td.n"),
            n => Assert.True(decimal.Parse(n.TextContent, System.Globalization.CultureInfo.InvariantCulture) >= 60));
        Assert.Contains("“x” is not an amount", Text(await visitor.Page($"{Shop.Day}/journal?least=x"), ".objection"),
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_ticket_is_found_by_whatever_is_known_of_it()
    {
        var visitor = await Shop.SignedIn();
        var (id, e, tender) = First("credit");
        var amount = (string)tender["amount"]!;
        foreach (var asked in new[]
        {
            id,
            id.ToLowerInvariant(),
            amount,
            (string)tender["card"]!,
            (string)tender["auth"]!,
            $"{amount} {tender["card"]}",
            $"{((string)e["at"]!)[11..16]} {amount}"
        })
        {
            var found = await visitor.Page($"/find?q={Uri.EscapeDataString(asked)}&from=2026-11-21");
            Assert.Contains(id, found.QuerySelectorAll("[data-row]").Select(a => a.TextContent));
        }

        var (check, _, paper) = First("check");
        Assert.Contains(check, Text(await visitor.Page($"/find?q={paper["number"]}"), "[data-row]"), StringComparison.Ordinal);
        Assert.Contains(check, Text(await visitor.Page($"/find?handler=Found&q=pell%20{paper["amount"]}"), "[data-row]"),
            StringComparison.Ordinal);
        Assert.Contains("Nothing fits", Text(await visitor.Page("/find?q=77777.77"), "#found"), StringComparison.Ordinal);
        Assert.DoesNotContain("<tr", (await visitor.Page("/find?q=%25")).QuerySelector("#found")!.InnerHtml, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_ticket_is_a_receipt_with_what_settled_it_and_can_be_sent_again()
    {
        var visitor = await Shop.SignedIn();
        var (id, _, tender) = First("debit");
        var path = $"{Shop.Day}/ticket/{id}";
        var page = await visitor.Page(path);
        Assert.Contains((string)tender["amount"]!, Text(page, ".receipt"), StringComparison.Ordinal);
        Assert.Contains("…" + (string)tender["card"]!, Text(page, ".receipt"), StringComparison.Ordinal);
        Assert.Contains("settled as T-", Text(page, ".ticket-right"), StringComparison.Ordinal);
        Assert.Contains("Type an address", Text(await visitor.PostForPage(path, new() { ["to"] = "nowhere" }), ".objection"),
            StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.Post(path, new() { ["to"] = "customer@example.org" })).StatusCode);
        var box = Text(await visitor.Page("/stand-ins/mailbox"), "main");
        Assert.Contains("customer@example.org", box, StringComparison.Ordinal);
        Assert.Contains((string)tender["amount"]!, box, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await visitor.Get($"{Shop.Day}/ticket/L1-999999")).StatusCode);
    }

    [Fact]
    public async Task A_drawers_day_ends_at_what_its_cell_expects()
    {
        var visitor = await Shop.SignedIn();
        var page = await visitor.Page($"{Shop.Day}/drawer/L2-A");
        var cell = await visitor.Page($"{Shop.Day}/cell/L2/L2-A/cash");
        Assert.Contains(page.QuerySelector("h1 b")!.TextContent, cell.Body!.TextContent, StringComparison.Ordinal);
        Assert.NotEmpty(page.QuerySelectorAll("svg.drawer-day a path.mark"));
        Assert.Single(page.QuerySelectorAll("svg.drawer-day .counted"));
        Assert.All(page.QuerySelectorAll("svg.drawer-day a"),
            a => Assert.StartsWith($"{Shop.Day}/ticket/", a.GetAttribute("href"), StringComparison.Ordinal));
    }

    [Fact]
    public async Task Watching_answers_nothing_while_nothing_is_new()
    {
        var visitor = await Shop.SignedIn();
        var page = await visitor.Page($"{Shop.Day}/watch");
        Assert.Contains("411", Text(page, "tfoot"), StringComparison.Ordinal);
        var seen = JsonNode.Parse(page.QuerySelector("#now")!.GetAttribute("hx-vals")!)!["seen"];
        Assert.Equal(HttpStatusCode.NoContent, (await visitor.Get($"{Shop.Day}/watch?handler=Now&seen={seen}")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await visitor.Get($"{Shop.Day}/watch?handler=Now&seen=0.0")).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await (await Shop.Cashier()).Get($"{Shop.Day}/watch")).StatusCode);
    }

    [Fact]
    public async Task A_float_that_differs_is_told_at_once_with_both_names()
    {
        var cashier = await Shop.SignedIn("p11", "3571");
        var path = $"{Shop.Day}/open/GY";
        var empty = await cashier.PostForPage(path, new() { ["form"] = Guid.NewGuid().ToString() });
        Assert.Contains("You typed nothing", Text(empty, ".objection"), StringComparison.Ordinal);
        var form = Guid.NewGuid().ToString();
        Assert.Equal(HttpStatusCode.Redirect,
            (await cashier.Post(path, new() { ["form"] = form, ["p2000"] = "12", ["p100"] = "5" })).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect,
            (await cashier.Post(path, new() { ["form"] = form, ["p2000"] = "12", ["p100"] = "5" })).StatusCode);
        Assert.Equal(2, await Shop.InStore(db => db.Events.CountAsync(e => e.Register == "GY" && e.Kind == EventKind.Open)));
        var page = await cashier.Page($"{Shop.Day}/open");
        Assert.Contains("short 5.00", Text(page, ".drawers"), StringComparison.Ordinal);
        Assert.Contains("GY-B", Text(page, ".drawers"), StringComparison.Ordinal);
        var again = await cashier.PostForPage(path, new() { ["form"] = Guid.NewGuid().ToString(), ["accept"] = "true" });
        Assert.Contains("is already open: drawer GY-B, Ansel Ruiz", Text(again, ".objection"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await cashier.Get($"{Shop.Day}/open/WO")).StatusCode);
    }

    [Fact]
    public async Task A_line_set_aside_is_taken_once_its_terminal_is_in_the_set_up()
    {
        var visitor = await Shop.SignedIn();
        string key;
        using (var scope = Shop.Services.CreateScope())
        {
            key = (await scope.ServiceProvider.GetRequiredService<RegisterKeys>()
                .Make("L3", new(new("p01"), "Odile Marchetti", Role.Supervisor), new(new("p02"), "Tamsin Okafor", Role.Manager))).Value!;
        }

        using var register = Shop.CreateClient();
        register.DefaultRequestHeaders.Authorization = new("Bearer", key);
        const string sale =
            """{"id":"L3-800001","register":"L3","drawer":"L3-A","cashier":"p14","at":"2026-11-21T18:00:00-05:00","kind":"sale","lines":[],"subtotal":"5.00","tax":"0.00","total":"5.00","tenders":[{"type":"credit","amount":"5.00","terminal":"T-33","brand":"heron","card":"1234"}]}""";
        Assert.Equal(HttpStatusCode.OK,
            (await register.PostAsync("/api/registers/L3/journal",
                new StringContent(sale, Encoding.UTF8, "application/jsonl"))).StatusCode);

        var path = $"{Shop.Day}/take-in";
        var page = await visitor.Page(path);
        var aside = page.QuerySelectorAll(".slip").First(s => s.TextContent.Contains("L3-800001", StringComparison.Ordinal));
        var id = aside.QuerySelector("input[name=id]")!.GetAttribute("value")!;
        var still = await visitor.PostForPage($"{path}?handler=Decide", new() { ["id"] = id, ["how"] = "again" }, path);
        Assert.Contains("still waits", Text(still, ".objection"), StringComparison.Ordinal);
        Assert.Contains("Give a reason",
            Text(await visitor.PostForPage($"{path}?handler=Decide", new() { ["id"] = id, ["how"] = "out" }, path),
            ".objection"), StringComparison.Ordinal);

        await SaveSetup(visitor, root => root["terminals"]!.AsArray().Add(new JsonObject { ["id"] = "T-33", ["register"] = "L3" }));
        Assert.Equal(HttpStatusCode.Redirect,
            (await visitor.Post($"{path}?handler=Decide", new() { ["id"] = id, ["how"] = "again" }, path)).StatusCode);
        Assert.Equal(1, await Shop.InStore(db => db.Events.CountAsync(e => e.Key == "L3-800001")));
    }

    [Fact]
    public async Task A_set_up_that_would_orphan_what_happened_is_refused()
    {
        var visitor = await Shop.SignedIn();
        var revision = await Shop.InStore(db => db.Setups.CountAsync());
        var page = await SaveSetup(visitor, root =>
        {
            root["registers"]!.AsArray().RemoveAt(0);
            root["terminals"] =
                new JsonArray([.. root["terminals"]!.AsArray().Where(t => (string)t!["register"]! != "L1").Select(t => t!.DeepClone())]);
        }, done: false);
        Assert.Contains("has begun, and its records could no longer be read", Text(page!, ".objection"), StringComparison.Ordinal);
        page = await SaveSetup(visitor, root => root["timeZone"] = "Nowhere/City", done: false);
        Assert.Contains("time zone", Text(page!, ".objections"), StringComparison.Ordinal);
        Assert.Equal(revision, await Shop.InStore(db => db.Setups.CountAsync()));

        // From a later day on it holds, and today keeps what it had.
        await SaveSetup(visitor, root => root["registers"]!.AsArray()[1]!["name"] = "Lane Two", from: "2026-12-01");
        Assert.DoesNotContain("Lane Two", (await visitor.Page($"{Shop.Day}/board")).Body!.TextContent, StringComparison.Ordinal);
    }

    /// <summary>Exports the set-up, changes it, and takes it back as a file.</summary>
    private static async Task<IDocument?> SaveSetup(Visitor visitor, Action<JsonNode> change, bool done = true, string from = "2026-11-21")
    {
        var root = JsonNode.Parse(await (await visitor.Get("/store?handler=Export")).Content.ReadAsStringAsync())!;
        change(root);
        using var form = new MultipartFormDataContent
        {
            { new StringContent(await visitor.Token("/store")), "__RequestVerificationToken" }, { new StringContent(from), "from" },
            { new ByteArrayContent(Encoding.UTF8.GetBytes(root.ToJsonString())), "file", "set-up.json" },
        };
        using var answer = await visitor.Client.PostAsync("/store?handler=Import", form);
        Assert.Equal(done ? HttpStatusCode.Redirect : HttpStatusCode.OK, answer.StatusCode);
        return done ? null : await Visitor.Read(answer);
    }

    [Fact]
    public async Task A_terminal_that_should_have_settled_by_itself_is_told()
    {
        var visitor = await Shop.SignedIn();
        Assert.Contains("settles at", Text((await SaveSetup(visitor, root => root["terminals"]![0]!["settlesAt"] = "3 pm", done: false))!,
            ".objections"), StringComparison.Ordinal);
        await SaveSetup(visitor, root =>
        {
            root["terminals"]![0]!["settlesAt"] = "15:00";
            root["terminals"]!.AsArray().Add(new JsonObject { ["id"] = "T-90", ["register"] = "L1", ["settlesAt"] = "15:00" });
            root["terminals"]!.AsArray().Add(new JsonObject { ["id"] = "T-91", ["register"] = "L1", ["settlesAt"] = "23:30" });
        });
        var news = Text(await visitor.Page($"{Shop.Day}/watch"), ".look");
        Assert.Contains("T-90 should have settled by itself at 15:00", news, StringComparison.Ordinal);
        Assert.DoesNotContain("T-91", news, StringComparison.Ordinal);
        Assert.DoesNotContain("T-01 was", news, StringComparison.Ordinal);
    }
}
