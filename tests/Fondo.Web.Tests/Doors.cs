using System.Net;
using Fondo.Store.People;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>Who gets in, and how.</summary>
public sealed class Doors : InOwnShop
{
    private static readonly string[] _pages =
        ["/", "/days", "/people", "/machines", "/pin", "/trail", "/take-in", $"{Shop.Day}/board", $"{Shop.Day}/take-in",
            $"{Shop.Day}/count", $"{Shop.Day}/count/L4-A", $"{Shop.Day}/cell/L2/L2-A/cash", $"{Shop.Day}/close",
            $"{Shop.Day}/close/document", "/nowhere"];

    [Fact]
    public async Task Nothing_is_reachable_without_signing_in_but_the_door_itself()
    {
        var visitor = Shop.Visit();
        foreach (var page in _pages)
        {
            using var answer = await visitor.Get(page);
            Assert.True(answer.StatusCode == HttpStatusCode.Redirect
                ? answer.Headers.Location!.ToString().Contains("/sign-in", StringComparison.Ordinal)
                : answer.StatusCode == HttpStatusCode.NotFound, $"{page}: {answer.StatusCode}");
        }

        foreach (var open in new[] { "/sign-in", "/pair", "/css/fondo.css", "/lib/htmx/htmx.min.js", "/_htmx/antiforgery.js" })
        {
            using var answer = await visitor.Get(open);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        }

        using var health = await visitor.Get("/health"); // well or, where another test of this shop moved its clock on, not yet again
        Assert.True(health.StatusCode is HttpStatusCode.OK or HttpStatusCode.ServiceUnavailable, $"{health.StatusCode}");
    }

    [Fact]
    public async Task Every_page_is_strict_about_where_things_come_from_and_holds_nothing_inline()
    {
        var supervisor = await Shop.SignedIn();
        foreach (var path in _pages.Where(p => p is not ("/" or "/nowhere" or $"{Shop.Day}/close/document")))
        {
            using var answer = await supervisor.Get(path);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            Assert.Contains("default-src 'self'", answer.Headers.GetValues("Content-Security-Policy").Single(), StringComparison.Ordinal);
            Assert.Equal("no-store", answer.Headers.CacheControl!.ToString());
            var page = await Visitor.Read(answer);
            Assert.Empty(page.QuerySelectorAll("style, script:not([src]), [style], [onclick], [onload], [onsubmit]"));
            Assert.All(page.QuerySelectorAll("form[method=post]"),
                f => Assert.NotNull(f.QuerySelector("input[name=__RequestVerificationToken]")));
        }
    }

    [Theory]
    [InlineData("p15", "1590", "/board", HttpStatusCode.Redirect)]
    [InlineData("p15", "1590", "/cell/L4/L4-A/cash", HttpStatusCode.Redirect)]
    [InlineData("p15", "1590", "/close", HttpStatusCode.Redirect)]
    [InlineData("p15", "1590", "/../trail", HttpStatusCode.Redirect)]
    [InlineData("p21", "9631", "/../trail", HttpStatusCode.OK)]
    [InlineData("p21", "9631", "/../people", HttpStatusCode.Redirect)]
    [InlineData("p21", "9631", "/../machines", HttpStatusCode.Redirect)]
    [InlineData("p15", "1590", "/count/L2-A", HttpStatusCode.Redirect)] // not her drawer
    [InlineData("p15", "1590", "/count/L4-A", HttpStatusCode.OK)]
    [InlineData("p21", "9631", "/board", HttpStatusCode.OK)]
    [InlineData("p21", "9631", "/count", HttpStatusCode.Redirect)]
    [InlineData("p21", "9631", "/take-in", HttpStatusCode.Redirect)]
    public async Task Roles_open_what_is_theirs(string who, string pin, string page, HttpStatusCode status)
    {
        using var answer = await (await Shop.SignedIn(who, pin)).Get(Shop.Day + page);
        Assert.Equal(status, answer.StatusCode);
    }

    [Fact]
    public async Task A_post_without_its_token_changes_nothing()
    {
        var supervisor = await Shop.SignedIn();
        using var answer = await supervisor.Client.PostAsync($"{Shop.Day}/close?handler=Close", new FormUrlEncodedContent([]));
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains("This form has expired", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_day_that_is_not_there_is_said_plainly()
    {
        using var answer = await (await Shop.SignedIn()).Get("/2026-01-01/board");
        Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
        Assert.Contains("There is nothing here", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Five_wrong_pins_then_a_wait_that_grows()
    {
        async Task<string> Try(string pin) =>
            (await Shop.Visit().PostForPage("/sign-in", new() { ["Who"] = "p11", ["Pin"] = pin }))
                .QuerySelector("#sign-in-says")!.TextContent;
        Assert.Contains("4 tries left", await Try("0000"), StringComparison.Ordinal);
        for (var i = 0; i < 3; i++)
        {
            await Try("0000");
        }

        Assert.Contains("30 seconds", await Try("0000"), StringComparison.Ordinal);
        Assert.Contains("Too many wrong PINs", await Try("3571"), StringComparison.Ordinal); // even the right one
        Shop.Clock.Advance(TimeSpan.FromSeconds(31));
        Assert.Contains("60 seconds", await Try("0000"), StringComparison.Ordinal);
        Shop.Clock.Advance(TimeSpan.FromSeconds(61));
        await Shop.SignedIn("p11", "3571");
        Assert.Contains("4 tries left", await Try("0000"), StringComparison.Ordinal);
    }

    [Fact]
    public void The_wait_doubles_up_to_an_hour() =>
        Assert.Equal([0, 30, 60, 120, 3600], new[] { 4, 5, 6, 7, 500 }.Select(t => PinSignIn.WaitAfter(t).TotalSeconds));

    [Fact]
    public async Task Tries_side_by_side_are_no_more_than_tries_in_a_row()
    {
        await Task.WhenAll(Enumerable.Range(0, 12)
            .Select(_ => Shop.Visit().PostForPage("/sign-in", new() { ["Who"] = "p21", ["Pin"] = "0000" })));
        // The fifth begins the wait in the same step, so that no sixth is looked at.
        Assert.Equal(PinSignIn.FreeTries,
            await Shop.InStore(db => db.PinTries.Where(p => p.Person == "p21" && p.Address != "*").Select(p => p.Tries).SingleAsync()));
        Assert.Contains("Too many wrong PINs",
            (await Shop.Visit().PostForPage("/sign-in", new() { ["Who"] = "p21", ["Pin"] = "9631" })).Body!.TextContent,
            StringComparison.Ordinal);
        Shop.Clock.Advance(TimeSpan.FromHours(2));
        await Shop.SignedIn("p21", "9631");
    }

    [Fact]
    public async Task Pins_are_hashed() =>
        Assert.All(await Shop.InStore(db => db.Users.Select(p => p.PasswordHash).ToListAsync()),
            h => Assert.True(h!.Length > 60 && !h.Contains("2580", StringComparison.Ordinal)));

    [Theory]
    [InlineData("p02", "Cashier")] // the manager, with a PIN that the supervisor would know
    [InlineData("p99", "Supervisor")] // a second self
    public async Task A_supervisor_cannot_make_an_approver(string id, string role)
    {
        var page = await (await Shop.SignedIn())
            .PostForPage("/people", new() { ["PersonId"] = id, ["Name"] = "Somebody", ["Role"] = role, ["Pin"] = "8264" });
        Assert.Contains("Adding or changing someone who can approve takes two people", page.Body!.TextContent, StringComparison.Ordinal);
        await Shop.Manager();
        Assert.False(await Shop.InStore(db => db.Users.AnyAsync(p => p.PersonId == "p99")));
    }

    [Fact]
    public async Task A_supervisor_adds_a_cashier()
    {
        var supervisor = await Shop.SignedIn();
        using (var saved = await supervisor.Post("/people",
            new() { ["PersonId"] = "p14", ["Name"] = "Dara Petrov", ["Role"] = "Cashier", ["Pin"] = "8264" }))
        {
            Assert.Equal(HttpStatusCode.Redirect, saved.StatusCode);
        }

        Assert.Contains("Dara Petrov can sign in", (await supervisor.Page("/people")).Body!.TextContent, StringComparison.Ordinal);
        var dara = await Shop.SignedIn("p14", "8264");
        using (var first = await dara.Get($"{Shop.Day}/count"))
        {
            Assert.Equal("/pin", first.Headers.Location!.ToString()); // the PIN was somebody else's choice
        }

        using (var chosen = await dara.Post("/pin", new() { ["old"] = "8264", ["pin"] = "260491", ["again"] = "260491" }))
        {
            Assert.Equal(HttpStatusCode.Redirect, chosen.StatusCode);
        }

        await dara.Page($"{Shop.Day}/count");
        await Shop.SignedIn("p14", "260491");
    }
}
