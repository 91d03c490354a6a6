using System.Net;
using System.Text;
using AngleSharp.Dom;
using Fondo.Core.Amounts;
using Fondo.Core.Proof;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>What stays in a drawer at night, and what is found in it in the morning.</summary>
public sealed class FloatsLeft : InOwnShop
{
    private const string Tomorrow = "/2026-11-22";

    private static string Text(IParentNode page, string selector) =>
        string.Join(" ", page.QuerySelectorAll(selector).Select(e => e.TextContent.Trim()));

    private async Task<DayView> View(int day)
    {
        using var scope = Shop.Services.CreateScope();
        return (await scope.ServiceProvider.GetRequiredService<DayStore>().View(new(2026, 11, day)))!;
    }

    private static Dictionary<string, string> Proposed(IDocument page) =>
        page.QuerySelectorAll("[data-worth]").Where(i => i.GetAttribute("value") is { Length: > 0 })
            .ToDictionary(i => i.GetAttribute("name")!, i => i.GetAttribute("value")!);

    private static async Task<HttpResponseMessage> Leave(Visitor visitor, string drawer, Dictionary<string, string> pieces,
        string? form = null)
    {
        pieces["form"] = form ?? Guid.NewGuid().ToString();
        return await visitor.Post($"{Shop.Day}/count/{drawer}/float", pieces);
    }

    [Fact]
    public async Task The_float_is_proposed_left_once_and_no_more_than_was_counted()
    {
        var visitor = await Shop.SignedIn();
        var pieces = Proposed(await visitor.Page($"{Shop.Day}/count/L3-A/float"));
        Assert.Equal(200_00, pieces.Sum(p => long.Parse(p.Key.AsSpan(1), System.Globalization.CultureInfo.InvariantCulture) * int.Parse(
            p.Value, System.Globalization.CultureInfo.InvariantCulture)));

        using var refused = await Leave(visitor, "L3-A", new(pieces) { ["p10000"] = "77" });
        Assert.Contains("77 cannot stay", Text(await Visitor.Read(refused), ".objection"), StringComparison.Ordinal);
        Assert.Null(Floats.Kept(await View(21), new("L3-A")));

        var form = Guid.NewGuid().ToString();
        Assert.Equal(HttpStatusCode.Redirect, (await Leave(visitor, "L3-A", new(pieces), form)).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await Leave(visitor, "L3-A", new(pieces), form)).StatusCode);
        var kept = Assert.Single((await View(21)).Day.Counts, c => c.Kind == CountKind.Kept && c.Drawer?.Value == "L3-A");
        Assert.Equal((200_00L, "p01"), (kept.Cash.Minor, kept.By!.Value.Value));
        Assert.Contains("Odile Marchetti left 200.00",
            (await visitor.Page($"{Shop.Day}/count/L3-A")).QuerySelector(".declared")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_stays_changes_no_cell()
    {
        var visitor = await Shop.SignedIn();
        var before = (await View(21)).Reconciliation.Cells;
        Assert.Equal(HttpStatusCode.Redirect, (await Leave(visitor, "SA-A", new() { ["p2000"] = "1" })).StatusCode);
        Assert.Equal(before, (await View(21)).Reconciliation.Cells);
    }

    [Fact]
    public async Task Of_an_uncounted_drawer_nothing_can_be_left()
    {
        var visitor = await Shop.SignedIn();
        using var answer = await visitor.Get($"{Shop.Day}/count/L4-A/float");
        Assert.Equal($"{Shop.Day}/count/L4-A", answer.Headers.Location!.OriginalString);
    }

    [Fact]
    public async Task A_cashier_leaves_the_float_of_their_own_drawer_alone()
    {
        var ansel = await Shop.SignedIn("p11", "3571");
        Assert.Equal(HttpStatusCode.OK, (await ansel.Get($"{Shop.Day}/count/L1-A/float")).StatusCode);
        Assert.NotEqual(HttpStatusCode.OK, (await ansel.Get($"{Shop.Day}/count/L2-A/float")).StatusCode);
    }

    [Fact]
    public async Task In_the_morning_the_drawer_is_held_against_what_was_left_and_both_people_are_named()
    {
        var visitor = await Shop.SignedIn();
        Assert.Equal(HttpStatusCode.Redirect, (await Leave(visitor, "GY-A", new() { ["p2000"] = "5", ["p500"] = "1" })).StatusCode);

        // Sunday begins as its first journal comes; the register itself opened with 90.00.
        Shop.Clock.SetUtcNow(new DateTimeOffset(2026, 11, 22, 8, 5, 0, TimeSpan.FromHours(-5)));
        using (var scope = Shop.Services.CreateScope())
        {
            const string open =
                """{"id":"GY-700001","register":"GY","drawer":"GY-S","cashier":"p16","at":"2026-11-22T08:01:00-05:00","kind":"open","amount":"90.00"}""";
            var part = await scope.ServiceProvider.GetRequiredService<JournalIntake>()
                .TakePart(new MemoryStream(Encoding.UTF8.GetBytes(open)), "GY");
            Assert.Equal(1, part.Taken);
        }

        visitor = await Shop.SignedIn();
        var news = Text(await visitor.Page($"{Tomorrow}/watch"), ".look");
        Assert.Contains(
            "Garden Yard opened short 15.00: 90.00 by Farid Nakamura, at 08:01; 105.00 were left by Odile Marchetti, Sat 21 Nov at ", news,
            StringComparison.Ordinal);
        Assert.Contains("short 15.00", Text(await visitor.Page($"{Tomorrow}/open"), ".drawers"), StringComparison.Ordinal);

        // A register whose float nobody wrote down begins with the standard one.
        Assert.Contains("but recorded no float", Text(await visitor.Page($"{Tomorrow}/open/BK"), ".voice"),
            StringComparison.Ordinal);
        // Accepting it takes over what was left.
        Assert.Equal(HttpStatusCode.Redirect, (await Leave(visitor, "SB-A", new() { ["p2000"] = "7" })).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect,
            (await visitor.Post($"{Tomorrow}/open/SB", new() { ["form"] = Guid.NewGuid().ToString(), ["accept"] = "true" })).StatusCode);
        Assert.Equal(140_00, (await View(22)).Day.Journal.OfType<Core.Journal.SessionOpen>().Single(o =>
            o.Register.Value == "SB").Float.Minor);
        Assert.DoesNotContain("Self-service B opened", Text(await visitor.Page($"{Tomorrow}/watch"), ".look"), StringComparison.Ordinal);
        Shop.Clock.SetUtcNow(new DateTimeOffset(2026, 11, 22, 8, 6, 0, TimeSpan.FromHours(-5)));
    }
}
