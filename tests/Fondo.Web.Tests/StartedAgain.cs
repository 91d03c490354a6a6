using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace Fondo.Web.Tests;

/// <summary>A start finishes, or begins again, what an earlier one that was killed has left.</summary>
public sealed class StartedAgain
{
    private static StoreContext Open(string folder)
    {
        var options = new DbContextOptionsBuilder<StoreContext>();
        StoreContext.Configure(options, $"Data Source={Path.Combine(folder, "fondo.db")};Pooling=False");
        return new(options.Options);
    }

    [Fact]
    public async Task A_demo_that_was_not_made_to_its_end_is_made_afresh()
    {
        using var shop = new Shop();
        await using (var half = Open(shop.Folder))
        {
            await half.Database.MigrateAsync(TestContext.Current.CancellationToken);
        }

        await File.WriteAllTextAsync(Path.Combine(shop.Folder, ".demo-making"), "", TestContext.Current.CancellationToken);
        await File.WriteAllTextAsync(Path.Combine(shop.Folder, "fondo.db.next"), "half a database", TestContext.Current.CancellationToken);
        await (await shop.SignedIn()).Page($"{Shop.Day}/board");
        Assert.False(File.Exists(Path.Combine(shop.Folder, ".demo-making")));
        Assert.False(File.Exists(Path.Combine(shop.Folder, "fondo.db.next")));
    }

    /// <summary>A database of the version before, with a day in it, and the lock of a start that was killed.</summary>
    [Fact]
    public async Task What_an_earlier_version_kept_is_brought_along_and_a_stale_lock_holds_nobody_up()
    {
        using var shop = new Shop { IsEmpty = true };
        await using (var old = Open(shop.Folder))
        {
            await old.GetService<IMigrator>().MigrateAsync("Intake", TestContext.Current.CancellationToken);
            await old.Database.ExecuteSqlRawAsync(
                "INSERT INTO Days (Date, Store, Revision, HasRows, HasLedger) VALUES ('2026-11-20', 'Mossgate Market Hall', 1, 0, 0)",
                TestContext.Current.CancellationToken);
            await old.Database.ExecuteSqlRawAsync(
                "INSERT INTO Records (Id, Day, Kind, Key, Version, Json, TakenAt, TakenBy) VALUES (1, '2026-11-20', 0, '2026-11-20', 1, "
                    + "{0}, '2026-11-20 12:00:00+00:00', 'p01')",
                [Shop.Made.Files["day.json"].Replace("2026-11-21", "2026-11-20", StringComparison.Ordinal)],
                TestContext.Current.CancellationToken);
            await old.Database.ExecuteSqlRawAsync(
                "CREATE TABLE IF NOT EXISTS __EFMigrationsLock (Id INTEGER NOT NULL PRIMARY KEY, Timestamp TEXT NOT NULL)",
                TestContext.Current.CancellationToken);
            await old.Database.ExecuteSqlRawAsync("INSERT OR REPLACE INTO __EFMigrationsLock VALUES (1, '2026-11-20')",
                TestContext.Current.CancellationToken);
        }

        Assert.Equal(RecordName, await shop.InStore(db => db.Database.SqlQuery<string>($"SELECT Kind AS Value FROM Records")
            .SingleAsync()));
        Assert.NotNull(await shop.InStore(db => db.Days.SingleAsync()));
        Assert.Empty(await shop.InStore(async db => (await db.Database.GetPendingMigrationsAsync()).ToList()));
        Assert.Equal(0, await shop.InStore(db => db.Database.SqlQuery<int>($"SELECT COUNT(*) AS Value FROM __EFMigrationsLock")
            .SingleAsync()));
    }

    private const string RecordName = "setup";
}
