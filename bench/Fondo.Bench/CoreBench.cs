using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Standins.Days;

namespace Fondo.Bench;

/// <summary>The core alone, on days that are in memory already.</summary>
[MemoryDiagnoser]
public class CoreBench
{
    private Day _day = null!;
    private Standing _standing = null!;
    private RowPlaces _places = null!;

    [Params(10_000, 100_000, 1_000_000)]
    public int Tenders { get; set; }

    public static int Run()
    {
        var job = Job.ShortRun.WithToolchain(InProcessEmitToolchain.Instance);
        BenchmarkRunner.Run<CoreBench>(ManualConfig.Create(DefaultConfig.Instance).AddJob(job)
            .WithArtifactsPath(Path.Combine(Path.GetTempPath(), "fondo-bench")));
        return 0;
    }

    [GlobalSetup]
    public void ReadTheDay()
    {
        var folder = Directory.CreateTempSubdirectory("fondo-bench-");
        try
        {
            DayMaker.Make(1, 40, (int)(Tenders / DayMaker.TendersOfATicket)).WriteTo(folder.FullName);
            _day = DayFolder.Read(folder.FullName).Day!;
            (_standing, _places) = (new(_day), new(_day.Setup));
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    [Benchmark]
    public int Matching()
    {
        var proofs = _day.Setup.Tenders.ToDictionary(t => t.Id, t => t.Proof);
        var tenders = Standing.Tenders(_day, _standing).Where(t => proofs[t.Tender.Type] == ProofKind.Batch).Select(t => Item.Of(t, null))
            .ToList();
        var rows = _day.Rows!.Value.Select(r => Item.Of(r, _places.CellOf(r), null)).ToList();
        return Matcher.Match(tenders, rows, _day.Setup.Policy.MatchWindow, _ => false).Matches.Length;
    }

    [Benchmark]
    public int Checks() => TicketChecks.Of(_day, _standing).Length;

    [Benchmark]
    public int Cells() => CellSums.Of(_day, _standing, _places).Length;

    [Benchmark]
    public int Everything() => Reconciliation.Of(_day).Matches.Length;
}
