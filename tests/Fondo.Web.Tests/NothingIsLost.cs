using System.Net;
using System.Text.Json.Nodes;
using Fondo.Keeper;
using Fondo.Store.Keeping;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Fondo.Web.Hosting;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>A dead disk takes nothing with it: backups while it runs, by themselves, checked; and the way back.</summary>
public sealed class NothingIsLost : IDisposable
{
    private readonly Shop _shop = new();
    private readonly string _elsewhere = Directory.CreateTempSubdirectory("fondo-backup-").FullName;

    public void Dispose()
    {
        _shop.Dispose();
        Directory.Delete(_elsewhere, recursive: true);
    }

    private string File1 => Path.Combine(_elsewhere, "one.db");

    private string Database => Path.Combine(_shop.Folder, "fondo.db");

    private static readonly DateTimeOffset _now = new(2026, 11, 21, 23, 0, 0, TimeSpan.Zero);

    private static StoreContext Open(string file)
    {
        var options = new DbContextOptionsBuilder<StoreContext>();
        StoreContext.Configure(options, $"Data Source={file};Pooling=False");
        return new(options.Options);
    }

    [Fact]
    public async Task A_backup_under_a_running_day_holds_everything_that_was_answered_before_it()
    {
        var supervisor = await _shop.SignedIn();
        var counts = 0;
        using var stop = new CancellationTokenSource();
        var work = Task.Run(
            async () =>
            {
                while (!stop.IsCancellationRequested)
                {
                    using var answer = await supervisor.Post($"{Shop.Day}/count/L4-A",
                        new()
                        {
                            ["form"] = Guid.NewGuid().ToString(),
                            ["attempt"] = $"{counts + 1}",
                            ["p2000"] = $"{counts + 1}",
                            ["reason"] = "again"
                        });
                    counts += answer.StatusCode == HttpStatusCode.Redirect ? 1 : 0;
                }
            },
            TestContext.Current.CancellationToken);
        while (counts < 3)
        {
            await Task.Delay(20, TestContext.Current.CancellationToken);
        }

        var before = counts;
        var note = await Backup.Make(Database, File1, _now);
        await stop.CancelAsync();
        await work;
        Assert.True(counts > 0);
        await using (var copy = Open(File1))
        {
            Assert.InRange(await copy.Records.CountAsync(r => r.Key.StartsWith("c-"), TestContext.Current.CancellationToken), before,
                counts);
            Assert.Equal(note.Head, await copy.Trail.Where(t => t.Number == note.Line).Select(t => t.Hash)
                .SingleAsync(TestContext.Current.CancellationToken));
        }

        // The trail of the running store holds the line that the backup carries.
        Assert.Null((await _shop.Ask<Verification, Verified>(v => v.Run(note.Head))).Break);
    }

    [Fact]
    public async Task It_is_restored_into_an_empty_folder_and_verifies()
    {
        await _shop.SignedIn();
        var note = await Backup.Make(Database, File1, _now);
        using var other = new Shop { IsEmpty = true };
        var (objection, kept) = await Backup.Restore(File1, Path.Combine(other.Folder, "fondo.db"), _now);
        Assert.Equal((null, null), (objection, kept));
        Assert.Null((await other.Ask<Verification, Verified>(v => v.Run(note.Head))).Break);
        await (await other.SignedIn()).Page($"{Shop.Day}/board");
    }

    [Fact]
    public async Task What_a_command_backs_up_or_restores_is_in_the_trail()
    {
        await _shop.SignedIn();
        var (output, error) = (new StringWriter(), new StringWriter());
        Assert.Equal(0, await BackupCommands.Backup(["--data", _shop.Folder, "--to", File1], output, error));
        var line = await _shop.InStore(db => db.Trail.OrderBy(t => t.Number).LastAsync());
        Assert.Equal((TrailAct.Backup, Path.GetFileName(File1)), (line.Act, line.On));
        Assert.Contains($"by command of {Environment.UserName}", line.Says, StringComparison.Ordinal);
        Assert.Null((await _shop.Ask<Verification, Verified>(v => v.Run())).Break);

        var folder = Path.Combine(_elsewhere, "restored");
        Assert.Equal(0, await BackupCommands.Restore(["--data", folder, "--from", File1], output, error));
        await using (var restored = Open(Path.Combine(folder, "fondo.db")))
        {
            line = await restored.Trail.OrderBy(t => t.Number).LastAsync(TestContext.Current.CancellationToken);
            Assert.Equal((TrailAct.Restore, Path.GetFileName(File1)), (line.Act, line.On));
        }

        Assert.Equal(0, await VerifyCommand.Run(["--data", folder], output, error));
        Assert.Empty(error.ToString());
    }

    [Fact]
    public async Task What_was_there_is_kept_and_what_is_damaged_is_refused()
    {
        await _shop.SignedIn();
        await Backup.Make(Database, File1, _now);
        var place = Path.Combine(_elsewhere, "place.db");
        await File.WriteAllTextAsync(place, "what was there", TestContext.Current.CancellationToken);
        var bytes = await File.ReadAllBytesAsync(File1, TestContext.Current.CancellationToken);
        foreach (var (name, damaged) in new (string, byte[])[]
        {
            ("nothing", []),
            ("text", "a text"u8.ToArray()),
            ("cut off", bytes[..(bytes.Length / 2)]),
            ("a page of noise", [.. bytes[..8192], .. Enumerable.Repeat((byte)0xA5, 4096), .. bytes[12288..]]),
        })
        {
            var file = Path.Combine(_elsewhere, "damaged.db");
            await File.WriteAllBytesAsync(file, damaged, TestContext.Current.CancellationToken);
            var (why, none) = await Backup.Restore(file, place, _now);
            Assert.True(why is not null && none is null, name);
            Assert.Equal("what was there", await File.ReadAllTextAsync(place, TestContext.Current.CancellationToken));
        }

        Assert.Contains("is not there", (await Backup.Restore(Path.Combine(_elsewhere, "none.db"), place, _now)).Objection,
            StringComparison.Ordinal);
        var (objection, kept) = await Backup.Restore(File1, place, _now);
        Assert.Null(objection);
        Assert.Equal("what was there", await File.ReadAllTextAsync(kept!, TestContext.Current.CancellationToken));
        Assert.Equal(bytes.Length, new FileInfo(place).Length);
    }

    [Fact]
    public async Task A_newer_database_is_refused_by_an_older_program_with_a_sentence()
    {
        await _shop.SignedIn();
        await Backup.Make(Database, File1, _now);
        await using (var copy = Open(File1))
        {
            await copy.Database.ExecuteSqlRawAsync("INSERT INTO __EFMigrationsHistory VALUES ('99991231235959_Tomorrow', '10.0.0')",
                TestContext.Current.CancellationToken);
            var folder = new DataFolder(new(_elsewhere, false, true, 0, null));
            File.Copy(File1, Path.Combine(_elsewhere, "fondo.db"));
            await using var db = Open(Path.Combine(_elsewhere, "fondo.db"));
            var refused = await Assert.ThrowsAsync<NewerDatabaseException>(() => folder.Migrate(db));
            Assert.Contains("newer version of Fondo", refused.Message, StringComparison.Ordinal);
        }

        Assert.Contains("newer version of Fondo", (await Backup.Restore(File1, Path.Combine(_elsewhere, "x.db"), _now)).Objection,
            StringComparison.Ordinal);
    }

    /// <summary>A byte of an amount flipped leaves a sound database; its note says that it is another one.</summary>
    [Fact]
    public async Task A_backup_that_does_not_fit_its_note_is_not_restored()
    {
        await _shop.SignedIn();
        await Backup.Make(Database, File1, _now);
        var place = Path.Combine(_elsewhere, "fondo.db");
        await using (var changed = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={File1};Pooling=False"))
        {
            await changed.OpenAsync(TestContext.Current.CancellationToken);
            await using var flip = changed.CreateCommand();
            flip.CommandText = "UPDATE AspNetUsers SET Name = Name || '.'";
            await flip.ExecuteNonQueryAsync(TestContext.Current.CancellationToken);
        }

        Assert.Contains("does not match its note", (await Backup.Restore(File1, place, _now)).Objection,
            StringComparison.Ordinal);
        Assert.False(File.Exists(place));
        await File.WriteAllTextAsync(Backup.NoteOf(File1), "{", TestContext.Current.CancellationToken);
        Assert.Contains("cannot be read", (await Backup.Restore(File1, place, _now)).Objection, StringComparison.Ordinal);
        File.Delete(Backup.NoteOf(File1));
        Assert.Null((await Backup.Restore(File1, place, _now)).Objection);
    }

    /// <summary>A restore that was killed between its steps: there is a database at every moment, or a start says what lies there and
    /// begins nothing.</summary>
    [Theory]
    [InlineData("fondo.db.part")]
    [InlineData("fondo.db.before-20261121-214200")]
    public async Task A_start_beside_a_broken_restore_begins_nothing_anew(string left)
    {
        var folder = Directory.CreateTempSubdirectory("fondo-broken-").FullName;
        await File.WriteAllTextAsync(Path.Combine(folder, left), "x", TestContext.Current.CancellationToken);
        Assert.Equal([left], Backup.LeftBeside(Path.Combine(folder, "fondo.db")));
        using var data = new Hosting.DataFolder(new Hosting.RunOptions(folder, false, true, 0, null));
        Assert.Contains("a restore was interrupted",
            (await Assert.ThrowsAsync<Hosting.BrokenOffException>(() => data.Take(TextWriter.Null))).Message, StringComparison.Ordinal);
        Assert.False(File.Exists(Path.Combine(folder, "fondo.db")));
        await File.WriteAllTextAsync(Path.Combine(folder, "fondo.db"), "x", TestContext.Current.CancellationToken);
        Assert.Empty(Backup.LeftBeside(Path.Combine(folder, "fondo.db")));
    }

    [Fact]
    public void A_backup_goes_to_a_plain_file_and_never_onto_the_database()
    {
        Assert.Contains("the database itself", Backup.Objection(Database, Database), StringComparison.Ordinal);
        Assert.Contains("not a regular file", Backup.Objection(Database, _elsewhere), StringComparison.Ordinal);
        Assert.Contains("not a regular file", Backup.Objection(Database, "/dev/null"), StringComparison.Ordinal);
        Assert.Null(Backup.Objection(Database, File1));
    }

    [Fact]
    public async Task By_itself_every_night_and_after_each_close()
    {
        using var shop = new Shop { IsEmpty = true };
        var rounds = shop.Services.GetRequiredService<BackupRounds>();
        string[] Made() => Directory.Exists(Path.Combine(shop.Folder, "backups"))
            ? Directory.GetFiles(Path.Combine(shop.Folder, "backups"), "fondo-*.db")
            : [];
        await rounds.Round();
        Assert.Empty(Made()); // there is nothing yet
        await shop.InStore(
            async db =>
                (await db.Database.ExecuteSqlAsync(
                    $"INSERT INTO Days (Date, Store, Revision, HasRows, HasLedger) VALUES ('2026-11-20', 'Mossgate Market Hall', 1, 0, 0)"),
                    0).Item1);
        await rounds.Round();
        Assert.Single(Made());
        shop.Clock.Advance(TimeSpan.FromMinutes(5));
        await rounds.Round();
        Assert.Single(Made());
        await shop.InStore(async db =>
        {
            db.Closes.Add(new()
            {
                Number = 1,
                Day = new(2026, 11, 20),
                Content = "{}",
                PreviousHash = "",
                Hash = "",
                At = shop.Clock.GetUtcNow()
            });
            return await db.SaveChangesAsync();
        });
        shop.Clock.Advance(TimeSpan.FromSeconds(20));
        await rounds.Round();
        Assert.Equal(2, Made().Length);
        shop.Clock.Advance(TimeSpan.FromDays(1) + TimeSpan.FromHours(1));
        await rounds.Round();
        Assert.Equal(3, Made().Length);
        Assert.Equal(3, await shop.InStore(db => db.Trail.CountAsync(t => t.Act == TrailAct.Backup)));
        Assert.All(Made(), file => Assert.True(File.Exists(Backup.NoteOf(file))));
    }

    [Fact]
    public void Fourteen_days_and_thirteen_months_stay()
    {
        var now = new DateTimeOffset(2026, 11, 26, 5, 0, 0, TimeSpan.Zero);
        var names = Enumerable.Range(0, 500).Select(days => Retention.NameAt(now.AddDays(-days))).Append("notes.txt").ToList();
        var expired = Retention.Expired(names, now);
        Assert.DoesNotContain("notes.txt", expired);
        var kept = names.Except(expired).Where(n => n != "notes.txt").Select(n => Retention.MadeAt(n)!.Value).ToList();
        Assert.Equal(15, kept.Count(k => now - k <= TimeSpan.FromDays(14)));
        // Of October 2025, which thirteen months back only the end of is left, to this November: the first of each.
        Assert.Equal(14, kept.Count(k => now - k > TimeSpan.FromDays(14)));
        Assert.Equal(13, kept.Count(k => k.Day == 1));
        Assert.True(kept.Min() > now.AddMonths(-13));
        Assert.Empty(Retention.Expired([Retention.NameAt(now.AddYears(-3))], now)); // the newest one always
    }

    [Fact]
    public async Task Health_says_what_somebody_has_to_do_on_the_machine_or_with_a_key()
    {
        using var local = await _shop.Visit().Get("/health");
        var report = JsonNode.Parse(await local.Content.ReadAsStringAsync())!;
        Assert.Equal("answers", (string?)report["database"]);
        Assert.True((long)report["diskBytesLeft"]! > 0);
        using var far = await _shop.Visit("10.0.0.7").Get("/health");
        Assert.Equal(HttpStatusCode.NotFound, far.StatusCode);
        var keyed = _shop.Visit("10.0.0.7").Client;
        keyed.DefaultRequestHeaders.Authorization = (await _shop.Register("L1")).DefaultRequestHeaders.Authorization;
        using var known = await keyed.GetAsync("/health", TestContext.Current.CancellationToken);
        Assert.NotEqual(HttpStatusCode.NotFound, known.StatusCode);
        using var empty = new Shop { IsEmpty = true };
        using var none = await empty.Visit().Get("/health");
        Assert.Equal(HttpStatusCode.ServiceUnavailable, none.StatusCode); // no backup yet
    }
}
