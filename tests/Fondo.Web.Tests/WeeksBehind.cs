using System.Globalization;
using Fondo.Core.Closing;
using Fondo.Core.Journal;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>The demo with closed days behind it.</summary>
public sealed class WeeksBehind : IDisposable
{
    private readonly Shop _shop = new() { Weeks = 1 };

    public void Dispose() => _shop.Dispose();

    [Fact]
    public async Task A_week_of_closed_days_hangs_together_and_leads_to_the_evening()
    {
        var visitor = await _shop.SignedIn();
        using var scope = _shop.Services.CreateScope();
        var closes = await scope.ServiceProvider.GetRequiredService<DayStore>().Closes();
        Assert.Equal(Enumerable.Range(1, 7), closes.Select(c => c.Number));
        Assert.Null(CloseChain.FirstBroken(closes));
        var documents = closes.Select(ClosingDesk.Read).ToList();
        Assert.Equal(Enumerable.Range(14, 7).Select(d => $"2026-11-{d}"), documents.Select(d => d.TradingDay));
        Assert.All(documents, d => Assert.All(d.Cells, c => Assert.Equal("proved", c.State)));
        Assert.Contains(documents.SelectMany(d => d.Cells), c => c.Variance is not (null or "0.00")); // cents, within tolerance

        // Numbers go on from Friday to Saturday without a gap.
        Assert.Empty(await scope.ServiceProvider.GetRequiredService<Numbering>().Missing(new(2026, 11, 21)));
        Assert.Equal(1, await _shop.InStore(async db =>
            await db.Events.Where(e => e.Day == new DateOnly(2026, 11, 21) && e.Register == "L2").MinAsync(e => e.Number) - await db.Events.Where(e => e.Day == new DateOnly(2026, 11, 20) && e.Register == "L2").MaxAsync(e => e.Number)));

        // What was left on Friday is what Saturday began with.
        Assert.Contains("The floats are as they should be", (await visitor.Page($"{Shop.Day}/open")).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        var friday = await scope.ServiceProvider.GetRequiredService<DayStore>().View(new(2026, 11, 20));
        Assert.Contains(friday!.Day.Counts, c => c.Kind == Core.Proof.CountKind.Kept && c.Cash.Minor == 200_00);

        // A ticket of another week is found, and its day is closed to every change.
        var old = await _shop.InStore(db => db.Events.Where(e => e.Day == new DateOnly(2026, 11, 16) && e.Kind == EventKind.Sale).OrderBy(e => e.Id).FirstAsync());
        Assert.Contains(old.Key, (await visitor.Page($"/find?q={old.Key}")).QuerySelector("#found")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("closed, no. 3", (await visitor.Page("/days")).Body!.TextContent, StringComparison.Ordinal);
        Assert.Equal(old.Amount, (long)(decimal.Parse((await visitor.Page($"/2026-11-16/ticket/{old.Key}")).QuerySelector(".total-line .n")!.TextContent, CultureInfo.InvariantCulture) * 100));
    }
}
