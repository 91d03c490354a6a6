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
            using var client =
                new HttpClient(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = factory.ClientOptions.BaseAddress };
            var tenders = Regex.Count(day.Files["journal.jsonl"], "\"type\":");
            var clock = Stopwatch.StartNew();
            using (var scope = factory.Services.CreateScope())
            {
                // The demo's own day is there already; this one takes the next date.
                var files = day.Files.Select(f =>
                    new OfferedFile(f.Key, () => new MemoryStream(System.Text.Encoding.UTF8.GetBytes(Later(f.Value))))).ToList();
                var taken = await scope.ServiceProvider.GetRequiredService<DayIntake>().Take(files, null, "p01");
                if (!taken.IsTaken)
                {
                    throw new InvalidOperationException(taken.Objection ?? taken.Findings[0].ToString());
                }
            }

            var intake = clock.Elapsed;
            await BenchShop.SignIn(client);
            var (times, html) = await Pages(client, "/2026-11-22/board");
            to.WriteLine(
                $"{tenders,7} tenders: taken in within {intake.TotalSeconds:0.0} s; board, warm: median {times[Rounds / 2]:0.0} ms, p95 "
                    + $"{times[(int)(Rounds * 0.95)]:0.0} ms, {html.Length / 1024} KB");
            var (unfolded, whole) = await Pages(client, "/2026-11-22/board?all=true");
            to.WriteLine(
                $"                 all its registers one by one: median {unfolded[Rounds / 2]:0.0} ms, p95 "
                    + $"{unfolded[(int)(Rounds * 0.95)]:0.0} ms, {whole.Length / 1024} KB");
            var cells = Regex.Matches(html, "href=\"(/2026-11-22/cell/[^\"]+)\"").Select(m => m.Groups[1].Value).Distinct().ToList();
            var (takes, found) = (new List<double>(), 0);
            foreach (var cell in cells.Take(60))
            {
                var page = await client.GetStringAsync($"{cell}?lead=1");
                if (Form(page) is not { } form)
                {
                    continue;
                }

                found++;
                clock.Restart();
                using var answer = await client.PostAsync($"{cell}?handler=Take", new FormUrlEncodedContent(form));
                takes.Add(clock.Elapsed.TotalMilliseconds);
            }

            if (found > 0)
            {
                takes.Sort();
                var (cellTimes, _) = await Pages(client, cells[0]);
                to.WriteLine(
                    $"                 a cell, warm: median {cellTimes[Rounds / 2]:0.0} ms, p95 {cellTimes[(int)(Rounds * 0.95)]:0.0} ms; "
                        + $"taking a lead, {found} times: median {takes[found / 2]:0.0} ms, slowest {takes[^1]:0.0} ms");
            }

            await Crowd(factory, client, cells.FirstOrDefault(), isPoured: false, to);
            if (tenders > 10_000)
            {
                await Crowd(factory, client, cells.FirstOrDefault(), isPoured: true, to);
            }

            return times[Rounds / 2];
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private const int People = 8, LinesOfAPart = 250;

    private static readonly TimeSpan _between = TimeSpan.FromMilliseconds(125);

    /// <summary>Board, watch and a cell, for one person and for eight at once; and the same while 2,000 events a second come in.</summary>
    private static async Task Crowd(BenchShop factory, HttpClient client, string? cell, bool isPoured, TextWriter to)
    {
        using var stop = new CancellationTokenSource();
        var pouring = isPoured ? Task.Run(() => Pour(factory, stop.Token)) : Task.FromResult(0);
        foreach (var people in new[] { 1, People })
        {
            var says = new List<string>();
            foreach (var (name, path) in new[] { ("board", "/2026-11-22/board"), ("watch", "/2026-11-22/watch"), ("cell", cell) })
            {
                if (path is null)
                {
                    continue;
                }

                var times = (await Task.WhenAll(Enumerable.Range(0, people).Select(_ => Task.Run(() => Pages(client, path)))))
                    .SelectMany(t => t.Times).Order().ToList();
                says.Add($"{name} {times[times.Count / 2]:0} ms, p95 {times[(int)(times.Count * 0.95)]:0} ms");
            }

            to.WriteLine(
                $"                 {(people == 1 ? "one person" : $"{people} people at once")}"
                    + $"{(isPoured ? ", 2,000 events a second coming in" : "")}: {string.Join("; ", says)}");
        }

        await stop.CancelAsync();
        if (await pouring is > 0 and var poured)
        {
            to.WriteLine($"                 {poured:N0} events came in meanwhile");
        }
    }

    private static async Task<int> Pour(BenchShop factory, CancellationToken stop)
    {
        var lines = Regex.Replace(Later(DayMaker.Make(2, 40, 28_000).Files["journal.jsonl"]), @"-9(\d{6})", "-8$1")
            .Split('\n', StringSplitOptions.RemoveEmptyEntries).Where(l => l.Contains("\"sale\"", StringComparison.Ordinal)).ToList();
        var (at, clock) = (0, Stopwatch.StartNew());
        for (var part = 0; !stop.IsCancellationRequested && at + LinesOfAPart <= lines.Count; part++)
        {
            using (var scope = factory.Services.CreateScope())
            {
                var text = string.Join('\n', lines.Skip(at).Take(LinesOfAPart)) + "\n";
                await scope.ServiceProvider.GetRequiredService<JournalIntake>()
                    .TakeFile(new MemoryStream(System.Text.Encoding.UTF8.GetBytes(text)), "bench", "part.jsonl");
            }

            at += LinesOfAPart;
            if (_between * (part + 1) - clock.Elapsed is { Ticks: > 0 } rest)
            {
                await Task.Delay(rest, CancellationToken.None);
            }
        }

        return at;
    }

    private static async Task<(List<double> Times, string Html)> Pages(HttpClient client, string path)
    {
        var (times, html) = (new List<double>(), "");
        for (var i = 0; i < Rounds + 10; i++)
        {
            var clock = Stopwatch.StartNew();
            html = await client.GetStringAsync(path);
            if (i >= 10)
            {
                times.Add(clock.Elapsed.TotalMilliseconds);
            }
        }

        times.Sort();
        return (times, html);
    }

    /// <summary>The form that takes the lead that lies open; null where none does.</summary>
    private static List<KeyValuePair<string, string>>? Form(string page) =>
        Regex.Match(page, "<form method=\"post\"[^>]*class=\"take\".*?</form>", RegexOptions.Singleline) is { Success: true } form
            ? [.. Regex.Matches(form.Value, "<input[^>]*>")
                .Select(i => KeyValuePair.Create(Regex.Match(i.Value, " name=\"([^\"]*)\"").Groups[1].Value,
                    System.Net.WebUtility.HtmlDecode(Regex.Match(i.Value, " value=\"([^\"]*)\"").Groups[1].Value)))]
            : null;

    /// <summary>The same a day later, with other numbers: the demo's own day has these.</summary>
    private static string Later(string text) =>
        Regex.Replace(text.Replace("2026-11-21", "2026-11-22", StringComparison.Ordinal), "\"([A-Z][A-Z0-9]*)-(\\d{6})\"", "\"$1-9$2\"");
}
