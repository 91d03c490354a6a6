using System.Net;
using System.Text;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Store.Days;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>Counting a drawer, a bag and the safe on one table: how it was counted, machines, a second person, what is shown
/// afterwards.</summary>
public sealed class TheCounts : IAsyncLifetime
{
    private const string Lane4 = Shop.Day + "/count/L4-A", Safe = Shop.Day + "/count/safe:";

    private readonly Shop _shop = new();

    public ValueTask InitializeAsync() => _shop.InitializeAsync();

    public ValueTask DisposeAsync() => _shop.DisposeAsync();

    /// <summary>A count that names nothing that such a count can be of would never read again.</summary>
    [Theory]
    [InlineData("safe", CountKind.Spot)]
    [InlineData("safe", CountKind.Closing)]
    [InlineData("safe", CountKind.Drop)]
    [InlineData("bag", CountKind.Closing)]
    [InlineData("bag", CountKind.Safe)]
    [InlineData("drawer", CountKind.Drop)]
    [InlineData("drawer", CountKind.Safe)]
    public async Task A_count_of_something_else_is_refused(string of, CountKind kind)
    {
        var target =
            of switch { "safe" => CountTarget.Safe, "bag" => CountTarget.OfBag("B-301"), _ => CountTarget.Of(new DrawerId("L4-A")) };
        var handed = new HandedIn(Guid.NewGuid(), kind, 1, new(new() { [2000] = "3" }, [], []), null,
            new(2026, 11, 21, 21, 0, 0, TimeSpan.FromHours(-5)));
        var objection = Assert.Single((await _shop.Ask<Counting, Store.Outcome>(c =>
            c.HandIn(new(2026, 11, 21), target, handed, Shop.Odile))).Objections);
        Assert.Contains("a different count", objection.Sentence, StringComparison.Ordinal);
        Assert.Equal(0, await _shop.InStore(db => db.Records.CountAsync(r => r.Key == Counting.KeyOf(handed.Form))));
    }

    [Fact]
    public async Task A_count_keeps_how_each_row_was_counted()
    {
        var cashier = await _shop.Cashier();
        using var answer = await cashier.Post(Lane4,
            Closing(("p2000", "12"), ("p25", "1*-14"), ("p10", "1.00"), ("p5", "75/"), ("check-number", "1011"),
                ("check-amount", "50+1.23"), ("check-routing", "111000025")));
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        var count = (await View()).CountsOf(new("L4-A")).Single();
        Assert.Equal([(2000L, 12), (25, 26), (10, 10), (5, 15)], count.Pieces.Select(p => (p.Denomination.Minor, p.Number)));
        Assert.Equal([new CountedPart(Means.Pack, "1", 40), new(Means.Piece, "14", -14)],
            count.How.Single(h => h.Denomination.Minor == 25).Parts);
        Assert.Equal((Means.Value, Means.Weight),
            (count.How.Single(h => h.Denomination.Minor == 10).Parts[0].By, count.How.Single(h => h.Denomination.Minor == 5).Parts[0].By));
        Assert.Equal(new CountedCheck("1011", new(5123), "111000025"), count.Checks.Single());
    }

    [Theory]
    [InlineData("p2000", "-3", "fewer than 0 pieces")]
    [InlineData("p2000", "2.5", "pieces are whole")]
    [InlineData("p2000", "abc", "whole number of pieces")]
    [InlineData("p2000", "9999999", "more than 100,000")]
    [InlineData("p25", "229.5/", "40 or 41 pieces")]
    [InlineData("p777", "3", "not a note or coin in the set-up")]
    [InlineData("check-routing", "111000026", "does not fit")]
    [InlineData("check-amount", "many", "type its amount")]
    public async Task What_is_wrong_is_said_at_its_field_and_nothing_is_handed_in(string field, string typed, string says)
    {
        var cashier = await _shop.Cashier();
        var fields = Closing((field, typed));
        if (field.StartsWith("check-", StringComparison.Ordinal))
        {
            fields = Closing(("check-number", "1011"), ("check-amount", field == "check-amount" ? typed : "5.00"),
                ("check-routing", field == "check-routing" ? typed : ""));
        }

        var page = await cashier.PostForPage(Lane4, fields);
        Assert.Contains(says, page.QuerySelectorAll(".objection").Select(o => o.TextContent).First(t => t.Trim().Length > 0),
            StringComparison.Ordinal);
        Assert.Empty((await View()).CountsOf(new("L4-A")));
    }

    /// <summary>Of a drawer that nobody knows, or a day that has not begun: kept, shown, and offered once it is there.</summary>
    [Fact]
    public async Task A_reading_that_no_count_can_use_is_kept_and_shown()
    {
        using var counter = await Device("counter-1");
        const string rows = "{\"denomination\":\"20.00\",\"pieces\":12}";
        foreach (var json in new[] { Reading("1", rows).Replace("L4-A", "L9-Z", StringComparison.Ordinal),
            Reading("2", rows).Replace("2026-11-21", "2026-11-23", StringComparison.Ordinal), Reading("3", rows) })
        {
            Assert.Equal(HttpStatusCode.OK, (await Say(counter, "counter-1", json)).StatusCode);
        }

        var strays = (await (await _shop.SignedIn()).Page("/machines")).QuerySelectorAll("table:last-of-type tbody tr")
            .Select(r => r.TextContent).Where(t => t.Contains("counter-1", StringComparison.Ordinal)).ToList();
        Assert.Equal(2, strays.Count);
        Assert.Contains(strays, s => s.Contains("2026-11-21 has no such drawer", StringComparison.Ordinal));
        Assert.Contains(strays, s => s.Contains("2026-11-23 has not begun", StringComparison.Ordinal));
    }

    /// <summary>The same person on two pages: told once the first page is typed on again, and not after a reload.</summary>
    [Fact]
    public async Task A_second_device_of_ones_own_is_told()
    {
        var cashier = await _shop.Cashier();
        var (one, other) = (Guid.NewGuid(), Guid.NewGuid());
        async Task<string> Type(Guid page, string pieces) => await (await cashier.Post($"{Lane4}?handler=Draft",
            new() { ["attempt"] = "1", ["form"] = $"{page}", ["p2000"] = pieces }, Lane4)).Content.ReadAsStringAsync();
        const string told = "on another device as well";
        Assert.DoesNotContain(told, await Type(one, "1"), StringComparison.Ordinal);
        Assert.DoesNotContain(told, await Type(other, "2"), StringComparison.Ordinal);
        Assert.DoesNotContain(told, await Type(other, "23"), StringComparison.Ordinal);
        Assert.Contains(told, await Type(one, "12"), StringComparison.Ordinal);
        Assert.Contains(told, await Type(other, "24"), StringComparison.Ordinal);
    }

    /// <summary>What a machine counted fills the sheet, stays the machine's, and a hand that says otherwise says why.</summary>
    [Fact]
    public async Task A_machine_fills_rows_and_a_hand_may_overrule_it()
    {
        var cashier = await _shop.Cashier();
        using var counter = await Device("counter-1");
        Assert.Equal(HttpStatusCode.OK,
            (await Say(counter, "counter-1",
                Reading("1",
                    """{"denomination":"20.00","pieces":12},{"denomination":"0.25","grams":"147.42"},{"denomination":"0.10","grams":"23.8"}"""))).StatusCode);
        var sheet = await cashier.Page(Lane4);
        Assert.Equal("12", sheet.QuerySelector("input[name=p2000]")!.GetAttribute("value"));
        Assert.Equal("26", sheet.QuerySelector("input[name=p25]")!.GetAttribute("value")); // 26 quarters are 147.42 g
        // 10 dimes are 22.68 g, 11 are 24.948 g
        Assert.Contains("The scale cannot tell", sheet.QuerySelector("#machine-p10")!.TextContent, StringComparison.Ordinal);
        Assert.True(string.IsNullOrEmpty(sheet.QuerySelector("input[name=p10]")!.GetAttribute("value")));
        var readings = sheet.QuerySelector("input[name=readings]")!.GetAttribute("value")!;

        var page = await cashier.PostForPage(Lane4, Closing(("p2000", "12"), ("p25", "25"), ("readings", readings)));
        Assert.Contains("Give a reason for overriding the machine's count", page.QuerySelector("#says-overrules")!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal("25", page.QuerySelector("input[name=p25]")!.GetAttribute("value"));
        using var answer =
            await cashier.Post(Lane4, Closing(("p2000", "12"), ("p25", "25"), ("readings", readings), ("overrules", "one was a token")));
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        var count = (await View()).CountsOf(new("L4-A")).Single();
        Assert.Equal([new CountedPart(Means.Machine, "counter-1 1", 12)], count.How.Single(h => h.Denomination.Minor == 2000).Parts);
        Assert.Equal(new Overruled("counter-1 1", 26, "one was a token"), count.How.Single(h => h.Denomination.Minor == 25).Instead);
    }

    [Fact]
    public async Task A_reading_is_there_once_and_told_what_is_wrong_with_it()
    {
        using var counter = await Device("counter-1");
        var reading = Reading("1", """{"denomination":"20.00","pieces":12}""");
        Assert.Contains("false", await (await Say(counter, "counter-1", reading)).Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Contains("true", await (await Say(counter, "counter-1", reading)).Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Conflict,
            (await Say(counter, "counter-1", Reading("1", """{"denomination":"20.00","pieces":13}"""))).StatusCode);
        Assert.Equal(1, await _shop.InStore(db => db.MachineReadings.CountAsync()));
        foreach (var (rows, says) in new[]
        {
            ("""{"denomination":"20.00","pieces":-1}""", "pieces"),
            ("""{"denomination":"3.00","pieces":1}""", "a note or coin of the set-up"),
            ("""{"denomination":"20.00"}""", "expected pieces, or grams"),
            ("""{"denomination":"20.00","grams":"-4"}""", "grams"),
            ("", "rows")
        })
        {
            var answer = await Say(counter, "counter-1",
                Reading("2", rows).Replace("\"rows\":[]", rows.Length == 0 ? "\"row\":[]" : "\"rows\":[]", StringComparison.Ordinal));
            Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
            Assert.Contains(says, await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }

        Assert.Equal(HttpStatusCode.Forbidden, (await Say(counter, "scale-1", reading)).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await Say(counter, "counter-1", "{")).StatusCode);
        counter.DefaultRequestHeaders.Authorization = new("Bearer", "nobody");
        Assert.Equal(HttpStatusCode.Unauthorized, (await Say(counter, "counter-1", reading)).StatusCode);
        using var register = await _shop.Register("L1");
        Assert.Equal(HttpStatusCode.Forbidden, (await Say(register, "counter-1", reading)).StatusCode);
    }

    [Fact]
    public async Task A_reading_comes_as_a_file_as_well()
    {
        var inbox = Path.Combine(_shop.Folder, "inbox");
        Directory.CreateDirectory(inbox);
        await File.WriteAllTextAsync(Path.Combine(inbox, "scale-1-7.json"),
            Reading("7", """{"denomination":"0.25","grams":"147.42"}""", "scale-1"), TestContext.Current.CancellationToken);
        await File.WriteAllTextAsync(Path.Combine(inbox, "odd.json"), "{}", TestContext.Current.CancellationToken);
        for (var wait = 0; wait < 200 && !(File.Exists(Path.Combine(inbox, "taken", "scale-1-7.json"))
            && File.Exists(Path.Combine(inbox, "refused", "odd.json"))); wait++)
        {
            await Task.Delay(100, TestContext.Current.CancellationToken);
        }

        Assert.Equal("26", (await (await _shop.Cashier()).Page(Lane4)).QuerySelector("input[name=p25]")!.GetAttribute("value"));
    }

    [Fact]
    public async Task The_safe_is_counted_by_two()
    {
        // The demo's safe was counted in the evening; it is counted again.
        var odile = await _shop.SignedIn();
        Dictionary<string, string> Again(string attempt, params (string, string)[] fields) =>
            new(Count("Safe", fields)) { ["attempt"] = attempt, ["correcting"] = "true" };
        var page = await odile.PostForPage(Safe + "?again=true", Again("2", ("p10000", "20")));
        Assert.Contains("needs a second person", page.QuerySelector("#says-witness")!.TextContent, StringComparison.Ordinal);
        page = await odile.PostForPage(Safe + "?again=true", Again("2", ("p10000", "20"), ("witness", "p02"), ("witness-pin", "0000")));
        Assert.Contains("does not belong to this person", page.QuerySelector("#says-witness")!.TextContent, StringComparison.Ordinal);
        page = await odile.PostForPage(Safe + "?again=true", Again("2", ("p10000", "20"), ("witness", "p01"), ("witness-pin", "2580")));
        Assert.Contains("Someone else must witness this count", page.QuerySelector("#says-witness")!.TextContent, StringComparison.Ordinal);
        using var answer =
            await odile.Post(Safe, Again("2", ("p10000", "20"), ("witness", "p02"), ("witness-pin", "7410")), Safe + "?again=true");
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        var count = (await View()).CountsOf(CountTarget.Safe, CountKind.Safe)[^1];
        Assert.Equal(("p01", "p02", 200_000L), (count.By!.Value.Value, count.Witness!.Value.Value, count.Cash.Minor));
        Assert.Contains("2,000.00 counted", (await odile.Page(Safe)).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Tamsin Okafor", (await odile.Page(Shop.Day + "/count-slip/safe%3A")).QuerySelector(".signatures")!.TextContent,
            StringComparison.Ordinal);

        // Later in the day it is counted again: both stay.
        using var again = await odile.Post(Safe,
            new(Count("Safe", ("p10000", "19"), ("witness", "p02"), ("witness-pin", "7410"))) { ["attempt"] = "3" }, Safe + "?again=true");
        Assert.Equal(HttpStatusCode.Redirect, again.StatusCode);
        Assert.Equal(3, (await View()).CountsOf(CountTarget.Safe, CountKind.Safe).Count);
        var cashier = await _shop.Cashier();
        Assert.NotEqual(HttpStatusCode.OK, (await cashier.Get(Safe)).StatusCode);
    }

    [Fact]
    public async Task A_bag_is_opened_at_the_safe_and_counted_once_more_when_it_differs()
    {
        var odile = await _shop.SignedIn();
        await using (var _ = new MemoryStream())
        {
            using var client = await _shop.Register("L1");
            await Shop.Send(client, "L1",
                """{"id":"L1-910001","register":"L1","drawer":"L1-B","cashier":"p11","at":"2026-11-21T20:00:00-05:00","kind":"drop","amount":"300.00","bag":"B/7 x"}""");
        }

        var bag = Shop.Day + "/count/" + Uri.EscapeDataString("bag:B/7 x");
        Assert.Contains("B/7 x", (await odile.Page(Shop.Day + "/count")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("300.00", (await odile.Page(bag)).QuerySelector("main")!.TextContent, StringComparison.Ordinal); // blind
        Assert.Equal(HttpStatusCode.Redirect, (await odile.Post(bag, Count("Drop", ("p2000", "14")))).StatusCode);
        Assert.Contains("count the bag once more", (await odile.Page(bag)).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect,
            (await odile.Post(bag, new(Count("Drop", ("p2000", "14"), ("p1000", "1"))) { ["attempt"] = "2" })).StatusCode);
        var page = await odile.Page(bag);
        Assert.Contains("short 10.00", page.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        var differing = page.QuerySelector(".attempts tr.differs")!.TextContent;
        Assert.Contains("10.00", differing, StringComparison.Ordinal);
        Assert.Contains("differs by +1", differing, StringComparison.Ordinal);

        // A further attempt is a correction: with a reason.
        page = await odile.PostForPage(bag, new(Count("Drop", ("p2000", "15"))) { ["attempt"] = "3", ["correcting"] = "true" },
            bag + "?correct=true");
        Assert.Contains("Give a reason for the correction", page.QuerySelector("#says-reason")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_cashier_sees_over_and_short_only_where_the_shop_says_so()
    {
        var cashier = await _shop.Cashier();
        var json = System.Text.Json.Nodes.JsonNode.Parse((await _shop.Ask<SetupBook, HeldSetup?>(b => b.Now()))!.Json)!;
        json["policy"]!["showsOwnResult"] = false;
        json["policy"]!["witness"] = new System.Text.Json.Nodes.JsonArray("safe", "closing");
        var saved =
            await _shop.Ask<SetupBook, Fondo.Store.Outcome<SetupSaved>>(b => b.Save(new(2026, 11, 21), json.ToJsonString(), Shop.Odile));
        Assert.True(saved.IsDone, saved.Objection);
        for (var attempt = 1; attempt <= 2; attempt++)
        {
            Assert.Equal(HttpStatusCode.Redirect,
                (await cashier.Post(Lane4, new(Closing(("p2000", "12"), ("witness", "p11"), ("witness-pin", "3571")))
                {
                    ["attempt"] = $"{attempt}"
                })).StatusCode);
        }

        var main = (await cashier.Page(Lane4)).QuerySelector("main")!;
        Assert.Contains("handed in. Thank you.", main.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("Expected", main.TextContent, StringComparison.Ordinal);
        Assert.Contains("Expected", (await (await _shop.SignedIn()).Page(Lane4)).QuerySelector("main")!.TextContent,
            StringComparison.Ordinal);

        // To let them see again, or to count alone, is looser: it waits for a manager.
        json["policy"]!["showsOwnResult"] = true;
        json["policy"]!["witness"] = new System.Text.Json.Nodes.JsonArray("safe");
        saved =
            await _shop.Ask<SetupBook, Fondo.Store.Outcome<SetupSaved>>(b => b.Save(new(2026, 11, 22), json.ToJsonString(), Shop.Odile));
        Assert.Equal(["a closing count no longer needs a second person", "cashiers see over and short of their own drawer"],
            saved.Value!.Loosens);
    }

    [Fact]
    public async Task Rows_that_the_last_count_used_come_first()
    {
        var cashier = await _shop.Cashier();
        var names = (await cashier.Page(Lane4)).QuerySelectorAll(".sheet input[data-worth]")
            .Select(i => long.Parse(i.GetAttribute("data-worth")!)).ToList();
        var setup = (await View()).Setup;
        Assert.Equal(setup.Denominations.Select(d => d.Worth.Minor).Order(), names.Order());
        await cashier.Post(Lane4, Closing(("p500", "3"), ("p1", "4")));
        Assert.Equal([500L, 1], (await cashier.Page(Lane4)).QuerySelectorAll(".sheet tbody:first-of-type input[data-worth]")
            .Select(i => long.Parse(i.GetAttribute("data-worth")!)));
    }

    private static Dictionary<string, string> Closing(params (string Name, string Typed)[] typed) => Count("Closing", typed);

    private static Dictionary<string, string> Count(string kind, params (string Name, string Typed)[] typed)
    {
        var fields = new Dictionary<string, string> { ["form"] = Guid.NewGuid().ToString(), ["kind"] = kind, ["attempt"] = "1" };
        foreach (var (name, text) in typed)
        {
            fields[name] = text;
        }

        return fields;
    }

    private static string Reading(string number, string rows, string device = "counter-1") =>
        $$"""{"fondo":1,"device":"{{device}}","reading":"{{number}}","at":"2026-11-21T21:42:00-05:00","drawer":"L4-A","rows":[{{rows}}]}""";

    private async Task<HttpClient> Device(string name)
    {
        var client = _shop.CreateClient();
        client.DefaultRequestHeaders.Authorization = new("Bearer", await _shop.KeyOf(MachineDesk.KeyOf(name)));
        return client;
    }

    private static Task<HttpResponseMessage> Say(HttpClient client, string device, string json) =>
        client.PostAsync($"/api/devices/{device}/readings", new StringContent(json, Encoding.UTF8, "application/json"));

    private async Task<DayView> View() => (await _shop.Ask<DayStore, DayView?>(d => d.View(new(2026, 11, 21))))!;
}
