using System.Diagnostics;
using System.Text;
using Fondo.Standins.Registers;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Bench;

/// <summary>What a server takes of memory as more and more days are asked for: many times what the budget of <see cref="DayCache"/> has
/// room for.</summary>
internal static class TouchedBench
{
    public const int UsualDays = 400, UsualTickets = 3_000;

    private static readonly string[] _pages = ["board", "watch", "open-items", "checks"];

    private static readonly DateOnly _first = new(2026, 11, 22);

    public static async Task<int> Run(TextWriter to, int days, int tickets)
    {
        var folder = Directory.CreateTempSubdirectory("fondo-bench-");
        try
        {
            await using (var filling = new BenchShop(folder.FullName))
            {
                filling.StartServer();
                var clock = Stopwatch.StartNew();
                for (var day = 0; day < days; day++)
                {
                    await Fill(filling, _first.AddDays(day), day, tickets);
                }

                to.WriteLine($"{days} days of {tickets:N0} tickets taken in within {clock.Elapsed.TotalSeconds:0} s");
            }

            GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive);
            to.WriteLine($"a server before any is asked for: {Memory()}");
            await using var asked = new BenchShop(folder.FullName);
            asked.UseKestrel(0);
            asked.StartServer();
            using var client =
                new HttpClient(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = asked.ClientOptions.BaseAddress };
            await BenchShop.SignIn(client);
            foreach (var round in new[] { "first", "second" })
            {
                var times = new double[_pages.Length];
                for (var day = 0; day < days; day++)
                {
                    foreach (var (place, page) in _pages.Index())
                    {
                        var clock = Stopwatch.StartNew();
                        using var answer = await client.GetAsync($"/{_first.AddDays(day):yyyy-MM-dd}/{page}");
                        answer.EnsureSuccessStatusCode();
                        times[place] += clock.Elapsed.TotalMilliseconds;
                    }

                    if ((day + 1) % (days / 4) == 0)
                    {
                        var (kept, records) = asked.Services.GetRequiredService<DayCache>().Holds;
                        to.WriteLine(
                            $"{round} time, {day + 1,4} days asked for: {Memory()}; {kept} kept, {records:N0} records; a page in the "
                                + $"middle: {string.Join(", ", _pages.Zip(times, (page, time) => $"{page} {time / (days / 4):0} ms"))}");
                        times = new double[_pages.Length];
                    }
                }
            }

            return 0;
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private static async Task Fill(BenchShop shop, DateOnly date, int seed, int tickets)
    {
        using var scope = shop.Services.CreateScope();
        var made = new PlayedDay(seed, date, tickets, faults: 0, cardRate: 0);
        var taken = await scope.ServiceProvider.GetRequiredService<DayIntake>()
            .Take([.. made.Files.Select(f => new OfferedFile(f.Key, () => new MemoryStream(Encoding.UTF8.GetBytes(f.Value))))], null,
                "p01");
        if (!taken.IsTaken)
        {
            throw new InvalidOperationException(taken.Objection ?? taken.Findings[0].ToString());
        }
    }

    private static string Memory() =>
        $"{Environment.WorkingSet / (1 << 20),5} MB, at its peak {Process.GetCurrentProcess().PeakWorkingSet64 / (1 << 20),5}";
}
