using Fondo.Core.Entries;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>A view of a day is kept while nothing was written that it could be another for, and not a moment longer.</summary>
public sealed class SeenOnce : IAsyncLifetime
{
    private readonly Shop _shop = new();
    private static readonly DateOnly _day = new(2026, 11, 21);

    public async ValueTask InitializeAsync() => await _shop.InitializeAsync();

    public async ValueTask DisposeAsync() => await _shop.DisposeAsync();

    private async Task<DayView> View() => (await _shop.Ask<DayStore, DayView?>(d => d.View(_day)))!;

    [Fact]
    public async Task It_is_the_same_until_something_is_written()
    {
        var view = await View();
        Assert.Same(view, await View());
        var off = view.Unresolved.First(b => b.Left is { IsZero: false });
        var id = Guid.NewGuid();
        await _shop.Ask<Resolving, Store.Outcome>(r =>
            r.Add(_day, id, [new(EntryKind.Accept, [new(off.Cell.Key, off.Left!.Value)], null, "so it was", [])], Shop.Odile));
        var after = await View();
        Assert.NotSame(view, after);
        Assert.NotNull(after.Find(id));
        Assert.Same(after, await View());
        await _shop.Ask<Resolving, Store.Outcome>(r => r.Approve(_day, id, Shop.Tamsin));
        Assert.True((await View()).Bridges[off.Cell.Key].IsExplained);
    }

    /// <summary>Within a transaction a view sees what nobody else sees yet; what is taken back was never seen.</summary>
    [Fact]
    public async Task What_is_not_committed_is_seen_by_nobody_else()
    {
        var view = await View();
        using (var scope = _shop.Services.CreateScope())
        {
            var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
            await using var transaction = await db.BeginWriting(TestContext.Current.CancellationToken);
            db.Excuses.Add(new()
            {
                Day = _day,
                Gate = Core.Closing.GateId.Batches,
                Item = "T-01",
                Seen = "x",
                Reason = "why",
                By = "p01",
                At = DateTimeOffset.UnixEpoch
            });
            await db.SaveChangesAsync(TestContext.Current.CancellationToken);
            Assert.Contains((await scope.ServiceProvider.GetRequiredService<DayStore>().View(_day))!.Excuses,
                e => e.Item == "T-01" && e.Reason == "why");
            Assert.Same(view, await View());
        }

        Assert.DoesNotContain((await View()).Excuses, e => e.Reason == "why");
    }

    /// <summary>A transaction that somebody else began counts all the same, and so does a count of the day before.</summary>
    [Fact]
    public async Task Whoever_commits_is_heard()
    {
        var view = await View();
        using var scope = _shop.Services.CreateScope();
        var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
        await using (var transaction = await db.Database.BeginTransactionAsync(TestContext.Current.CancellationToken))
        {
            db.Excuses.Add(new()
            {
                Day = _day,
                Gate = Core.Closing.GateId.Batches,
                Item = "T-02",
                Seen = "x",
                Reason = "why",
                By = "p01",
                At = DateTimeOffset.UnixEpoch
            });
            await db.SaveChangesAsync(TestContext.Current.CancellationToken);
            await transaction.CommitAsync(TestContext.Current.CancellationToken);
        }

        var after = await View();
        Assert.NotSame(view, after);
        Assert.Contains(after.Excuses, e => e.Item == "T-02");
    }

    /// <summary>Days are kept by their size: of four hundred days as many as the budget has room for, the last ones; a day larger than all
    /// of it is kept alone.</summary>
    [Fact]
    public async Task As_many_days_are_kept_as_there_is_room_for()
    {
        var known = (await View()).Known;
        var size = 200 + known.Overview.Result.Day.Journal.Length + known.Overview.Result.Day.Rows!.Value.Length;
        var cache = new DayCache(size * 5);
        for (var day = 0; day < 400; day++)
        {
            cache.Assembly(_day.AddDays(day));
            cache.Keep(_day.AddDays(day), known);
            Assert.NotNull(cache.Find(_day)); // asked for all the time, so it stays
        }

        Assert.Equal((5, size * 5), cache.Holds);
        Assert.NotNull(cache.Find(_day.AddDays(399)));
        Assert.Null(cache.Find(_day.AddDays(200)));
        var small = new DayCache(1);
        small.Keep(_day, known);
        small.Keep(_day.AddDays(1), known);
        Assert.Equal(1, small.Holds.Days);
        Assert.NotNull(small.Find(_day.AddDays(1)));
    }
}
