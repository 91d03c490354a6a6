using System.Diagnostics;
using System.Text.Json;
using System.Text.Json.Nodes;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Files;
using Fondo.Files.Mapping;
using Fondo.Files.Reading;
using Fondo.Files.Text;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>A file that somebody offers.</summary>
public sealed record OfferedFile(string Name, Func<Stream> Open)
{
    /// <summary>What a report beside it says; null where nobody typed it.</summary>
    public ReportFigures? Report { get; init; }
}

/// <summary>What became of the offer.</summary>
/// <param name="Added">How many records were new.</param>
/// <param name="Findings">Why nothing was taken; empty when it was.</param>
/// <param name="Objection">A reason that is not in a file.</param>
/// <param name="Aside">How many lines wait for a person: they contradict what is there.</param>
public sealed record IntakeResult(DateOnly? Day, int Added, IReadOnlyList<Finding> Findings, IReadOnlyList<Finding> Remarks,
    string? Objection, int Aside = 0)
{
    public bool IsTaken => Findings.Count == 0 && Objection is null && Waits is null;

    /// <summary>How many of the new rows say again what was known under another number (rules §5).</summary>
    public int Again { get; init; }

    /// <summary>Why other persons have to agree first; null where none has to.</summary>
    public FilesWait? Waits { get; init; }
}

/// <summary>Takes day folders in: all files or none, and the same file twice changes nothing.</summary>
public sealed class DayIntake(StoreContext db, StoredRecords records, DayLock guard, DayCache cache, SetupBook book, JournalIntake journal,
    LateTickets late, PersonsWord word, TimeProvider clock)
{
    /// <summary>So often files are read again because the day grew meanwhile; then once more while nobody else can write.</summary>
    private const int MostTries = 5;

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
            return Refuse("One of these packed files is damaged. Nothing was imported.");
        }
    }

    private async Task<IntakeResult> TakeAll(IReadOnlyList<OfferedFile> files, DateOnly? day, string by, IntakeProgress progress)
    {
        var (offer, refusal) = await Offered(files, day, progress);
        if (offer is null)
        {
            return refusal!;
        }

        await using var staging = new Staging();
        for (var tries = 1; ; tries++)
        {
            if (await Try(offer, staging, isLast: tries == MostTries, by, progress) is { } result)
            {
                return result with { Remarks = [.. offer.PassedOver, .. result.Remarks] };
            }
        }
    }

    /// <summary>Files of one day, in the order in which they are read.</summary>
    /// <param name="PassedOver">What a set-up among them says otherwise than the store's.</param>
    private sealed record Offer(DateOnly Date, List<OfferedFile> Files, IReadOnlyList<Finding> PassedOver);

    private async Task<(Offer? Offer, IntakeResult? Refusal)> Offered(IReadOnlyList<OfferedFile> files, DateOnly? day,
        IntakeProgress progress)
    {
        var known = files.Where(f => DayFiles.All.Contains(Path.GetFileName(f.Name)))
            .OrderBy(f => DayFiles.All.IndexOf(Path.GetFileName(f.Name))).ToList();
        if (Unfit(files, known) is { } objection)
        {
            return (null, Refuse(objection));
        }

        var setup = known.FirstOrDefault(f => Path.GetFileName(f.Name) == DayFiles.Setup);
        var offered = "";
        if (setup is not null)
        {
            // Read once for its date alone: what is known of that day has to be taken before the new files.
            var peek = new DayBuilder { OnNew = r => offered = r.Json };
            Feed(peek, setup, progress);
            if (peek.Setup is null)
            {
                return (null, new(null, 0, peek.Findings, [], null));
            }

            day = peek.Setup.TradingDay.Date;
        }

        if (day is not { } date)
        {
            return (null, Refuse("These files do not say which day they belong to. Add day.json, or choose the day first."));
        }

        if (await book.For(date) is not { } held)
        {
            return (new(date, known, []), null);
        }

        // The store's own set-up is never replaced by a file.
        known.RemoveAll(f => f == setup);
        if (!await db.Days.AnyAsync(d => d.Date == date))
        {
            known.Insert(0, new(DayFiles.Setup, () => new MemoryStream(System.Text.Encoding.UTF8.GetBytes(held.Json))));
        }

        return (new(date, known, setup is null ? [] : PassedOver(held.Json, offered)), null);
    }

    /// <summary>The records of large files, written where nobody sees them before they are published.</summary>
    private sealed class Staging : IAsyncDisposable
    {
        private ReadFiles? _of;

        public StagedRecords? Records { get; private set; }

        public async ValueTask DisposeAsync()
        {
            if (Records is not null)
            {
                await Records.DisposeAsync();
            }

            Records = null;
        }

        /// <summary>What was staged of other records than these is thrown away.</summary>
        public async Task KeepOnly(ReadFiles? read)
        {
            if (Records is not null && (read is null || !read.HoldsTheSame(_of!)))
            {
                await DisposeAsync();
            }
        }

        public void Hold(StagedRecords? records, ReadFiles of) => (Records, _of) = (records, of);
    }

    /// <summary>Reads, works out and writes; null where the day grew meanwhile and all has to be read again.</summary>
    /// <param name="isLast">All is read once more while nobody else can write.</param>
    private async Task<IntakeResult?> Try(Offer offer, Staging staging, bool isLast, string by, IntakeProgress progress)
    {
        var date = offer.Date;
        // What takes long is done before anything is locked; only when the day grew each time, while it is.
        var read = isLast ? null : await Read(date, offer.Files, progress);
        if (read is { Refusal: { } refusal })
        {
            return refusal;
        }

        // What was read is worked out beside the writing; nobody sees what is written before that is done.
        await staging.KeepOnly(read);
        if (staging.Records is null && read is { Fresh.Count: >= StagedRecords.Many })
        {
            staging.Hold(await StagedRecords.Write(db, date, read.Fresh, by, clock.GetUtcNow(), progress), read);
            if (staging.Records is null)
            {
                return null;
            }
        }

        if (read is not null && (await read.Working).Refusal is { } impossible)
        {
            return impossible;
        }

        var (result, isStale) = (Refuse(""), false);
        var outcome = await guard.Write(date, async () =>
        {
            read ??= await Read(date, offer.Files, progress);
            isStale = read.Refusal is null && !await IsStill(read);
            var worked = await read.Working;
            result = read.Refusal ?? worked.Refusal
                ?? (isStale ? Refuse("") : await Write(read, worked.Day, staging.Records, offer.Files, by, progress));
            return result.IsTaken ? Outcome.Done : Outcome.Refused(result.Objection ?? "");
        });
        if (isStale && !isLast)
        {
            return null;
        }

        if (outcome.IsDone)
        {
            await Show(read!, staging.Records, result.Added);
        }

        return outcome.IsDone || result.Findings.Count > 0 || result.Objection?.Length > 0 || result.Waits is not null
            ? result
            : Refuse(outcome.Objection!);
    }

    /// <summary>What was taken in is shown from now on; what was worked out of it is kept.</summary>
    private async Task Show(ReadFiles read, StagedRecords? staged, int added)
    {
        if (staged is not null)
        {
            staged.Published();
            cache.ForgetAssembly(read.Date);
        }

        if (added == 0)
        {
            return;
        }

        var revision = await db.Days.Where(d => d.Date == read.Date).Select(d => d.Revision).SingleAsync();
        cache.Want(read.Date, revision);
        if ((await read.Working).Day is { } grown && grown.Revision == revision && added == read.Fresh.Count)
        {
            cache.Keep(read.Date, grown);
        }
    }

    /// <summary>What was read of files, together with what is there.</summary>
    /// <param name="Revision">Of the day as it was then; 0 where it had not begun.</param>
    /// <param name="Strays">Events that by their time are of another day.</param>
    private sealed record ReadFiles(int Revision, DayBuilder Builder, IReadOnlyList<RawRecord> Fresh, IReadOnlyList<RawRecord> Strays,
        IReadOnlyList<Finding> Remarks, Day? Day, Task<Worked> Working, IntakeResult? Refusal)
    {
        public DateOnly Date => Builder.Setup!.TradingDay.Date;

        /// <summary>Whether the same records are new as were new then.</summary>
        public bool HoldsTheSame(ReadFiles then) =>
            Fresh.Select(r => (r.Kind, r.Key, r.Json)).SequenceEqual(then.Fresh.Select(r => (r.Kind, r.Key, r.Json)));
    }

    /// <summary>The day as it is once what was read is written to it; or why it cannot be worked out.</summary>
    private sealed record Worked(KnownDay? Day, IntakeResult? Refusal)
    {
        public static readonly Task<Worked> Nothing = Task.FromResult(new Worked(null, null));
    }

    private async Task<ReadFiles> Read(DateOnly date, List<OfferedFile> files, IntakeProgress progress)
    {
        var began = Stopwatch.GetTimestamp();
        var row = await db.Days.AsNoTracking().SingleOrDefaultAsync(d => d.Date == date);
        var (fresh, recording) = (new List<RawRecord>(), false);
        var builder = new DayBuilder { OnNew = r => { if (recording) { fresh.Add(r); } } };
        ReadFiles Refused(IntakeResult why) => new(row?.Revision ?? 0, builder, [], [], [], null, Worked.Nothing, why);
        if (row is not null)
        {
            builder.Mark(row.HasRows, row.HasLedger);
            await foreach (var record in records.Of(date))
            {
                builder.Take(record);
            }

            if (builder.Unread is [var unread, ..])
            {
                return Refused(
                    Refuse(
                        $"{date:yyyy-MM-dd} cannot be read: {unread.Key}, {unread.Why}. Open it and set that record aside first."));
            }
        }

        recording = true;
        foreach (var file in files)
        {
            Feed(builder, file, progress);
        }

        await MarkWhatIsKnown(date, builder, fresh);
        var strays = builder.Setup is null ? [] : await SortOut(date, builder, fresh);
        var reading = builder.Build();
        if (reading.Day is not { } day)
        {
            return Refused(new(date, 0, reading.Findings, [], null));
        }

        var placed = await DayAssembly.Complete(day, db, late);
        var revision = row?.Revision ?? 0;
        return new(revision, builder, fresh, strays, reading.Remarks, placed, Task.Run(() => Work(revision + 1, placed, began)), null);
    }

    private static Worked Work(int revision, Day day, long began)
    {
        try
        {
            return new(KnownDay.Of(revision, day, began), null);
        }
        catch (Exception e) when (Culprit.IsOfTheData(e))
        {
            var culprit = Culprit.Of(day, e.Message);
            return new(null, Refuse($"Nothing was imported: {culprit.Key}: {culprit.Why}."));
        }
    }

    /// <summary>Marks the rows whose transaction another day has (rules §5): they count there.</summary>
    private async Task MarkWhatIsKnown(DateOnly date, DayBuilder builder, List<RawRecord> fresh)
    {
        var rows = builder.RowsFromFiles.Where(r => r.Card.Rrn is { Length: > 0 }).ToList();
        if (rows.Count == 0)
        {
            return;
        }

        var currency = builder.Setup!.Currency;
        var there = await RowsOfOtherDays(date, rows.Select(r => r.Card.Rrn!).Distinct());
        var known = rows.Select(r => (r.Key, Days: there[(r.Key.Terminal.Value, r.Direction.Written(), currency.Format(r.Amount),
                r.Card.Rrn)]))
            .Where(r => r.Days.Any()).ToDictionary(r => r.Key.ToString(), r => (r.Key, Day: r.Days.Min()), StringComparer.Ordinal);
        for (var place = 0; known.Count > 0 && place < fresh.Count; place++)
        {
            if (fresh[place].Kind == RecordKind.Row && known.TryGetValue(fresh[place].Key, out var row))
            {
                builder.CountsElsewhere(row.Key);
                fresh[place] = fresh[place].On(row.Day);
            }
        }
    }

    /// <summary>By terminal, direction, amount and reference, the other days that have such a row.</summary>
    private async Task<ILookup<(string?, string?, string?, string?), DateOnly>> RowsOfOtherDays(DateOnly date,
        IEnumerable<string> references)
    {
        var wanted = JsonSerializer.Serialize(references);
        var ids = await db.Database.SqlQuery<long>($"""
            SELECT Id AS Value FROM Records WHERE Kind = 'row' AND Json <> '' AND Day <> {date}
              AND json_extract(Json, '$.rrn') IN (SELECT value FROM json_each({wanted}))
            """).ToListAsync();
        var rows = ids.Count == 0
            ? []
            : await db.StandingRecords.Where(r => ids.Contains(r.Id)).Select(r => new { r.Day, r.Json }).ToListAsync();
        return rows.Select(r => (r.Day, Json: JsonNode.Parse(r.Json)!)).Where(r => r.Json[RawRecord.CountsOn] is null)
            .ToLookup(r => ((string?)r.Json["terminal"], (string?)r.Json["type"], (string?)r.Json["amount"], (string?)r.Json["rrn"]),
                r => r.Day);
    }

    /// <summary>Takes out of the files' events what the store has on another day, and what by its time is of another day.</summary>
    private async Task<List<RawRecord>> SortOut(DateOnly date, DayBuilder builder, List<RawRecord> fresh)
    {
        var events = fresh.Where(r => r.Kind == RecordKind.Event).ToList();
        if (events.Count == 0)
        {
            return [];
        }

        var keys = JsonSerializer.Serialize(events.Select(r => r.Key));
        var elsewhere = await db.Database.SqlQuery<Elsewhere>($"""
            SELECT Key, Day FROM Events
            WHERE Key IN (SELECT value FROM json_each({keys})) AND Day <> {date}
              AND NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE Events.Id BETWEEN o.First AND o.Last)
            """).ToDictionaryAsync(e => e.Key, e => e.Day);
        var ofFolder = events.Select(r => r.Key).ToHashSet();
        var opens = events.Select(r => r.Event).OfType<SessionOpen>().Where(o => o.Drawer is not null).Select(o => o.Drawer!.Value.Value)
            .ToList();
        // What a person opened on the page is the same opening, or a question: not a reason to refuse the file.
        var opened = opens.Count == 0
            ? []
            : (await db.Events.AsNoTracking().Where(e => e.Day == date && e.Kind == EventKind.Open && opens.Contains(e.Drawer!))
                .Select(e => e.Drawer!).ToListAsync()).ToHashSet();
        var (setup, strays, gone) = (builder.Setup!, new List<RawRecord>(), new HashSet<string>());
        foreach (var record in events)
        {
            var e = record.Event!;
            var isOfTheDay = Placement.ByClock(e.At, setup).Date == date
                || (e is VoidEvent or Recall && EventOriginal.Of(e) is { } named && ofFolder.Contains(named.Value));
            if (!isOfTheDay || elsewhere.ContainsKey(record.Key)
                || (e is SessionOpen && e.Drawer is { } drawer && opened.Contains(drawer.Value)))
            {
                strays.Add(record);
                gone.Add(record.Key);
                builder.Forget(e.Id);
            }
        }

        fresh.RemoveAll(r => r.Kind == RecordKind.Event && gone.Contains(r.Key));
        return strays;
    }

    private sealed record Elsewhere(string Key, DateOnly Day);

    private async Task<bool> IsStill(ReadFiles read) => (await db.Days.AsNoTracking().Where(d => d.Date == read.Date)
        .Select(d => (int?)d.Revision).SingleOrDefaultAsync() ?? 0) == read.Revision;

    /// <param name="grown">The day with what was read, worked out.</param>
    private async Task<IntakeResult> Write(ReadFiles read, KnownDay? grown, StagedRecords? staged, IReadOnlyList<OfferedFile> files,
        string by, IntakeProgress progress)
    {
        var (date, builder) = (read.Date, read.Builder);
        var before = await word.Before(read.Strays.Select(s => Placement.ByClock(s.Event!.At, builder.Setup!).Date).Append(date));
        var row = await db.Days.SingleOrDefaultAsync(d => d.Date == date);
        if (row is null)
        {
            db.Days.Add(row = new DayRow { Date = date, Store = builder.Setup!.Store });
        }

        var isChanged = read.Fresh.Count > 0 || row.HasRows != builder.HasRows || row.HasLedger != builder.HasLedger;
        (row.HasRows, row.HasLedger) = (builder.HasRows, builder.HasLedger);
        await db.SaveChangesAsync();
        db.ChangeTracker.Clear();
        if (staged is not null)
        {
            await staged.Publish();
        }
        else if (read.Fresh.Count > 0)
        {
            await RecordWriter.Append(db, date, progress.Writes(read.Fresh), by, clock.GetUtcNow());
        }

        if (isChanged)
        {
            await guard.Grow([date], isWanted: false);
        }

        var written = new WrittenPart();
        if (read.Strays.Count > 0)
        {
            // What is of another day goes there, or is known there, as if its journal had come alone.
            var (reader, findings, lines) = (new LineReader(book), new List<Finding>(), new List<LineRead>());
            foreach (var stray in read.Strays)
            {
                using var stream = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(stray.Json));
                lines.Add(await reader.Read(JournalLine.Of(stream).First() with { Line = stray.Line }));
            }

            findings.AddRange(lines.Where(l => l.Fault is not null)
                .Select(l => new Finding(DayFiles.Journal, l.Line.Line, null, null, l.Fault!)));
            if (findings.Count == 0)
            {
                written = await journal.Write(lines, reader, by, DayFiles.Journal, findings);
            }

            if (findings.Count > 0)
            {
                return new(date, 0, findings, [], null);
            }
        }

        var counted = read.Fresh.Where(r => r.Kind == RecordKind.Count).Select(r => r.Key).ToHashSet(StringComparer.Ordinal);
        var waits = await word.Wait(before, string.Join(", ", files.Select(f => Path.GetFileName(f.Name)).Where(n => n != DayFiles.Setup)),
            read.Day!.Counts.Where(c => counted.Contains(c.Id)), grown);
        var rows = read.Fresh.Where(r => r.Kind == RecordKind.Row).Select(r => r.Key).ToHashSet(StringComparer.Ordinal);
        return new(date, read.Fresh.Count + written.Fresh.Count, [], read.Remarks, null, written.Aside.Count)
        {
            Waits = waits,
            Again = rows.Count == 0 ? 0 : read.Day.RowsAgain.Count(r => rows.Contains(r.Key.ToString())),
        };
    }

    private static void Feed(DayBuilder builder, OfferedFile file, IntakeProgress progress)
    {
        using var stream = progress.Reads(file.Name, file.Open());
        builder.Take(file.Name, stream);
    }

    private static IReadOnlyList<Finding> PassedOver(string holds, string offered) =>
        SetupComparison.Of(holds, offered) is { IsEmpty: false } differences
        ? [new(DayFiles.Setup, 0, null, null,
            $"This file differs from the store’s set-up, so Fondo used the store’s. The file says {string.Join("; ", differences)}.")] : [];

    private static string? Unfit(IReadOnlyList<OfferedFile> files, List<OfferedFile> known) =>
        known.Count == 0 ? $"None of these files belongs to a day. Fondo imports {string.Join(", ", DayFiles.All)}, or a zip of them."
        : files.Except(known)
            .FirstOrDefault() is { } other
            ? $"{other.Name} does not belong to a day. Nothing was imported. Fondo imports {string.Join(", ", DayFiles.All)}."
        : known.GroupBy(f => Path.GetFileName(f.Name))
            .FirstOrDefault(g => g.Count() > 1) is { } twice ? $"{twice.Key} was given twice. Nothing was imported."
        : null;

    private static IntakeResult Refuse(string objection) => new(null, 0, [], [], objection);
}
