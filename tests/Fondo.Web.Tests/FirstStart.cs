using System.Net;
using Fondo.Web.Hosting;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>A store that nobody can sign in to yet, and its first day.</summary>
public sealed class FirstStart : IDisposable
{
    private readonly Shop _shop = new() { IsEmpty = true };

    public void Dispose() => _shop.Dispose();

    [Fact]
    public async Task The_first_two_people_need_the_code_of_the_console_and_take_the_first_day_in()
    {
        var visitor = _shop.Visit();
        using (var answer = await visitor.Get("/sign-in"))
        {
            Assert.Equal("/set-up", answer.Headers.Location!.ToString());
        }

        var code = _shop.Services.GetRequiredService<SetUpCode>().Value;
        Assert.Contains("This code is wrong", (await visitor.PostForPage("/set-up", Shop.FirstPeople("0", "2580"))).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("four to eight digits",
            (await visitor.PostForPage("/set-up", Shop.FirstPeople(code, "25"))).QuerySelector(".objection")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("counted up or down", (await visitor.PostForPage("/set-up", Shop.FirstPeople(code, "1234"))).Body!.TextContent,
            StringComparison.Ordinal);
        await visitor.Post("/set-up", Shop.FirstPeople(code, "2580"));
        using (var again = await visitor.Get("/set-up"))
        {
            Assert.Equal("/sign-in", again.Headers.Location!.ToString()); // it answers once
        }

        var supervisor = await _shop.SignedIn();
        Assert.Contains("No day has been imported yet", (await supervisor.Page("/days")).Body!.TextContent, StringComparison.Ordinal);
        var taken = await supervisor.Upload("/take-in", ("day.zip", Shop.Made.ToZip()));
        // Its counts are of people who do not sign in yet: the second one of the two answers for them.
        Assert.Contains("other people’s counts", taken.QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
        await supervisor.AgreeToFiles();
        // Of the bag that nobody recorded, the drawer is a cell and the bag is one.
        Assert.Contains($"{Shop.Off + 1} cells are off",
            (await supervisor.Page($"{Shop.Day}/board")).QuerySelector(".look-first")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Wrong_codes_from_elsewhere_keep_nobody_out()
    {
        await using var shop = new Shop { IsEmpty = true };
        var code = shop.Services.GetRequiredService<SetUpCode>().Value;
        for (var n = 0; n < 25; n++)
        {
            await shop.Visit("10.0.0.9").PostForPage("/set-up", Shop.FirstPeople("0000 0000"));
        }

        Assert.Contains("Too many wrong codes from here",
            (await shop.Visit("10.0.0.9").PostForPage("/set-up", Shop.FirstPeople(code))).Body!.TextContent, StringComparison.Ordinal);
        using var opened = await shop.Visit().Post("/set-up", Shop.FirstPeople(code));
        Assert.Equal(HttpStatusCode.Redirect, opened.StatusCode);
    }
}
