using Fondo.Store.Model;
using Fondo.Store.Trails;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Somebody who has the file of the database in hands changes a cell of it, takes a row out, or puts one in: the verification
/// names it, whatever table it is.</summary>
public sealed class ChangedBesideTheTrail : InOwnShop
{
    /// <summary>Tables and columns that may change without a word, each with the reason.</summary>
    private static readonly Dictionary<string, string[]> _free = new()
    {
        ["CountDrafts"] = [], // what is typed and not handed in
        ["PinTries"] = [], // waits after wrong PINs
        ["Sessions"] = [], // ended by themselves; their tickets are encrypted with the store's key
        ["OpenIntakes"] = [], // half-written files, purged at the next start
        ["MailAttempts"] = [], // what the mail server said; the trail has what was sent
        ["Mails"] = [], // copies of documents on their way
        ["AspNetUserClaims"] = [],
        ["AspNetUserLogins"] = [],
        ["AspNetUserTokens"] = [],
        ["__EFMigrationsHistory"] = [],
        ["__EFMigrationsLock"] = [],
        ["sqlite_sequence"] = [],
        // A number that only grows; and what the identity library keeps for doors that Fondo does not have.
        ["Days"] = ["Revision"],
        ["CustomerMovements"] = ["Number"], // the order in which they were written down
        ["AspNetUsers"] = ["UserName", "NormalizedUserName", "Email", "NormalizedEmail", "EmailConfirmed", "SecurityStamp",
            "ConcurrencyStamp", "PhoneNumber", "PhoneNumberConfirmed", "TwoFactorEnabled", "LockoutEnd", "LockoutEnabled",
            "AccessFailedCount"],
    };

    private static readonly int _seed = Environment.TickCount & 0xFFFF;

    [Fact]
    public async Task Every_table_is_watched()
    {
        TestContext.Current.TestOutputHelper?.WriteLine($"seed {_seed}");
        await MuchIsDone();
        Assert.Null((await Shop.Ask((Verification v) => v.Run())).Break);
        await Shop.Tamper(_ => Task.FromResult(0));
        var (copied, untouched) = (await Copied(), new List<string>());
        await Try("nothing changed", copied, "SELECT 1", untouched);
        Assert.Equal(["nothing changed"], untouched);
        var (random, unseen) = (new Random(_seed), new List<string>());
        foreach (var (table, columns) in await Tables())
        {
            var changeable = columns.Except(_free.GetValueOrDefault(table, [])).ToList();
            foreach (var column in changeable.OrderBy(_ => random.Next()).Take(3))
            {
                await Try($"{table}.{column} changed", copied,
                    $"UPDATE {table} SET \"{column}\" = {Other(table, column)} WHERE rowid = {Row(table)}", unseen);
            }

            await Try($"a row of {table} taken out", copied, $"DELETE FROM {table} WHERE rowid = {Row(table)}", unseen);
        }

        Assert.True(unseen.Count == 0, $"seed {_seed}: {string.Join("; ", unseen)}");
    }

    [Fact]
    public async Task Whoever_makes_themselves_a_manager_in_the_database_is_named()
    {
        await MuchIsDone();
        await Shop.Tamper(db => db.Database.ExecuteSqlRawAsync("UPDATE AspNetUsers SET Role = 'manager' WHERE PersonId = 'p15'"));
        var broken = (await Shop.Ask((Verification v) => v.Run())).Break;
        Assert.Contains("AspNetUsers", broken, StringComparison.Ordinal);
        Assert.Contains("was changed", broken, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_revocation_that_was_taken_back_is_named()
    {
        await MuchIsDone();
        await Shop.Tamper(db => db.Database.ExecuteSqlRawAsync("UPDATE RegisterKeys SET RevokedAt = NULL, RevokedBy = NULL"));
        Assert.Contains("set back", (await Shop.Ask((Verification v) => v.Run())).Break, StringComparison.Ordinal);
    }

    /// <summary>The database as it is, copied to where the running application does not write.</summary>
    private async Task<byte[]> Copied() => await Shop.InStore(async db =>
    {
        var file = Path.Combine(Directory.CreateDirectory(Elsewhere).FullName, "copied.db");
        await db.Database.OpenConnectionAsync();
        await using (var copy = new SqliteConnection(Unpooled(file)))
        {
            ((SqliteConnection)db.Database.GetDbConnection()).BackupDatabase(copy);
        }

        return await File.ReadAllBytesAsync(file);
    });

    /// <summary>Changes a copy, and verifies it.</summary>
    private async Task Try(string what, byte[] copied, string statement, List<string> unseen)
    {
        var file = Path.Combine(Elsewhere, $"{Guid.NewGuid():N}.db");
        await File.WriteAllBytesAsync(file, copied);
        await Shop.InStore(async db =>
        {
            db.Database.SetConnectionString(Unpooled(file));
            await db.Database.OpenConnectionAsync();
            await db.Database.ExecuteSqlRawAsync("PRAGMA foreign_keys = OFF");
            return await db.Database.ExecuteSqlRawAsync(statement);
        });
        try
        {
            if (await Broken(file) is null)
            {
                unseen.Add(what);
            }
        }
        catch (Exception e) when (e is SqliteException or InvalidOperationException or FormatException or ArgumentException
            or KeyNotFoundException)
        {
            // It does not even read: nobody takes that for sound.
        }

        File.Delete(file);
    }

    private async Task<string?> Broken(string file)
    {
        await using var scope = Shop.Services.CreateAsyncScope();
        scope.ServiceProvider.GetRequiredService<StoreContext>().Database.SetConnectionString(Unpooled(file));
        return (await scope.ServiceProvider.GetRequiredService<Verification>().Run()).Break;
    }

    private string Elsewhere => Path.Combine(Shop.Folder, "elsewhere");

    private static string Unpooled(string file) =>
        new SqliteConnectionStringBuilder { DataSource = file, Pooling = false }.ConnectionString;

    /// <summary>Acts of many kinds, so that many tables have a row.</summary>
    private async Task MuchIsDone()
    {
        var (odile, path) = (await Shop.SignedIn(), $"{Shop.Day}/cell/L2/L2-A/cash");
        await odile.Post($"{path}?handler=Entry",
            new() { ["Id"] = Guid.NewGuid().ToString(), ["Kind"] = "Accept", ["Amount"] = "30.00", ["Reason"] = "not found" }, path);
        var entry = await Shop.InStore(db => db.Entries.Select(e => e.Id).SingleAsync());
        await odile.Post($"{path}?handler=Approve", new() { ["entry"] = entry.ToString(), ["approver"] = "p02", ["pin"] = "7410" }, path);
        await odile.Post($"{Shop.Day}/count/L4-A", new() { ["form"] = Guid.NewGuid().ToString(), ["attempt"] = "1", ["p2000"] = "3" });
        await odile.Post("/store?handler=Key", new() { ["register"] = "L1", ["second"] = "p02", ["second-pin"] = "7410" }, "/store");
        var key = await Shop.InStore(db => db.RegisterKeys.OrderBy(k => k.MadeAt).Select(k => k.Id).FirstAsync());
        await odile.Post("/store?handler=Revoke", new() { ["id"] = key.ToString() }, "/store");
        await odile.Upload($"{Shop.Day}/take-in",
            ("lane 2.jsonl",
                System.Text.Encoding.UTF8.GetBytes(
                    """{"id":"L2-990001","register":"L2","drawer":"L2-A","cashier":"p13","at":"2026-11-21T17:30:00-05:00","kind":"paid-out","amount":"300.00","reason":"supplies"}""")));
        await odile.AgreeToFiles();
    }

    private Task<List<(string Table, List<string> Columns)>> Tables() => Shop.InStore(async db =>
    {
        var tables = new List<(string, List<string>)>();
        foreach (var table
            in await db.Database.SqlQuery<string>($"SELECT name AS Value FROM sqlite_master WHERE type = 'table' ORDER BY name")
                .ToListAsync())
        {
            var isFree = _free.TryGetValue(table, out var free) && free.Length == 0;
            var count = $"SELECT COUNT(*) AS Value FROM \"{table}\"";
            if (!isFree && (await db.Database.SqlQueryRaw<long>(count).ToListAsync())[0] > 0)
            {
                tables.Add((table, await db.Database.SqlQuery<string>($"SELECT name AS Value FROM pragma_table_info({table})")
                    .ToListAsync()));
            }
        }

        return tables;
    });

    private static string Row(string table) => $"(SELECT MAX(rowid) FROM {table})";

    /// <summary>Something else of the same kind: yes becomes no, a number the next one, a text a longer one.</summary>
    private static string Other(string table, string column)
    {
        var value = $"(SELECT \"{column}\" FROM {table} WHERE rowid = {Row(table)})";
        return $"CASE WHEN {value} IN (0, 1) AND typeof({value}) = 'integer' THEN 1 - {value} WHEN typeof({value}) = 'integer' THEN "
            + $"{value} + 1 WHEN {value} IS NULL THEN '7' ELSE {value} || '7' END";
    }
}
