using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using Fondo.Standins.Days;
using Fondo.Store.Intake;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>A large file is written in steps between which others write, and is there whole or not at all.</summary>
public sealed class InSteps : IDisposable
{
    private static readonly MadeDay _large = DayMaker.Make(77, 12, 14_000);

    private readonly Shop _shop = new();

    public void Dispose() => _shop.Dispose();

    private static byte[] OfDay(string date)
    {
        // The same day under another date and with other ids, so that it contradicts nothing.
        using var zipped = new MemoryStream();
        using (var zip = new System.IO.Compression.ZipArchive(zipped, System.IO.Compression.ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (name, text) in _large.Files.Where(f => f.Key != Files.DayFiles.Counts))
            {
                using var writer = new StreamWriter(zip.CreateEntry(name).Open());
                var moved = text.Replace("2026-11-22T", "2026-12-06T", StringComparison.Ordinal)
                    .Replace("2026-11-21", date, StringComparison.Ordinal);
                writer.Write(Regex.Replace(moved, "\"(id|original)\":\"([A-Z0-9]+-[0-9]{6})", "\"$1\":\"Z$2"));
            }
        }

        return zipped.ToArray();
    }

    [Fact]
    public async Task Others_write_meanwhile_nobody_sees_a_part_of_it_and_then_all_of_it_is_there()
    {
        await _shop.SetUpFrom(new(2026, 12, 5), _large.Files[Files.DayFiles.Setup]);
        var supervisor = await _shop.SignedIn();
        var (writer, watcher) = (await _shop.Cashier(), await _shop.SignedIn());
        var taking = Task.Run(() => supervisor.Upload("/take-in", ("day.zip", OfDay("2026-12-05"))), TestContext.Current.CancellationToken);
        var (drafts, inSteps, seen) = (0, false, new HashSet<HttpStatusCode>());
        while (!taking.IsCompleted)
        {
            inSteps |= await _shop.InStore(db => db.OpenIntakes.AnyAsync());
            using var saved = await writer.Post($"{Shop.Day}/count/L4-A?handler=Draft",
                new() { ["attempt"] = "1", ["p2000"] = $"{++drafts}" }, $"{Shop.Day}/count/L4-A");
            Assert.Equal(HttpStatusCode.OK, saved.StatusCode);
            using var board = await watcher.Get("/2026-12-05/board");
            seen.Add(board.StatusCode);
            var records = await _shop.InStore(db => db.Records.CountAsync(r => r.Day == new DateOnly(2026, 12, 5)));
            Assert.True(records == 0 || records > StagedRecords.Many, $"{records} of a file are seen");
        }

        var says = (await taking).QuerySelector("main")!.TextContent;
        Assert.True(says.Contains("Imported:", StringComparison.Ordinal), says[^Math.Min(600, says.Length)..]);
        Assert.True(inSteps && drafts > 1, $"{drafts} drafts were saved meanwhile");
        Assert.All(seen, s => Assert.True(s is HttpStatusCode.NotFound or HttpStatusCode.OK, $"{s}"));
        Assert.False(await _shop.InStore(db => db.OpenIntakes.AnyAsync()));
        Assert.Empty(await _shop.InStore(db => db.Database.SqlQuery<string>($"SELECT \"table\" AS Value FROM pragma_foreign_key_check")
            .ToListAsync()));
        await watcher.Page("/2026-12-05/board");
        Assert.Null((await _shop.Ask<Verification, Verified>(v => v.Run())).Break);
        Assert.Contains("already imported", (await supervisor.Upload("/take-in", ("day.zip", OfDay("2026-12-05")))).Body!.TextContent,
            StringComparison.Ordinal);
    }

    /// <summary>As a start finds it after a kill in the middle of such a file.</summary>
    private Task<int> HalfWritten(string key) => _shop.InStore(async db =>
    {
        var next = await db.Records.MaxAsync(r => r.Id) + 1;
        await db.Database.ExecuteSqlAsync(
            $"INSERT INTO OpenIntakes (Day, First, Last, By, At) VALUES ('2026-11-21', {next}, {next + 9}, 'p01', 1)");
        await db.Database.ExecuteSqlAsync($$"""
            INSERT INTO Records (Id, Day, Kind, Key, Version, Json, Line, TakenAt, TakenBy)
            VALUES ({{next}}, '2026-11-21', 'event', {{key}}, 1, '{}', 1, 1, 'p01')
            """);
        return await db.Database.ExecuteSqlAsync(
            $"INSERT INTO Events (Id, Day, Key, Register, Kind, At) VALUES ({next}, '2026-11-21', {key}, 'L1', 'no-sale', 1)");
    });

    [Fact]
    public async Task What_was_never_published_is_seen_by_nobody_and_goes_at_the_next_start()
    {
        await _shop.SignedIn();
        await HalfWritten("L1-999001");
        Assert.False(await _shop.InStore(db => db.Records.AnyAsync(r => r.Key == "L1-999001")));
        Assert.DoesNotContain("L1-999001",
            (await (await _shop.SignedIn()).Page("/find?q=L1-999001")).QuerySelector("tbody")?.TextContent ?? "", StringComparison.Ordinal);
        Assert.Null((await _shop.Ask<Verification, Verified>(v => v.Run())).Break);
        await _shop.InStore(async db =>
        {
            await StagedRecords.Purge(db);
            return db;
        });
        Assert.False(await _shop.InStore(db => db.Records.IgnoreQueryFilters().AnyAsync(r => r.Key == "L1-999001")));
        Assert.False(await _shop.InStore(db => db.Events.IgnoreQueryFilters().AnyAsync(e => e.Key == "L1-999001")));
        Assert.Null((await _shop.Ask<Verification, Verified>(v => v.Run())).Break);
    }

    [Fact]
    public async Task A_register_that_sends_what_a_file_is_bringing_sends_it_again_a_little_later()
    {
        await _shop.SignedIn();
        await HalfWritten("L1-999002");
        const string Event =
            """{"id":"L1-999002","register":"L1","drawer":"L1-A","cashier":"p11","at":"2026-11-21T12:00:00-05:00","kind":"no-sale"}""";
        using var register = await _shop.Register("L1");
        using (var later = await register.PostAsync("/api/registers/L1/journal",
            new StringContent(Event, Encoding.UTF8, "application/jsonl"), TestContext.Current.CancellationToken))
        {
            Assert.Equal(HttpStatusCode.ServiceUnavailable, later.StatusCode);
        }

        await _shop.InStore(async db =>
        {
            await StagedRecords.Purge(db);
            return db;
        });
        Assert.Equal(1, (await Shop.Send(register, "L1", Event)).Taken);
    }
}
