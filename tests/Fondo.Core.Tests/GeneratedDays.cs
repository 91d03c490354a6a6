using Fondo.Cli;
using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Reconciling;
using Fondo.Files.Reading;
using Fondo.Standins.Days;

namespace Fondo.Core.Tests;

/// <summary>The generator and the whole headless run.</summary>
public sealed class GeneratedDays : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("fondo-days-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    /// <summary>Every cell is off by exactly what was planted, and by nothing else.</summary>
    [Fact]
    public void Variances_are_what_was_planted()
    {
        for (var seed = 0; seed < 25; seed++)
        {
            var made = DayMaker.Make(seed);
            var folder = Path.Combine(_folder, $"{seed}");
            made.WriteTo(folder);
            var reading = DayFolder.Read(folder);
            Assert.Empty(reading.Findings);
            Assert.Empty(reading.Remarks);
            var planted = made.Troubles.SelectMany(t => t.Cells).GroupBy(c => $"{c.Register}/{c.Drawer ?? "-"}/{c.Tender}")
                .ToDictionary(g => g.Key, g => g.Sum(c => c.Variance));
            var found = Reconciliation.Of(reading.Day!).Cells
                .Where(c => c.Proof is not null && (c.State == CellState.Off || c.Variance!.Value.Minor != 0))
                .ToDictionary(c => c.Key.ToString(), c => c.Variance!.Value.Minor);
            Assert.Equal(planted.OrderBy(p => p.Key), found.OrderBy(p => p.Key));
            Assert.InRange(made.Tickets, 380, 430);
        }
    }

    [Fact]
    public void The_same_seed_makes_the_same_day()
    {
        Assert.Equal(DayMaker.Make(5).Files, DayMaker.Make(5).Files);
        Assert.NotEqual(DayMaker.Make(5).Files["journal.jsonl"], DayMaker.Make(6).Files["journal.jsonl"]);
    }

    private static (int Status, string Output, string Error) Run(params string[] args)
    {
        using var output = new StringWriter();
        using var error = new StringWriter();
        return (ReconcileCommand.Run(args, output, error), output.ToString(), error.ToString());
    }

    private string In(string name) => Path.Combine(_folder, name);

    [Fact]
    public void The_headless_run_answers_alike_each_time_and_says_so_by_its_exit_status()
    {
        var (a, b) = (In("a.json"), In("b.json"));
        Assert.Equal(0, Run(ExampleDays.Folder("clean"), "--out", a).Status);
        var off = Run(ExampleDays.Folder("surcharge"), "--out", a);
        Assert.Equal(1, off.Status);
        Assert.Contains("6 cells off", off.Output, StringComparison.Ordinal);
        Run(ExampleDays.Folder("surcharge"), "--out", b);
        Assert.Equal(File.ReadAllBytes(a), File.ReadAllBytes(b));

        var refused = Run(In("nowhere"), "--out", a);
        Assert.Equal(2, refused.Status);
        Assert.StartsWith("day.json: expected this file", refused.Error, StringComparison.Ordinal);
        Assert.Equal(2, Run("--out").Status);
        Assert.Equal(2, Run(ExampleDays.Folder("clean"), "--out", Path.Combine(_folder, "no", "such", "place.json")).Status);
    }

    [Fact]
    public void The_summary_comes_alone_or_not_at_all()
    {
        var only = Run(ExampleDays.Folder("cash-discount"), "--summary-only");
        Assert.Equal(1, only.Status);
        Assert.Contains("charged-twice", only.Output, StringComparison.Ordinal);
        Assert.Contains("ebt-taxed", only.Output, StringComparison.Ordinal);
        Assert.InRange(only.Output.Split('\n').Max(l => l.Length), 60, 130);
        var quiet = Run("--quiet", "--out", In("q.json"), ExampleDays.Folder("cash-discount"));
        Assert.Equal((1, ""), (quiet.Status, quiet.Output));
        Assert.True(File.Exists(In("q.json")));
        Assert.Equal(2, Run(ExampleDays.Folder("clean"), "--summary-only", "--quiet").Status);
        Assert.Equal(2, Run(ExampleDays.Folder("clean")).Status);
        Assert.Equal(2, Run(ExampleDays.Folder("clean"), "--out", In("x.json"), "--loud").Status);
    }

    [Fact]
    public void A_trailer_that_does_not_add_up_is_told_and_the_day_goes_on()
    {
        var folder = Directory.CreateDirectory(In("trailer")).FullName;
        foreach (var file in Directory.GetFiles(ExampleDays.Folder("clean")))
        {
            var text = File.ReadAllText(file);
            File.WriteAllText(Path.Combine(folder, Path.GetFileName(file)),
                Path.GetFileName(file) == "batch-totals.csv" ? text.Replace(",0,0.00\n", ",1,5.00\n", StringComparison.Ordinal) : text);
        }

        var told = Run(folder, "--out", In("t.json"));
        Assert.Equal(1, told.Status);
        Assert.Contains("is incomplete: the host says", told.Output, StringComparison.Ordinal);
        Assert.Contains("0 cells off", told.Output, StringComparison.Ordinal);
    }

    [Fact]
    public void Refused_input_is_told_line_by_line()
    {
        var folder = Directory.CreateDirectory(In("refused")).FullName;
        foreach (var file in Directory.GetFiles(ExampleDays.Folder("clean")))
        {
            File.Copy(file, Path.Combine(folder, Path.GetFileName(file)));
        }

        File.AppendAllText(Path.Combine(folder, "journal.jsonl"), "{}\n");
        File.AppendAllText(Path.Combine(folder, "batches.csv"), "x\n");
        var refused = Run(folder, "--out", In("r.json"));
        Assert.Equal(2, refused.Status);
        Assert.False(File.Exists(In("r.json")));
        Assert.All(refused.Error.TrimEnd().Split('\n'), l => Assert.Matches(@"^(journal\.jsonl|batches\.csv):\d+: .+$", l));
        Assert.Contains("batches.csv:", refused.Error, StringComparison.Ordinal);
        Assert.Contains("journal.jsonl:", refused.Error, StringComparison.Ordinal);
    }

    /// <summary>The batches under another name, read by a mapping, held against what a printed report says of them.</summary>
    [Fact]
    public void What_a_printed_report_says_of_a_file_of_another_shape_is_compared()
    {
        var folder = Directory.CreateDirectory(In("report")).FullName;
        foreach (var file in Directory.GetFiles(ExampleDays.Folder("clean")))
        {
            var name = Path.GetFileName(file);
            File.Copy(file, Path.Combine(folder, name == "batches.csv" ? "slips.csv" : name));
        }

        var rows = File.ReadAllLines(Path.Combine(folder, "slips.csv")).Skip(1).Select(l => l.Split(',')).ToList();
        var net = rows.Sum(r => decimal.Parse(r[5], System.Globalization.CultureInfo.InvariantCulture) * (r[4] == "refund" ? -1 : 1));
        File.WriteAllText(In("slips.json"), """
            { "fondo": 1, "mapping": "slips", "files": "slips*.csv", "kind": "batches", "dates": "ymd", "timeZone": "UTC",
              "columns": { "terminal": "terminal", "batch": "batch", "seq": "seq", "at": "at", "type": "type", "amount": "amount",
                "tip": "tip", "cashback": "cashback", "brand": "brand", "card": "card", "auth": "auth", "rrn": "rrn", "entry": "entry",
                "benefit": "benefit" } }
            """);
        (int Status, string Output, string Error) With(string report) =>
            Run(folder, "--out", In("report.json"), "--mapping", In("slips.json"), "--report", report);
        Assert.Equal((0, ""), (With($"slips.csv={net}/{rows.Count}").Status, With($"slips.csv={net}").Error));
        foreach (var (report, says) in new[]
        {
            ($"slips.csv={net + 1}", $"The report says {net + 1}. The {rows.Count} rows of this file come to {net}."),
            ($"slips.csv={net}/{rows.Count - 1}", $"The report says {rows.Count - 1} rows. This file has {rows.Count}."),
            ("slips.csv=much", "is not an amount"),
        })
        {
            var told = With(report);
            Assert.Equal(1, told.Status);
            Assert.Contains(says, told.Error, StringComparison.Ordinal);
            Assert.StartsWith("slips.csv", told.Error, StringComparison.Ordinal);
        }

        Assert.Equal((2, true), (With("other.csv=1.00").Status, With("other.csv=1.00").Error.Contains("no mapping reads it")));
    }
}
