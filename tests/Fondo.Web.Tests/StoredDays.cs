using Fondo.Core.Cells;
using Fondo.Core.Leads;
using Fondo.Core.Reconciling;
using Fondo.Files;
using Fondo.Files.Reading;
using Fondo.Files.Text;
using Fondo.Files.Writing;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>A day that went through the database is the day that the files hold.</summary>
public sealed class StoredDays : InOwnShop
{
    private static string Folder(string name) => Path.Combine(AppContext.BaseDirectory, "cases", name);

    private static OfferedFile Offer(string path) => new(Path.GetFileName(path), () => File.OpenRead(path));

    private Task<IntakeResult> Take(IReadOnlyList<OfferedFile> files, DateOnly? day = null) => Take(Shop, files, day);

    private static async Task<IntakeResult> Take(Shop shop, IReadOnlyList<OfferedFile> files, DateOnly? day = null)
    {
        using var scope = shop.Services.CreateScope();
        return await scope.ServiceProvider.GetRequiredService<DayIntake>().Take(files, day, "p01");
    }

    private static byte[] Answer(Reconciliation result)
    {
        using var memory = new MemoryStream();
        ResultWriter.Write(result, LeadFinder.Of(result).Leads, memory);
        return memory.ToArray();
    }

    /// <summary>Read back from the records alone, as after a restart.</summary>
    private Task<Reconciliation> Stored(DateOnly date) => Stored(Shop, date);

    private static async Task<Reconciliation> Stored(Shop shop, DateOnly date)
    {
        using var scope = shop.Services.CreateScope();
        var store = ActivatorUtilities.CreateInstance<DayStore>(scope.ServiceProvider, new DayCache());
        return (await store.View(date))!.Reconciliation;
    }

    [Theory]
    [InlineData("clean")]
    [InlineData("surcharge")]
    [InlineData("cash-discount")]
    public async Task The_store_answers_as_the_headless_run_does(string name)
    {
        var headless = Reconciliation.Of(DayFolder.Read(Folder(name)).Day!);
        await using var shop = new Shop { IsEmpty = true };
        var taken = await Take(shop, [.. Directory.GetFiles(Folder(name)).Select(Offer)]);
        Assert.True(taken.IsTaken, taken.Objection ?? string.Join("\n", taken.Findings));
        Assert.Equal(Answer(headless), Answer(await Stored(shop, taken.Day!.Value)));
    }

    /// <summary>A made day on another date, with event ids of its own: an event is known by its id in the whole store.</summary>
    private static string OnDate(string text, string date) =>
        System.Text.RegularExpressions.Regex.Replace(text.Replace("2026-11-21", date, StringComparison.Ordinal), @"\b([A-Z0-9]+-)(\d{6})\b",
            $"${{1}}{date[5..7]}{date[8..]}${{2}}");

    [Fact]
    public async Task Files_may_come_one_by_one_and_in_parts()
    {
        var made = Fondo.Standins.Days.DayMaker.Make(77);
        string At(string name) => OnDate(made.Files[name], "2026-03-14");
        OfferedFile Text(string name, string text) => new(name, () => new MemoryStream(System.Text.Encoding.UTF8.GetBytes(text)));
        var lines = At(DayFiles.Journal).Split('\n');
        var date = new DateOnly(2026, 3, 14);
        Assert.True((await Take([Text(DayFiles.Setup, At(DayFiles.Setup))])).IsTaken);
        Assert.Contains("no such drawer session", (await Take([Text(DayFiles.Counts, At(DayFiles.Counts))], date)).Findings[0].Message,
            StringComparison.Ordinal);
        var part = await Take([Text(DayFiles.Journal, string.Join('\n', lines[200..]))], date);
        Assert.True(part.IsTaken, string.Join("\n", part.Findings));
        Assert.True((await Take([Text(DayFiles.Rows, At(DayFiles.Rows)), Text(DayFiles.Totals, At(DayFiles.Totals))], date)).IsTaken);
        var late = await Take([Text(DayFiles.Journal, string.Join('\n', lines[..250]))], date); // overlaps what is there
        Assert.Equal(200, late.Added);
        Assert.True((await Take([Text(DayFiles.Ledger, At(DayFiles.Ledger)), Text(DayFiles.Counts, At(DayFiles.Counts))], date)).IsTaken);

        var folder = Directory.CreateTempSubdirectory("fondo-parts-");
        try
        {
            foreach (var file in made.Files.Keys)
            {
                await File.WriteAllTextAsync(Path.Combine(folder.FullName, file), At(file));
            }

            Assert.Equal(Answer(Reconciliation.Of(DayFolder.Read(folder.FullName).Day!)), Answer(await Stored(date)));
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    [Fact]
    public async Task A_batch_file_without_a_row_proves_nothing_and_is_remembered()
    {
        const string Setup = """
            {"fondo":1,"store":"Mossgate Market Hall","tradingDay":"2026-03-15","currency":"USD","timeZone":"America/New_York","registers":[{"id":"L1","kind":"lane"}],"terminals":[{"id":"T-1","register":"L1"}]}
            """;
        const string Sale = """
            {"id":"z1","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-03-15T10:00:00-04:00","kind":"sale","lines":[],"subtotal":"5.00","discount":"0.00","tax":"0.00","fee":"0.00","rounding":"0.00","total":"5.00","tenders":[{"type":"credit","amount":"5.00","terminal":"T-1"}]}
            """;
        OfferedFile Text(string name, string text) => new(name, () => new MemoryStream(System.Text.Encoding.UTF8.GetBytes(text)));
        var date = new DateOnly(2026, 3, 15);
        await using var shop = new Shop { IsEmpty = true };
        await Take(shop, [Text(DayFiles.Setup, Setup), Text(DayFiles.Journal, Sale)]);
        Assert.Equal(CellState.Waiting, (await Stored(shop, date)).Cells.Single(c => c.Key.Written.Tender == "credit").State);
        await Take(shop, [Text(DayFiles.Rows, "terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n")], date);
        Assert.Equal(CellState.Off, (await Stored(shop, date)).Cells.Single(c => c.Key.Written.Tender == "credit").State);
    }

    [Fact]
    public async Task Two_who_take_in_the_same_day_at_once_take_it_once()
    {
        var made = Fondo.Standins.Days.DayMaker.Make(78);
        var files = made.Files.Select(f =>
            new OfferedFile(f.Key, () => new MemoryStream(System.Text.Encoding.UTF8.GetBytes(OnDate(f.Value, "2026-03-16"))))).ToList();
        var results = await Task.WhenAll(Enumerable.Range(0, 3).Select(_ => Task.Run(() => Take(files))));
        Assert.All(results, r => Assert.True(r.IsTaken, r.Objection ?? string.Join("\n", r.Findings)));
        Assert.Single(results, r => r.Added > 0);
        Assert.Equal(1, await Shop.InStore(db => db.Days.Where(d => d.Date == new DateOnly(2026, 3, 16)).Select(d => d.Revision)
            .SingleAsync()));
    }

    [Fact]
    public async Task What_fails_half_way_leaves_nothing_behind()
    {
        using var scope = Shop.Services.CreateScope();
        var guard = scope.ServiceProvider.GetRequiredService<DayLock>();
        var before = await Shop.InStore(db => db.Days.Select(d => d.Revision).SumAsync());
        await Assert.ThrowsAsync<IOException>(() => guard.Write(new(2026, 11, 21), async () =>
        {
            await guard.Revise(new(2026, 11, 21));
            throw new IOException("the disk is full");
        }));
        Assert.Equal(before, await Shop.InStore(db => db.Days.Select(d => d.Revision).SumAsync()));
    }

    /// <summary>An identifier in which one could read a card number is no record that is refused ever after.</summary>
    [Fact]
    public void The_key_of_a_count_never_looks_like_a_card_number()
    {
        const string invented = "7992739871000";
        var digits = invented + CardNumbers.CheckDigit([.. invented.Select(c => (byte)(c - '0'))]);
        var form = Guid.Parse((digits + new string('a', 32))[..32]);
        Assert.True(CardNumbers.Contains($"c-{form:N}"));
        Assert.False(CardNumbers.Contains(Counting.KeyOf(form)));
        Assert.NotEqual(Counting.KeyOf(form), Counting.KeyOf(Guid.Parse((digits + new string('b', 32))[..32])));
    }
}
