using System.Net;
using System.Text.RegularExpressions;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>The odd case at every door: an answer in words, never an error, and nothing is there twice.</summary>
public sealed class OddRequests : InOwnShop
{
    private static string Event(string id, string register, string kind, string more = "", string at = "2026-11-21T18:31:00-05:00",
        string session = "A") =>
        $$"""{"id":"{{id}}","register":"{{register}}","drawer":"{{register}}-{{session}}","cashier":"p15","at":"{{at}}","kind":"{{kind}}"{{more}}}""";

    private static string Sale(string id, string register, string at = "2026-11-21T18:30:00-05:00",
        string tenders = """{"type":"cash","amount":"12.93"}""", string session = "A", string lines = "") =>
        Event(id, register, "sale",
            $",\"lines\":[{lines}],\"subtotal\":\"12.93\",\"tax\":\"0.00\",\"total\":\"12.93\",\"tenders\":[{tenders}]", at, session);

    private Task<DayView?> View(int day = 21) => Shop.Ask<DayStore, DayView?>(d => d.View(new(2026, 11, day)));

    [Theory]
    [InlineData("/2026-11-21/count/L1-Ä")]
    [InlineData("/2026-11-21/count/L1%2FZ")]
    [InlineData("/2026-11-21/drawer/L1-Ä")]
    [InlineData("/2026-11-21/cell/L9/-/credit")]
    [InlineData("/2026-11-21/ticket/nowhere")]
    [InlineData("/9999-12-31/board")]
    [InlineData("/0001-01-01/board")]
    [InlineData("/find?q=milk&from=0001-01-01&to=9999-12-31")]
    [InlineData("/unreadable/9999-12-31")]
    [InlineData("/unreadable/2026-11-21")]
    public async Task Odd_addresses_are_answered(string path)
    {
        using var answer = await (await Shop.SignedIn()).Get(path);
        Assert.True(answer.StatusCode is HttpStatusCode.OK or HttpStatusCode.NotFound or HttpStatusCode.Redirect, $"{answer.StatusCode}");
    }

    [Fact]
    public async Task Three_thousand_words_are_answered()
    {
        using var answer = await (await Shop.SignedIn()).Get("/find?q=" + string.Join('+', Enumerable.Range(0, 1500)));
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
    }

    [Fact]
    public async Task A_way_back_may_hold_any_letter()
    {
        using var answer = await Shop.Visit().Post("/sign-in?back=%2F%C3%A4", new() { ["Who"] = "p01", ["Pin"] = "2580", ["back"] = "/ä" });
        Assert.True(answer.StatusCode is HttpStatusCode.Redirect, $"{answer.StatusCode}");
    }

    [Theory]
    [InlineData("Entry")]
    [InlineData("Reverse")]
    [InlineData("Approve")]
    public async Task At_a_cell_that_is_not_there_nothing_is_decided(string handler)
    {
        using var answer = await (await Shop.SignedIn()).Post($"{Shop.Day}/cell/L9/-/credit?handler={handler}",
            new()
            {
                ["entry"] = Guid.NewGuid().ToString(),
                ["id"] = Guid.NewGuid().ToString(),
                ["reason"] = "why",
                ["approver"] = "p02",
                ["pin"] = "7410"
            }, $"{Shop.Day}/board");
        Assert.True((int)answer.StatusCode < 500, $"{answer.StatusCode}");
    }

    [Fact]
    public async Task A_second_attempt_before_the_first_is_no_error()
    {
        using var answer = await (await Shop.SignedIn())
            .Post($"{Shop.Day}/count/L4-A", new() { ["form"] = Guid.NewGuid().ToString(), ["attempt"] = "2", ["p2000"] = "1" });
        Assert.True((int)answer.StatusCode < 500, $"{answer.StatusCode}");
        Assert.NotNull(await View());
    }

    /// <summary>Every right is asked at the door that writes, not only at the page that shows it.</summary>
    [Theory]
    [InlineData("p15", "1590", "/2026-11-21/close?handler=Close")]
    [InlineData("p15", "1590", "/2026-11-21/close?handler=Excuse")]
    [InlineData("p15", "1590", "/2026-11-21/cell/L2/L2-A/cash?handler=Entry")]
    [InlineData("p15", "1590", "/2026-11-21/take-in?handler=Decide")]
    [InlineData("p15", "1590", "/2026-11-21/take-in?handler=Explain")]
    [InlineData("p15", "1590", "/store?handler=Key")]
    [InlineData("p15", "1590", "/people")]
    [InlineData("p21", "9631", "/2026-11-21/close?handler=Close")]
    [InlineData("p21", "9631", "/2026-11-21/count/L4-A")]
    [InlineData("p21", "9631", "/2026-11-21/take-in?handler=Decide")]
    [InlineData("p21", "9631", "/take-in")]
    [InlineData("p21", "9631", "/people")]
    [InlineData("p21", "9631", "/store?handler=Key")]
    public async Task Who_may_not_changes_nothing_by_posting(string who, string pin, string path)
    {
        Task<(int, int, int, int, int, int)> State() => Shop.InStore(async db => (await db.Records.CountAsync(),
            await db.Entries.CountAsync(), await db.Excuses.CountAsync(), await db.Closes.CountAsync(), await db.RegisterKeys.CountAsync(),
            await db.Users.CountAsync()));
        var before = await State();
        using var answer = await (await Shop.SignedIn(who, pin))
            .Post(path, new() { ["form"] = Guid.NewGuid().ToString(), ["attempt"] = "1", ["register"] = "L2", ["reason"] = "why" },
                "/sign-in");
        Assert.True(answer.StatusCode is HttpStatusCode.Redirect
            || (answer.StatusCode is HttpStatusCode.OK
                && Regex.IsMatch(await answer.Content.ReadAsStringAsync(), "Only a supervisor|may not|nobody else")),
            $"{answer.StatusCode}");
        Assert.Equal(before, await State());
    }

    [Fact]
    public async Task A_void_of_what_cannot_be_voided_waits_and_the_day_reads()
    {
        using var client = await Shop.Register("L2");
        var answer = await Shop.Send(client, "L2",
            Event("L2-960001", "L2", "drop", ",\"amount\":\"20.00\",\"bag\":\"B-96\""), Event("L2-960002", "L2", "no-sale"),
            Sale("L2-960003", "L2"), Event("L2-960004", "L2", "void", ",\"original\":\"L2-960003\""),
            Event("L2-960005", "L2", "hold", ",\"total\":\"9.00\""), Event("L2-960006", "L2", "recall", ",\"original\":\"L2-960005\""),
            Event("L2-960011", "L2", "void", ",\"original\":\"L2-960001\""),
            Event("L2-960012", "L2", "void", ",\"original\":\"L2-960002\""),
            Event("L2-960013", "L2", "void", ",\"original\":\"L2-960004\""),
            Event("L2-960014", "L2", "recall", ",\"original\":\"L2-960003\""));
        Assert.Equal(["L2-960011", "L2-960012", "L2-960013", "L2-960014"], answer.Aside.Where(a => a.Kept).Select(a => a.Id));
        Assert.All(answer.Aside, a => Assert.Contains("it ", a.Why, StringComparison.Ordinal));
        Assert.NotNull(await View());
    }

    [Theory]
    [InlineData("""{"type":"credit","amount":"17.93","change":"5.00","terminal":"T-04"}""")]
    [InlineData("""{"type":"online","amount":"17.93","change":"5.00"}""")]
    public async Task Change_on_a_card_leaves_the_day_readable(string tender)
    {
        using var client = await Shop.Register("L4");
        await Shop.Send(client, "L4", Sale($"L4-9610{tender.Length}", "L4", tenders: tender));
        Assert.NotNull(await View());
        await (await Shop.SignedIn()).Page($"{Shop.Day}/board");
    }

    [Fact]
    public async Task Figures_beyond_reason_are_told_and_not_kept()
    {
        using var client = await Shop.Register("L3");
        static string Line(string rate) =>
            $$"""{"sku":"x","name":"x","qty":"1","amount":"12.93","tax":"0.00","taxRate":"{{rate}}","ebt":true}""";
        var answer = await Shop.Send(client, "L3",
            Sale("L3-962001", "L3", lines: Line("10000000000")), Sale("L3-962002", "L3", lines: Line("0.99999999999999999999")),
            Sale("L3-962003", "L3", tenders: string.Join(',', Enumerable.Repeat("""{"type":"cash","amount":"0.00"}""", 1025))),
            Sale("L3-962004", "L3", at: "0001-01-01T00:00:00Z"), Sale("L3-962005", "L3", at: "9999-12-31T23:59:59-05:00"),
            Sale("L3-962006", "L3", at: "1900-01-01T00:00:00Z"),
            Sale("L3-962007", "L3").Replace("{\"id\"", "{\"id\":\"L3-962008\",\"\\u0069d\"", StringComparison.Ordinal),
            $$"""{"id":"L3-962009",{{string.Join(',', Enumerable.Range(0, 80).Select(n => $"\"m{n}\":1"))}}}""");
        Assert.Equal(0, answer.Taken);
        Assert.Equal(8, answer.Aside.Count);
        Assert.NotNull(await View());
        Assert.Equal(0, await Shop.InStore(db => db.Events.CountAsync(e => e.Key.StartsWith("L3-962"))));
    }

    [Fact]
    public async Task The_same_id_however_written_is_one_event()
    {
        using var client = await Shop.Register("SB");
        var answer = await Shop.Send(client, "SB", Sale("SB-96300\\u0031", "SB"), Sale("SB-963001", "SB"));
        Assert.Equal((1, 1), (answer.Taken, answer.Known));
    }

    [Fact]
    public async Task One_registers_key_plants_nothing_at_another()
    {
        using var mine = await Shop.Register("SA");
        var answer = await Shop.Send(mine, "SA", Sale("GY-964001", "GY", tenders: """{"type":"check","amount":"12.93","number":"1"}"""));
        Assert.False(Assert.Single(answer.Aside).Kept);
        using var theirs = await Shop.Register("GY");
        Assert.Equal(1, (await Shop.Send(theirs, "GY", Sale("GY-964001", "GY"))).Taken);
        Assert.Equal(0, await Shop.InStore(db => db.Aside.CountAsync(a => a.Key == "GY-964001")));
    }

    [Fact]
    public async Task Another_drawer_or_kind_is_not_taken_instead_where_the_day_would_not_stand()
    {
        using var client = await Shop.Register("BK");
        await Shop.Send(client, "BK", Sale("BK-965001", "BK"), Event("BK-965002", "BK", "void", ",\"original\":\"BK-965001\""),
            Sale("BK-965003", "BK"));
        await Shop.Send(client, "BK", Event("BK-965001", "BK", "no-sale"),
            Sale("BK-965003", "BK").Replace("BK-A", "L1-A", StringComparison.Ordinal));
        foreach (var key in new[] { "BK-965001", "BK-965003" })
        {
            var id = await Shop.InStore(db => db.Aside.Where(a => a.Key == key).Select(a => a.Id).SingleAsync());
            var outcome = await Shop.Ask<Waiting, Store.Outcome>(w => w.TakeInstead(id, "so it was", Shop.Odile));
            Assert.False(outcome.IsDone);
            Assert.Contains("still waits", outcome.Objection, StringComparison.Ordinal);
        }

        Assert.NotNull(await View());
    }

    [Fact]
    public async Task Two_who_decide_one_line_decide_it_once()
    {
        using var client = await Shop.Register("L4");
        await Shop.Send(client, "L4", Sale("L4-966001", "L4"));
        await Shop.Send(client, "L4", Sale("L4-966001", "L4", tenders: """{"type":"cash","amount":"20.00","change":"7.07"}"""));
        var id = await Shop.InStore(db => db.Aside.Where(a => a.Key == "L4-966001").Select(a => a.Id).SingleAsync());
        var outcomes = await Task.WhenAll(Enumerable.Range(0, 4)
            .Select(n => Task.Run(() => Shop.Ask<Waiting, Store.Outcome>(w => n % 2 == 0
                ? w.TakeInstead(id, "so it was", Shop.Odile)
                : w.LeaveOut(id, "a test", Shop.Odile)))));
        Assert.Single(outcomes, o => o.IsDone);
        Assert.All(outcomes.Where(o => !o.IsDone), o => Assert.Contains("already decided", o.Objection, StringComparison.Ordinal));
    }

    [Fact]
    public async Task Only_a_gap_that_is_shown_is_explained_and_it_opens_again()
    {
        using var client = await Shop.Register("GY");
        await Shop.Send(client, "GY", Event("GY-970001", "GY", "no-sale", at: "2026-11-21T15:00:00-05:00"),
            Event("GY-970009", "GY", "no-sale", at: "2026-11-21T15:01:00-05:00"));
        Task<Store.Outcome> Explain(long first, long last) =>
            Shop.Ask<Numbering, Store.Outcome>(n => n.Explain(new(2026, 11, 21), "GY", first, last, "a test of the printer", "p01"));
        Assert.False((await Explain(0, 999_999_999_999_999)).IsDone);
        Assert.False((await Explain(970_002, 970_007)).IsDone);
        Assert.True((await Explain(970_002, 970_008)).IsDone);
        Assert.DoesNotContain(await Shop.Ask<Numbering, IReadOnlyList<MissingNumbers>>(n => n.Missing(new(2026, 11, 21), "GY")),
            m => m.First is >= 970_001 and <= 970_009);
        await Shop.Send(client, "GY", Event("GY-970005", "GY", "no-sale", at: "2026-11-21T15:00:30-05:00"));
        var open = (await Shop.Ask<Numbering, IReadOnlyList<MissingNumbers>>(n => n.Missing(new(2026, 11, 21), "GY")))
            .Where(m => m.First is >= 970_001 and <= 970_009).Select(m => (m.First, m.Last));
        Assert.Equal([(970_002L, 970_004L), (970_006L, 970_008L)], open);
    }

    /// <summary>8,000 lines of a register that nobody named, and 14,000 that are set aside: each once, and in no more time than its
    /// length.</summary>
    [Fact]
    public async Task What_is_set_aside_in_thousands_is_kept_once()
    {
        using var client = await Shop.Register("SB");
        var part = Enumerable.Range(0, 3000).Select(n => Event($"SB-98{n:0000}", "SB", "void", $",\"original\":\"SB-99{n:0000}\""))
            .ToArray();
        Assert.Equal(3000, (await Shop.Send(client, "SB", part)).Aside.Count);
        await Shop.Send(client, "SB", part);
        Assert.Equal(3000, await Shop.InStore(db => db.Aside.CountAsync(a => a.Key.StartsWith("SB-98"))));
        using var page = await (await Shop.SignedIn()).Get($"{Shop.Day}/take-in");
        Assert.InRange((await page.Content.ReadAsByteArrayAsync()).Length, 1, 300_000);
    }
}
