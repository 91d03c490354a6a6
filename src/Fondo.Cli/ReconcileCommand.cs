using Fondo.Core.Days;
using Fondo.Files.Reading;
using Fondo.Files.Writing;

namespace Fondo.Cli;

/// <summary><c>reconcile DAY_FOLDER --out FILE</c>: the whole computation without database and server.
/// Exit status 0 the day proves, 1 something is off or open, 2 the input was refused.</summary>
public static class ReconcileCommand
{
    public static int Run(IReadOnlyList<string> args, TextWriter output, TextWriter error)
    {
        if (args is not [var folder, "--out", var file])
        {
            return Usage.Fail(error, "reconcile DAY_FOLDER --out FILE");
        }

        Memory.ReadWithoutCollecting(folder);
        var reading = DayFolder.Read(folder);
        foreach (var finding in reading.Findings.Concat(reading.Remarks))
        {
            error.WriteLine(finding);
        }

        if (reading.Day is not { } day)
        {
            return Usage.Refused;
        }

        var result = Reconciliation.Of(day);
        try
        {
            using var stream = new FileStream(file, FileMode.Create, FileAccess.Write, FileShare.None, 1 << 16);
            ResultWriter.Write(result, stream);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return Usage.Fail(error, $"{file} cannot be written: {e.Message}");
        }

        Summary.Write(result, output);
        return Proves(result) ? 0 : 1;
    }

    private static bool Proves(Reconciliation result) =>
        result.Cells.All(c => c.State is CellState.Proved or CellState.JournalOnly) && result.OpenItems.All(o => o.Item.CarriedFrom is not null) && result.BatchDifferences.IsEmpty;
}
