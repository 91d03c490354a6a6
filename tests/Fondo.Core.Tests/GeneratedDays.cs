using Fondo.Cli;
using Fondo.Core.Days;
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
            var planted = made.Troubles.SelectMany(t => t.Cells).GroupBy(c => $"{c.Register}/{c.Drawer ?? "-"}/{c.Tender}").ToDictionary(g => g.Key, g => g.Sum(c => c.Variance));
            var found = Reconciliation.Of(reading.Day!).Cells.Where(c => c.Proof is not null && (c.State == CellState.Off || c.Variance!.Value.Minor != 0)).ToDictionary(c => c.Key.ToString(), c => c.Variance!.Value.Minor);
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

    [Fact]
    public void The_headless_run_answers_alike_each_time_and_says_so_by_its_exit_status()
    {
        (int Status, string Output, string Error) Run(params string[] args)
        {
            using var output = new StringWriter();
            using var error = new StringWriter();
            return (ReconcileCommand.Run(args, output, error), output.ToString(), error.ToString());
        }

        var (a, b) = (Path.Combine(_folder, "a.json"), Path.Combine(_folder, "b.json"));
        Assert.Equal(0, Run(ExampleDays.Folder("clean"), "--out", a).Status);
        var off = Run(ExampleDays.Folder("surcharge"), "--out", a);
        Assert.Equal(1, off.Status);
        Assert.Contains("6 cells off", off.Output, StringComparison.Ordinal);
        Run(ExampleDays.Folder("surcharge"), "--out", b);
        Assert.Equal(File.ReadAllBytes(a), File.ReadAllBytes(b));

        var refused = Run(Path.Combine(_folder, "nowhere"), "--out", a);
        Assert.Equal(2, refused.Status);
        Assert.StartsWith("day.json: expected this file", refused.Error, StringComparison.Ordinal);
        Assert.Equal(2, Run("--out").Status);
        Assert.Equal(2, Run(ExampleDays.Folder("clean"), "--out", Path.Combine(_folder, "no", "such", "place.json")).Status);
    }
}
