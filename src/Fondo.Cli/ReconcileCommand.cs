using Fondo.Core.Cells;
using Fondo.Core.Leads;
using Fondo.Core.Reconciling;
using Fondo.Files.Mapping;
using Fondo.Files.Reading;
using Fondo.Files.Writing;

namespace Fondo.Cli;

/// <summary><c>reconcile DAY_FOLDER --out FILE</c>: the whole computation without database and server.
/// Exit status 0 the day proves, 1 something is off or open or a ticket check found something, 2 the input was refused.</summary>
public static class ReconcileCommand
{
    private const string Expected = "reconcile DAY_FOLDER --out FILE [--quiet] [--mapping FILE]… [--report NAME=TOTAL[/ROWS]]…, "
        + "or reconcile DAY_FOLDER --summary-only";

    private sealed record Options(string Folder, string? Out, bool IsQuiet, bool IsSummaryOnly, IReadOnlyList<string> Mappings,
        IReadOnlyDictionary<string, ReportFigures> Reports)
    {
        /// <summary>Null when the words make no sense together.</summary>
        public static Options? Of(IReadOnlyList<string> args)
        {
            var (folder, file, quiet, summaryOnly) = ((string?)null, (string?)null, false, false);
            var (mappings, reports) = (new List<string>(), new Dictionary<string, ReportFigures>());
            for (var i = 0; i < args.Count; i++)
            {
                switch (args[i])
                {
                    case "--out" when file is null && i + 1 < args.Count:
                        file = args[++i];
                        break;
                    case "--mapping" when i + 1 < args.Count:
                        mappings.Add(args[++i]);
                        break;
                    case "--report" when i + 1 < args.Count && args[i + 1].LastIndexOf('=') is > 0 and var at:
                        var figures = args[++i][(at + 1)..].Split('/', 2);
                        reports[args[i][..at]] = new(figures[0], figures.ElementAtOrDefault(1) ?? "");
                        break;
                    case "--quiet":
                        quiet = true;
                        break;
                    case "--summary-only":
                        summaryOnly = true;
                        break;
                    case var word when folder is null && !word.StartsWith("--", StringComparison.Ordinal):
                        folder = word;
                        break;
                    default:
                        return null;
                }
            }

            return folder is not null && (file is null) == summaryOnly && !(quiet && summaryOnly)
                ? new(folder, file, quiet, summaryOnly, mappings, reports)
                : null;
        }
    }

    public static int Run(IReadOnlyList<string> args, TextWriter output, TextWriter error)
    {
        if (Options.Of(args) is not { } options)
        {
            return Usage.Fail(error, Expected);
        }

        var mappings = new List<Mapping>();
        foreach (var path in options.Mappings)
        {
            var (mapping, wrong) = ReadMapping(path);
            wrong.ToList().ForEach(w => error.WriteLine(w));
            if (mapping is null)
            {
                return Usage.Refused;
            }

            mappings.Add(mapping);
        }

        using var progress = new ProgressLine("reading the files");
        Memory.ReadWithoutCollecting(options.Folder);
        var reading = DayFolder.Read(options.Folder, mappings, options.Reports);
        if (reading.Day is not { } day)
        {
            progress.Dispose();
            Tell(reading, error);
            // What a foreign file says against itself or its mapping is a question to a person, as a cell is that is off.
            return reading.Findings.All(f => mappings.Exists(m => m.Reads(f.File))) ? 1 : Usage.Refused;
        }

        progress.Now("matching and checking");
        // What each cell and each ticket says does not depend on the matching: it is worked out beside it, and then what leads will ask of
        // it.
        var results = Task.Run(() => CellResults.Of(day));
        var ground = options.Out is null ? Task.FromResult<LeadGround?>(null) : Task.Run(async () => LeadGround.Of(day, await results));
        var result = Reconciliation.Of(day, Matched.Of(day), results.GetAwaiter().GetResult());
        if (options.Out is { } file)
        {
            progress.Now("writing the answer");
            try
            {
                using var stream = new FileStream(file, FileMode.Create, FileAccess.Write, FileShare.None, 1 << 16);
                // Leads are written last, so they are looked for while the rest is written.
                var leads = Task.Run(async () => await ground is { } laid ? LeadFinder.Of(result, laid).Leads : []);
                ResultWriter.Write(result, () => leads.GetAwaiter().GetResult(), stream);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                progress.Dispose();
                return Usage.Fail(error, $"{file} cannot be written: {e.Message}");
            }
        }

        progress.Dispose();
        Tell(reading, error);
        if (!options.IsQuiet)
        {
            Summary.Write(result, output);
        }

        return Proves(result) ? 0 : 1;
    }

    private static (Mapping? Mapping, IEnumerable<string> Wrong) ReadMapping(string path)
    {
        try
        {
            var (mapping, findings) = MappingText.Read(Path.GetFileName(path), File.ReadAllText(path));
            return (mapping, findings.Select(f => f.ToString()));
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return (null, [$"{path} cannot be read: {e.Message}"]);
        }
    }

    private static void Tell(DayReading reading, TextWriter error)
    {
        foreach (var finding in reading.Findings.Concat(reading.Remarks))
        {
            error.WriteLine(finding);
        }
    }

    private static bool Proves(Reconciliation result) =>
        result.Cells.All(c => c.State is CellState.Proved or CellState.JournalOnly)
            && result.OpenItems.All(o => o.Item.CarriedFrom is not null)
        && result.TicketFindings.IsEmpty && result.BatchDifferences.IsEmpty;
}
