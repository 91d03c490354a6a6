using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using Fondo.Core.SetUp;
using Fondo.Standins.Days;
using Fondo.Standins.Registers;
using Fondo.Store.Intake;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Bench;

/// <summary>How fast journals come in: in parts over HTTP, and as one file of a million tenders against the <c>sqlite3</c> command line
/// with the same rows and indexes.</summary>
internal static class IntakeBench
{
    private const int PartLength = 100, Tickets = 20_000, Tenders = 1_000_000;

    public static async Task<int> Run(TextWriter to)
    {
        await OverHttp(to);
        return await RunFile(to, Tenders);
    }

    /// <summary>A file of so many tenders, while somebody else writes now and then.</summary>
    public static async Task<int> RunFile(TextWriter to, int tenders)
    {
        await AsFile(to, tenders);
        return 0;
    }

    private static async Task OverHttp(TextWriter to)
    {
        var folder = Directory.CreateTempSubdirectory("fondo-bench-");
        try
        {
            await using var factory = new BenchShop(folder.FullName);
            factory.UseKestrel(0);
            factory.StartServer();
            var day = new PlayedDay(3, new(2026, 11, 20), Tickets, faults: 0, cardRate: 30);
            var byRegister = day.Files["journal.jsonl"].Split('\n', StringSplitOptions.RemoveEmptyEntries).GroupBy(l => l[7..9]).ToList();
            var keys = new Dictionary<string, string>();
            using (var scope = factory.Services.CreateScope())
            {
                foreach (var register in byRegister)
                {
                    keys[register.Key] = (await scope.ServiceProvider.GetRequiredService<RegisterKeys>()
                        .Make(register.Key, new(new("p01"), "Odile Marchetti", Role.Supervisor),
                            new(new("p02"), "Tamsin Okafor", Role.Manager))).Value!;
                }
            }

            using var watcher =
                new HttpClient(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = factory.ClientOptions.BaseAddress };
            await BenchShop.SignIn(watcher);
            await watcher.GetStringAsync("/2026-11-21/board");
            using var stop = new CancellationTokenSource();
            var (alone, busy, same) = (new List<double>(), new List<double>(), new List<double>());
            for (var i = 0; i < 20; i++)
            {
                alone.Add(await Milliseconds(() => watcher.GetStringAsync("/2026-11-21/board")));
            }

            var watching = Task.Run(async () =>
            {
                while (!stop.IsCancellationRequested)
                {
                    busy.Add(await Milliseconds(() => watcher.GetStringAsync("/2026-11-21/board")));
                    if (busy.Count > 10 && busy.Count % 10 == 5)
                    {
                        same.Add(await Milliseconds(() => watcher.GetStringAsync("/2026-11-20/watch")));
                    }

                    await Task.Delay(20);
                }
            });
            var clock = Stopwatch.StartNew();
            await Parallel.ForEachAsync(byRegister, new ParallelOptions { MaxDegreeOfParallelism = 2 }, async (register, cancel) =>
            {
                using var client = new HttpClient { BaseAddress = factory.ClientOptions.BaseAddress };
                client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", keys[register.Key]);
                foreach (var part in register.Chunk(PartLength))
                {
                    using var answer = await client.PostAsync($"/api/registers/{register.Key}/journal",
                        new StringContent(string.Join('\n', part), Encoding.UTF8, "application/jsonl"), cancel);
                    answer.EnsureSuccessStatusCode();
                }
            });
            var seconds = clock.Elapsed.TotalSeconds;
            await stop.CancelAsync();
            await watching;
            await watcher.GetStringAsync("/2026-11-20/watch");
            var after = await Milliseconds(() => watcher.GetStringAsync("/2026-11-20/watch"));
            to.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"over HTTP: {day.Events:N0} events in parts of {PartLength}: {day.Events / seconds:N0} a second; the board meanwhile: "
                    + $"median {Middle(busy):0} ms, slowest {busy.Max():0} ms; watching the same day: median {Middle(same):0}, slowest "
                    + $"{same.Max():0} ms, afterwards {after:0} (the board alone: {Middle(alone):0} and {alone.Max():0} ms)"));
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private static async Task AsFile(TextWriter to, int tenders)
    {
        var folder = Directory.CreateTempSubdirectory("fondo-bench-");
        try
        {
            var made = DayMaker.Make(1, 40, (int)(tenders / DayMaker.TendersOfATicket));
            var path = Path.Combine(folder.FullName, "day");
            made.WriteTo(path);
            var data = Path.Combine(folder.FullName, "data");
            Directory.CreateDirectory(data);
            await using (var services = await Store(data))
            {
                using var scope = services.CreateScope();
                using var stop = new CancellationTokenSource();
                var progress = new IntakeProgress();
                var others = Others(services, progress, stop.Token);
                var seconds = await Milliseconds(async () =>
                {
                    var taken = await scope.ServiceProvider.GetRequiredService<DayIntake>().Take(
                        [
                            new("day.json", () => File.OpenRead(Path.Combine(path, "day.json"))),
                            new("journal.jsonl", () => File.OpenRead(Path.Combine(path, "journal.jsonl")))
                        ], null, "p01", progress);
                    return taken.IsTaken ? taken : throw new InvalidOperationException(taken.Objection ?? taken.Findings[0].ToString());
                }) / 1000;
                await stop.CancelAsync();
                var (waited, reading) = await others;
                SqliteConnection.ClearAllPools();
                var plain = Sqlite(Path.Combine(data, "fondo.db"), folder.FullName);
                to.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"a file of {made.Tenders:N0} tenders into the database: {seconds:0.0} s; sqlite3, the same rows and indexes: "
                        + $"{plain:0.0} s; ratio {seconds / plain:0.00}; {reading:0.0} s of it reading; others who wrote meanwhile, "
                        + $"{waited.Count} times, waited {Middle(waited):0} ms, at most {waited.Max():0} ms"));
            }
        }
        finally
        {
            SqliteConnection.ClearAllPools();
            folder.Delete(recursive: true);
        }
    }

    /// <summary>Somebody who writes ten times a second: how long each time took, and when the file had been read.</summary>
    private static async Task<(List<double> Waited, double Reading)> Others(ServiceProvider services, IntakeProgress progress,
        CancellationToken stop)
    {
        var (waited, clock, reading) = (new List<double>(), Stopwatch.StartNew(), 0.0);
        while (!stop.IsCancellationRequested)
        {
            await Task.Delay(100, CancellationToken.None);
            reading = progress.Now.Says == "written" ? reading : clock.Elapsed.TotalSeconds;
            waited.Add(await Milliseconds(async () =>
            {
                using var scope = services.CreateScope();
                var db = scope.ServiceProvider.GetRequiredService<Fondo.Store.Model.StoreContext>();
                await using var writing = await db.BeginWriting(CancellationToken.None);
                await db.Days.Where(d => d.Revision < 0).ExecuteDeleteAsync(CancellationToken.None);
                await writing.CommitAsync(CancellationToken.None);
                return 0;
            }));
        }

        return (waited, reading);
    }

    internal static async Task<ServiceProvider> Store(string data)
    {
        var services = new ServiceCollection().AddLogging().AddSingleton(TimeProvider.System);
        Fondo.Store.StoreServices.AddFondoStore(services, $"Data Source={Path.Combine(data, "fondo.db")}");
        var provider = services.BuildServiceProvider();
        using var scope = provider.CreateScope();
        await Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions.MigrateAsync(
            scope.ServiceProvider.GetRequiredService<Fondo.Store.Model.StoreContext>().Database);
        return provider;
    }

    /// <summary>Imports the rows of the three tables from CSV and builds their indexes, as a person would with the command line.</summary>
    private static double Sqlite(string database, string folder)
    {
        string[] tables = ["Records", "Events", "Tenders"];
        string Csv(string table) => Path.Combine(folder, table + ".csv");
        Shell(database, string.Join('\n', tables.Select(t => $".mode csv\n.once {Csv(t)}\nSELECT * FROM {t};")));
        var schema =
            Shell(database,
                "SELECT sql || ';' FROM sqlite_master WHERE type = 'table' AND name IN "
                    + $"({string.Join(", ", tables.Select(t => $"'{t}'"))});");
        var indexes =
            Shell(database,
                "SELECT sql || ';' FROM sqlite_master WHERE type = 'index' AND sql IS NOT NULL AND tbl_name IN "
                    + $"({string.Join(", ", tables.Select(t => $"'{t}'"))});");
        var clock = Stopwatch.StartNew();
        Shell(Path.Combine(folder, "plain.db"),
            $"PRAGMA journal_mode=WAL;\n{schema}\n.mode csv\n{string.Join('\n', tables.Select(t => $".import {Csv(t)} {t}"))}\n{indexes}");
        return clock.Elapsed.TotalSeconds;
    }

    private static string Shell(string database, string script)
    {
        using var process = Process.Start(new ProcessStartInfo("sqlite3")
        {
            ArgumentList = { database },
            RedirectStandardInput = true,
            RedirectStandardOutput = true
        })!;
        process.StandardInput.WriteLine(script);
        process.StandardInput.Close();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return output;
    }

    private static async Task<double> Milliseconds<T>(Func<Task<T>> work)
    {
        var clock = Stopwatch.StartNew();
        await work();
        return clock.Elapsed.TotalMilliseconds;
    }

    private static double Middle(List<double> times) => times.Order().ElementAt(times.Count / 2);
}
