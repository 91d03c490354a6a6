using System.Diagnostics;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files;
using Fondo.Files.Reading;
using Fondo.Files.Text;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>A file that somebody offers.</summary>
public sealed record OfferedFile(string Name, Func<Stream> Open);

/// <summary>What became of the offer.</summary>
/// <param name="Added">How many records were new.</param>
/// <param name="Findings">Why nothing was taken; empty when it was.</param>
/// <param name="Objection">A reason that is not in a file.</param>
/// <param name="Aside">How many lines wait for a person: they contradict what is there.</param>
public sealed record IntakeResult(DateOnly? Day, int Added, IReadOnlyList<Finding> Findings, IReadOnlyList<Finding> Remarks, string? Objection, int Aside = 0)
{
    public bool IsTaken => Findings.Count == 0 && Objection is null;
}

/// <summary>Takes day folders in: all files or none, and the same file twice changes nothing.</summary>
public sealed class DayIntake(StoreContext db, DayStore days, DayLock guard, DayCache cache, TimeProvider clock)
{
    /// <param name="day">The day that files without day.json belong to.</param>
    /// <param name="progress">Told how far it has come.</param>
    public async Task<IntakeResult> Take(IReadOnlyList<OfferedFile> files, DateOnly? day, string by, IntakeProgress? progress = null)
    {
        try
        {
            return await TakeAll(files, day, by, progress ?? new());
        }
        catch (Exception e) when (e is InvalidDataException or EndOfStreamException)
        {
            return Refuse("One of these files is packed, and damaged, so that it cannot be unpacked; nothing was taken.");
        }
    }

    private async Task<IntakeResult> TakeAll(IReadOnlyList<OfferedFile> files, DateOnly? day, string by, IntakeProgress progress)
    {
        var known = files.Where(f => DayFiles.All.Contains(Path.GetFileName(f.Name))).OrderBy(f => DayFiles.All.IndexOf(Path.GetFileName(f.Name))).ToList();
        if (Unfit(files, known) is { } objection)
        {
            return Refuse(objection);
        }

        var setup = known.FirstOrDefault(f => Path.GetFileName(f.Name) == DayFiles.Setup);
        if (setup is not null)
        {
            // Read once for its date alone: what is known of that day has to be taken before the new files.
            var peek = new DayBuilder();
            Feed(peek, setup, progress);
            if (peek.Setup is null)
            {
                return new(null, 0, peek.Findings, [], null);
            }

            day = peek.Setup.TradingDay.Date;
        }

        if (day is not { } date)
        {
            return Refuse("Without day.json it is not known to which day these files belong. Add it, or choose the day first.");
        }

        var (result, read) = (Refuse(""), (KnownDay?)null);
        var outcome = await guard.Write(date, async () =>
        {
            (result, read) = await TakeInto(date, known, by, progress);
            return result.IsTaken ? Outcome.Done : Outcome.Refused(result.Objection ?? "");
        });
        if (outcome.IsDone && read is not null)
        {
            // Known to nobody before it is written.
            cache.Keep(date, read);
        }

        return outcome.IsDone || result.Findings.Count > 0 || result.Objection?.Length > 0 ? result : Refuse(outcome.Objection!);
    }

    private async Task<(IntakeResult Result, KnownDay? Read)> TakeInto(DateOnly date, List<OfferedFile> files, string by, IntakeProgress progress)
    {
        var row = await db.Days.SingleOrDefaultAsync(d => d.Date == date);
        var began = Stopwatch.GetTimestamp();
        var fresh = new List<RawRecord>();
        var recording = false;
        var builder = new DayBuilder { OnNew = r => { if (recording) { fresh.Add(r); } } };
        if (row is not null)
        {
            builder.Mark(row.HasRows, row.HasLedger);
            await foreach (var record in days.Records(date))
            {
                builder.Take(record);
            }
        }

        recording = true;
        foreach (var file in files)
        {
            Feed(builder, file, progress);
        }

        var reading = builder.Build();
        if (reading.Day is not { } read)
        {
            return (new(date, 0, reading.Findings, [], null), null);
        }

        if (row is null)
        {
            db.Days.Add(row = new DayRow { Date = date, Store = read.Setup.Store });
        }

        if (fresh.Count > 0 || row.HasRows != builder.HasRows || row.HasLedger != builder.HasLedger)
        {
            row.HasRows = builder.HasRows;
            row.HasLedger = builder.HasLedger;
            row.Revision++;
            await db.SaveChangesAsync();
            await RecordWriter.AppendMany(db, date, progress.Writes(fresh), by, clock.GetUtcNow());
            cache.Want(date, row.Revision);
            return (new(date, fresh.Count, [], reading.Remarks, null), KnownDay.Of(row.Revision, read, began));
        }

        return (new(date, fresh.Count, [], reading.Remarks, null), null);
    }

    private static void Feed(DayBuilder builder, OfferedFile file, IntakeProgress progress)
    {
        using var stream = progress.Reads(file.Name, file.Open());
        builder.Take(file.Name, stream);
    }

    private static string? Unfit(IReadOnlyList<OfferedFile> files, List<OfferedFile> known) =>
        known.Count == 0 ? $"None of these files belongs to a day. Fondo takes {string.Join(", ", DayFiles.All)}, or a zip of them."
        : files.Except(known).FirstOrDefault() is { } other ? $"{other.Name} does not belong to a day; nothing was taken. Fondo takes {string.Join(", ", DayFiles.All)}."
        : known.GroupBy(f => Path.GetFileName(f.Name)).FirstOrDefault(g => g.Count() > 1) is { } twice ? $"{twice.Key} is given twice; nothing was taken."
        : null;

    private static IntakeResult Refuse(string objection) => new(null, 0, [], [], objection);
}
