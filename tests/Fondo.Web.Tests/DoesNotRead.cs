using System.Net;
using Fondo.Files.Reading;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>The second line of defence: a stored record that does not read, however that came, is named, and the day goes on without
/// it.</summary>
public sealed class DoesNotRead : IDisposable
{
    private static readonly DateOnly _day = new(2026, 11, 21);

    private readonly Shop _shop = new();

    public void Dispose() => _shop.Dispose();

    /// <summary>Damages a stored event, past every door.</summary>
    private Task<string> Damage(string part, string by) => _shop.Tamper(async db =>
    {
        var record = await db.Records.Where(r => r.Day == _day && r.Kind == RecordKind.Event && r.Json.Contains(part)).OrderBy(r => r.Key)
            .FirstAsync();
        await db.Records.Where(r => r.Id == record.Id).ExecuteUpdateAsync(s => s.SetProperty(r => r.Json, r => r.Json.Replace(part, by)));
        await db.Days.Where(d => d.Date == _day).ExecuteUpdateAsync(s => s.SetProperty(d => d.Revision, d => d.Revision + 1));
        return record.Key;
    });

    [Theory]
    [InlineData("\"kind\":\"sale\"", "\"kind\":\"song\"", "kind is")]
    [InlineData("\"at\":\"2026-11-21T", "\"at\":\"0001-11-21T", "0001-11-21")]
    [InlineData("\"kind\":\"no-sale\"", "\"kind\":\"no-sale\",\"kind\":\"void\"", "kind")]
    [InlineData("\"kind\":\"drop\"", "\"kind\":", "JSON")]
    public async Task A_supervisor_sets_the_record_aside_and_the_day_shows(string part, string by, string why)
    {
        var key = await Damage(part, by);
        var (supervisor, cashier) = (await _shop.SignedIn(), await _shop.Cashier());
        foreach (var path in new[] { "board", "watch", "journal", "close", "count", "cell/L4/L4-A/cash", "drawer/L1-A", $"ticket/{key}" })
        {
            using var answer = await supervisor.Get($"{Shop.Day}/{path}");
            Assert.Equal(("/unreadable/2026-11-21", HttpStatusCode.Redirect), (answer.Headers.Location?.ToString(), answer.StatusCode));
        }

        var page = await supervisor.Page("/unreadable/2026-11-21");
        Assert.Contains($"Event {key}", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains(why, page.QuerySelector(".slips .meta")!.TextContent, StringComparison.Ordinal);
        Assert.Empty((await cashier.Page("/unreadable/2026-11-21")).QuerySelectorAll("main form"));
        Dictionary<string, string> This() => new() { ["kind"] = "event", ["key"] = key };
        using (var refused = await cashier.Post("/unreadable/2026-11-21", This(), "/sign-in"))
        {
            Assert.StartsWith("/trouble", refused.Headers.Location!.PathAndQuery, StringComparison.Ordinal);
        }

        using (var done = await supervisor.Post("/unreadable/2026-11-21", This()))
        {
            Assert.Equal("/2026-11-21/board", done.Headers.Location!.ToString());
        }

        await supervisor.Page($"{Shop.Day}/board");
        // Nothing is lost: it waits for a person, with what it held.
        Assert.Contains(key, (await supervisor.Page($"{Shop.Day}/take-in")).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains(by, await _shop.InStore(db => db.Aside.Where(a => a.Key == key).Select(a => a.Json).SingleAsync()),
            StringComparison.Ordinal);
        // Somebody who comes to it a second time is told so.
        using var late = await supervisor.Post("/unreadable/2026-11-21", This(), "/days");
        Assert.Equal(HttpStatusCode.Redirect, late.StatusCode);
    }

    [Fact]
    public async Task A_set_up_that_does_not_read_is_named_and_other_days_go_on()
    {
        await _shop.Tamper(async db =>
        {
            await db.Setups.ExecuteUpdateAsync(s => s.SetProperty(x => x.Json, x => x.Json.Replace("\"USD\"", "\"usd?\"")));
            await db.Records.Where(r => r.Kind == RecordKind.Setup)
                .ExecuteUpdateAsync(s => s.SetProperty(x => x.Json, x => x.Json.Replace("\"USD\"", "\"usd?\"")));
            await db.Days.ExecuteUpdateAsync(s => s.SetProperty(d => d.Revision, d => d.Revision + 1));
            return 0;
        });
        var supervisor = await _shop.SignedIn();
        using var answer = await supervisor.Get($"{Shop.Day}/board");
        Assert.True("/unreadable/2026-11-21" == answer.Headers.Location?.ToString(),
            $"{answer.StatusCode} " + await answer.Content.ReadAsStringAsync());
        Assert.Contains("The set-up of this day", (await supervisor.Page("/unreadable/2026-11-21")).Body!.TextContent,
            StringComparison.Ordinal);
        await supervisor.Page("/days");
        await supervisor.Page("/store");
    }
}
