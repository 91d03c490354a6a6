using System.ComponentModel;
using System.Diagnostics;
using System.Globalization;
using System.Text.RegularExpressions;
using Fondo.Standins.Days;

namespace Fondo.Bench;

/// <summary><c>./fondo reconcile</c> as a whole process: against the <c>sqlite3</c> command line on one million tenders, and as the day
/// grows.</summary>
internal static class DayBench
{
    private const int Rounds = 3;

    private sealed record Took(double Seconds, long PeakKilobytes);

    public static int Run(TextWriter to)
    {
        var folder = Directory.CreateTempSubdirectory("fondo-bench-");
        try
        {
            Reconcile(Make(folder, "shop", DayMaker.Make(21))); // builds, when that is still to do
            to.WriteLine($"{"day",-26} {"whole process",14} {"peak memory",12}");
            Tell(to, "406 tickets", Best(() => Reconcile(Path.Combine(folder.FullName, "shop"))));
            foreach (var (kind, make) in _kinds)
            {
                to.WriteLine(kind);
                OfKind(folder, make, to);
            }

            Tell(to, "20,000 alike in one hour", Best(() => Reconcile(WorstCase(folder))));
            var (alike, unlike) = Unlike(folder);
            var (before, after) = (Best(() => Reconcile(alike)), Best(() => Reconcile(unlike)));
            Tell(to, "100,000, no two lines alike", after,
                string.Create(CultureInfo.InvariantCulture,
                    $"   {after.Seconds / before.Seconds:0.0} times as long as the day it was made of"));
            return 0;
        }
        catch (Win32Exception)
        {
            to.WriteLine("sqlite3 is not there to compare with: apt-get install sqlite3");
            return 2;
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    /// <summary>The demo store grown; and a store that takes cards almost only, on a day with five hundred faults.</summary>
    private static readonly (string Kind, Func<int, MadeDay> Make)[] _kinds =
    [
        ("as in the demo store, without faults", tickets => DayMaker.Make(1, 40, tickets)),
        ("85 % by card, 500 faults", tickets => DayMaker.MakeFaulty(77, 40, tickets, 500, overlap: true, settled: 0.85)),
    ];

    private static void OfKind(DirectoryInfo folder, Func<int, MadeDay> make, TextWriter to)
    {
        Took? before = null;
        var plain = new List<Took>();
        foreach (var tenders in new[] { 10_000, 100_000, 1_000_000 })
        {
            var day = Make(folder, "day", make((int)(tenders / DayMaker.TendersOfATicket)));
            // Turn and turn about, so that a machine that slows down slows both down.
            var took = Best(() =>
            {
                if (tenders == 1_000_000)
                {
                    plain.Add(Sqlite(day));
                }

                return Reconcile(day);
            });
            Tell(to, string.Create(CultureInfo.InvariantCulture, $"{tenders:N0} tenders"), took,
                before is null ? "" : $"   ten times the tenders: {took.Seconds / before.Seconds:0.0} times as long");
            before = took;
        }

        var sqlite = plain.MinBy(t => t.Seconds)!;
        Tell(to, "sqlite3, 1,000,000 tenders", sqlite);
        to.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"fondo against sqlite3: {before!.Seconds / sqlite.Seconds:0.00} of its time"));
    }

    private static void Tell(TextWriter to, string what, Took took, string more = "") =>
        to.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{what,-26} {took.Seconds,12:0.00} s {took.PeakKilobytes / 1024,9:N0} MB{more}"));

    private static string Make(DirectoryInfo folder, string name, MadeDay day)
    {
        var path = Path.Combine(folder.FullName, name);
        day.WriteTo(path);
        return path;
    }

    /// <summary>Tenders and rows of one amount at one terminal within an hour, without any code.</summary>
    private static string WorstCase(DirectoryInfo folder)
    {
        var path = Path.Combine(folder.FullName, "worst");
        if (Directory.Exists(path))
        {
            return path;
        }

        DayMaker.Make(21).WriteTo(path);
        var random = new Random(1);
        string At() => new DateTimeOffset(2026, 11, 21, 10, 0, 0, TimeSpan.FromHours(-5)).AddSeconds(random.Next(3600))
            .ToString("yyyy-MM-dd'T'HH:mm:sszzz", CultureInfo.InvariantCulture);
        File.WriteAllLines(Path.Combine(path, "journal.jsonl"), Enumerable.Range(0, 20_000).Select(i =>
            $$"""{"id":"L1-{{i:000000}}","register":"L1","drawer":"L1-A","cashier":"p11","at":"{{At()}}","kind":"sale","lines":[],"subtotal":"9.99","tax":"0.00","total":"9.99","tenders":[{"type":"credit","amount":"9.99","terminal":"T-01"}]}"""));
        File.WriteAllLines(Path.Combine(path, "batches.csv"),
            Enumerable.Range(0, 20_000).Select(i => $"T-01,1,{i + 1},{At()},sale,9.99,0.00,0.00,heron,,,,,")
                .Prepend("terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit"));
        File.Delete(Path.Combine(path, "batch-totals.csv"));
        File.Delete(Path.Combine(path, "counts.json"));
        return path;
    }

    /// <summary>A day, and the same with another name on each line of each ticket.</summary>
    private static (string Alike, string Unlike) Unlike(DirectoryInfo folder)
    {
        var made = DayMaker.MakeFaulty(78, 40, (int)(100_000 / DayMaker.TendersOfATicket), 100, overlap: true, settled: 0.85);
        var (alike, unlike) = (Make(folder, "alike", made), Make(folder, "unlike", made));
        var number = 0;
        var journal = Path.Combine(unlike, "journal.jsonl");
        File.WriteAllText(journal, Regex.Replace(File.ReadAllText(journal), "\"name\":\"", m => $"{m.Value}{++number} "));
        return (alike, unlike);
    }

    private static Took Reconcile(string day) =>
        Time(new ProcessStartInfo(Path.Combine(Root(), "fondo"))
        {
            ArgumentList = { "reconcile", day, "--out", Path.Combine(day, "result.json") }
        });

    private static Took Sqlite(string day)
    {
        var start = new ProcessStartInfo("sqlite3") { ArgumentList = { ":memory:", ".read plain.sql" }, WorkingDirectory = day };
        File.Copy(Path.Combine(AppContext.BaseDirectory, "plain.sql"), Path.Combine(day, "plain.sql"), overwrite: true);
        return Time(start);
    }

    private static Took Best(Func<Took> run) => Enumerable.Range(0, Rounds).Select(_ => run()).MinBy(t => t.Seconds)!;

    private static Took Time(ProcessStartInfo start)
    {
        start.RedirectStandardOutput = true;
        var clock = Stopwatch.StartNew();
        using var process = Process.Start(start)!;
        var output = process.StandardOutput.ReadToEndAsync();
        long peak = 0;
        while (!process.WaitForExit(20))
        {
            peak = Math.Max(peak, PeakOf(process.Id));
        }

        var seconds = clock.Elapsed.TotalSeconds;
        return process.ExitCode is 0 or 1
            ? new(seconds, peak)
            : throw new InvalidOperationException($"{start.FileName} failed: {output.Result}");
    }

    /// <summary>The launcher gives way to the program it starts, so that it is one process.</summary>
    private static long PeakOf(int process)
    {
        try
        {
            var line = File.ReadLines($"/proc/{process}/status").FirstOrDefault(l => l.StartsWith("VmHWM:", StringComparison.Ordinal));
            return line is null ? 0 : long.Parse(string.Concat(line.Where(char.IsAsciiDigit)), CultureInfo.InvariantCulture);
        }
        catch (IOException)
        {
            return 0; // it has just ended
        }
    }

    private static string Root()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder!.FullName, "fondo")) || !Directory.Exists(Path.Combine(folder.FullName, "src")))
        {
            folder = folder.Parent;
        }

        return folder.FullName;
    }
}
