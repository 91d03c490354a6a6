using System.Diagnostics;
using System.Text.RegularExpressions;
using Fondo.Standins.Days;
using Fondo.Store.Intake;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Bench;

/// <summary>The board of the demo day against that of a day with 40 registers and 30,000 tenders, in one run over a real socket.</summary>
internal static class BoardBench
{
    private const int Rounds = 40;

    public static async Task<int> Run(TextWriter to)
    {
        var small = await Measure(DayMaker.Make(1), to);
        var large = await Measure(DayMaker.Make(1, 40, 28_000), to);
        to.WriteLine($"large against small: {large / small:0.0} times as long");
        return 0;
    }

    private static async Task<double> Measure(MadeDay day, TextWriter to)
    {
        var folder = Directory.CreateTempSubdirectory("fondo-bench-");
        try
        {
            await using var factory = new BenchShop(folder.FullName);
            factory.UseKestrel(0);
            factory.StartServer();
            using var client = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = factory.ClientOptions.BaseAddress };
            var tenders = Regex.Count(day.Files["journal.jsonl"], "\"type\":");
            var clock = Stopwatch.StartNew();
            using (var scope = factory.Services.CreateScope())
            {
                // The demo's own day is there already; this one takes the next date.
                var files = day.Files.Select(f => new OfferedFile(f.Key, () => new MemoryStream(System.Text.Encoding.UTF8.GetBytes(f.Value.Replace("2026-11-21", "2026-11-22", StringComparison.Ordinal))))).ToList();
                var taken = await scope.ServiceProvider.GetRequiredService<DayIntake>().Take(files, null, "p01");
                if (!taken.IsTaken)
                {
                    throw new InvalidOperationException(taken.Objection ?? taken.Findings[0].ToString());
                }
            }

            var intake = clock.Elapsed;
            await BenchShop.SignIn(client);
            var times = new List<double>();
            var length = 0;
            for (var i = 0; i < Rounds + 10; i++)
            {
                clock.Restart();
                var html = await client.GetStringAsync("/2026-11-22/board");
                if (i >= 10)
                {
                    times.Add(clock.Elapsed.TotalMilliseconds);
                }

                length = html.Length;
            }

            times.Sort();
            to.WriteLine($"{tenders,7} tenders: taken in within {intake.TotalSeconds:0.0} s; board, warm: median {times[Rounds / 2]:0.0} ms, slowest {times[^1]:0.0} ms, {length / 1024} KB");
            return times[Rounds / 2];
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }
}
