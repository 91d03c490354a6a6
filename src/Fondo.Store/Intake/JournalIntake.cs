using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Files.Text;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>One line of a part that was not taken as it stands.</summary>
/// <param name="IsKept">Whether it waits for a person; false when it must not be kept.</param>
public sealed record LineSetAside(int Line, string? Id, string Why, bool IsKept);

/// <summary>What became of a part of a journal.</summary>
/// <param name="Taken">How many events were new.</param>
/// <param name="Known">How many were there already, alike.</param>
/// <param name="Refusal">Why nothing at all was taken.</param>
public sealed record PartTaken(int Taken, int Known, IReadOnlyList<LineSetAside> Aside, IReadOnlyList<Finding> Findings, string? Refusal)
{
    /// <summary>The ids of the new events.</summary>
    public IReadOnlyCollection<string> Fresh { get; init; } = [];

    /// <summary>Whether it would be taken a moment later.</summary>
    public bool IsLater { get; init; }

    /// <summary>Why other persons have to agree first; null where none has to.</summary>
    public FilesWait? Waits { get; init; }

    public static readonly PartTaken Nothing = new(0, 0, [], [], null);

    public static PartTaken Refused(string why) => Nothing with { Refusal = why };
}

/// <summary>Takes a register's journal in as it comes: in parts, late, twice, out of order.</summary>
public sealed class JournalIntake(StoreContext db, SetupBook book, DayLock guard, PersonsWord word, TimeProvider clock)
{
    /// <summary>So many lines of a part are written at once; between, others may write.</summary>
    private const int Step = 250;

    private static readonly TimeSpan _breath = TimeSpan.FromMilliseconds(5);

    /// <summary>A part over HTTP, line by line: what cannot be taken waits for a person, and the rest is taken.</summary>
    /// <param name="register">The register whose key was shown.</param>
    public async Task<PartTaken> TakePart(Stream lines, string register)
    {
        var reader = new LineReader(book);
        if (await reader.Latest() is null)
        {
            return PartTaken.Refused(NothingSetUp);
        }

        var part = new WrittenPart();
        foreach (var some in JournalLine.Of(lines).Chunk(Step))
        {
            if (part.Lines > 0)
            {
                await Task.Delay(_breath);
            }

            // Read before anything is locked.
            var read = await Read(reader, some);
            try
            {
                await using var transaction = await db.BeginWriting();
                await using (var writer =
                    new PartWriter(db, book, guard, clock.GetUtcNow(), reader, part, register, new(register), isWanted: false))
                {
                    await writer.Write(read);
                    await writer.Finish();
                }

                await transaction.CommitAsync();
            }
            catch (Exception e) when (IsTwice(e))
            {
                // A file that is being taken in holds the same events, and nobody sees them yet.
                return PartTaken.Refused(
                    "A file with these events is being imported right now. Send this part again in a moment.") with
                {
                    IsLater = true
                };
            }

            db.ChangeTracker.Clear();
        }

        return part.Told();
    }

    /// <summary>A file: taken whole, or not at all; only contradictions to what is there wait for a person.</summary>
    public async Task<PartTaken> TakeFile(Stream lines, string by, string? file = null)
    {
        var reader = new LineReader(book);
        if (await reader.Latest() is null)
        {
            return PartTaken.Refused(NothingSetUp);
        }

        var read = new List<LineRead>();
        var findings = new List<Finding>();
        foreach (var line in JournalLine.Of(lines))
        {
            var one = await reader.Read(line);
            read.Add(one);
            if (one.Fault is { } fault)
            {
                findings.Add(new("journal.jsonl", line.Line, null, null, fault));
                if (findings.Count == Findings.Most)
                {
                    break;
                }
            }
        }

        if (findings.Count > 0)
        {
            return new(0, 0, [], findings, null);
        }

        await using var transaction = await db.BeginWriting();
        var before = await word.Before(read.Select(l => l.Day.Date).Distinct());
        var part = await Write(read, reader, by, file, findings);
        if (findings.Count > 0)
        {
            db.ChangeTracker.Clear();
            return new(0, 0, [], findings, null);
        }

        if (await word.Wait(before, file ?? "journal.jsonl", []) is { } waits)
        {
            db.ChangeTracker.Clear();
            return PartTaken.Nothing with { Waits = waits };
        }

        await transaction.CommitAsync();
        return part.Told();
    }

    /// <summary>The same within a transaction that is there, for lines that a file held beside others.</summary>
    /// <param name="findings">Why nothing may be taken, where something may not.</param>
    internal async Task<WrittenPart> Write(IReadOnlyList<LineRead> read, LineReader reader, string by, string? file, List<Finding> findings)
    {
        var part = new WrittenPart();
        await using var writer = new PartWriter(db, book, guard, clock.GetUtcNow(), reader, part, by, null, isWanted: true) { File = file };
        foreach (var some in read.OrderBy(l => LineRead.NamesAnother(l.Event)).Chunk(Step))
        {
            await writer.Write(some);
        }

        findings.AddRange(part.Aside.Where(a => !a.IsConflict).Select(a => new Finding("journal.jsonl", a.Line.Line, null, null, a.Why))
            .Take(Findings.Most));
        if (findings.Count == 0)
        {
            await writer.Finish();
        }

        return part;
    }

    /// <summary>Tries once more to take a line that waits for a person; null when it was taken, else why not. Within a
    /// transaction.</summary>
    internal async Task<string?> TryAgain(AsideRow aside, string by)
    {
        var reader = new LineReader(book);
        if (await reader.Latest() is null)
        {
            return NothingSetUp;
        }

        using var stream = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(aside.Json));
        var read = await Read(reader, JournalLine.Of(stream));
        if (read is not [{ Fault: null }])
        {
            return read is [{ Fault: { } fault }] ? fault : "it cannot be read";
        }

        var findings = new List<Finding>();
        var part = await Write(read, reader, by, null, findings);
        return findings.Count > 0 ? findings[0].Message : part.Aside is [var still, ..] ? still.Why : null;
    }

    /// <summary>Puts the contents that wait in the place of those that are there; both are kept. Null when done, else why not. Within a
    /// transaction.</summary>
    internal async Task<string?> TakeInstead(AsideRow aside, string by, string reason)
    {
        var (key, json) = await OpenedOtherwise(aside) ?? (aside.Key, aside.Json);
        if (await db.Events.AsNoTracking().Where(e => e.Key == key).Select(e => new { e.Id, e.Day, e.Kind, e.Original })
            .SingleOrDefaultAsync() is not { } there)
        {
            return "the event that it contradicts is no longer there";
        }

        if (await db.StandingCloses.AnyAsync(c => c.Day == there.Day))
        {
            return "that day is closed and stays as it is";
        }

        var (reader, day) = (new LineReader(book), new TradingDay(there.Day));
        using var stream = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(json));
        var line = await reader.Read(new LineRead(JournalLine.Of(stream).First(), day, null, null), day);
        if (line.Event is not { } e)
        {
            return line.Fault;
        }

        // What is there gives way: the judge looks at the rest of the day.
        await RecordWriter.Unindex(db, there.Id);
        var filed = new FiledInStore(db);
        await filed.LookUp([line with { Day = Placement.ByClock(e.At, (await reader.Held(day)).Setup) }, line], reader.Stored);
        var isVoided = await db.Events.AnyAsync(x => x.Original == key && x.Kind == EventKind.Void);
        // A ticket that was counted on a closed day stays as it is, and so does what voids it.
        var moved = await db.LateTickets.Where(t => t.Ticket == key || (there.Kind == EventKind.Void && t.Ticket == there.Original))
            .Select(t => (DateOnly?)t.CountsOn).FirstOrDefaultAsync();
        var judged = Judge.Instead(e, new(there.Kind, day, moved is { } counted ? new TradingDay(counted) : null), isVoided, filed,
            Placement.ByClock(e.At, (await reader.Held(day)).Setup), clock.GetUtcNow());
        if (judged.Why is { } why)
        {
            return JudgementText.Of(why);
        }

        var version = await db.Records.Where(r => r.Day == there.Day && r.Kind == RecordKind.Event && r.Key == key)
            .MaxAsync(r => r.Version);
        await using (var writer = await RecordWriter.Of(db))
        {
            writer.Append(there.Day, new(RecordKind.Event, key, json, e, Line: aside.Line), by, clock.GetUtcNow(), reason, version + 1);
        }

        await guard.Revise(there.Day);
        return null;
    }

    /// <summary>An opening that contradicts another one of its drawer session stands under another id: the key of the one that is there,
    /// and the contents with that id.</summary>
    private async Task<(string Key, string Json)?> OpenedOtherwise(AsideRow aside)
    {
        using var stream = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(aside.Json));
        if (await db.Events.AnyAsync(e => e.Key == aside.Key)
            || await new LineReader(book).Read(JournalLine.Of(stream).First()) is not { Event: SessionOpen { Drawer: { } drawer } } line
            || await db.Events.Where(e => e.Day == line.Day.Date && e.Kind == EventKind.Open && e.Drawer == drawer.Value).Select(e => e.Key)
                .FirstOrDefaultAsync() is not { } there)
        {
            return null;
        }

        var json = System.Text.Json.Nodes.JsonNode.Parse(aside.Json)!;
        json["id"] = there;
        return (there, json.ToJsonString());
    }

    /// <summary>SQLITE_CONSTRAINT.</summary>
    private static bool IsTwice(Exception? e) =>
        e is not null && (e is Microsoft.Data.Sqlite.SqliteException { SqliteErrorCode: 19 } || IsTwice(e.InnerException));

    private const string NothingSetUp = "The store is not set up yet. A supervisor must add registers and terminals first.";

    private static async Task<List<LineRead>> Read(LineReader reader, IEnumerable<JournalLine> lines)
    {
        var read = new List<LineRead>();
        foreach (var line in lines)
        {
            read.Add(await reader.Read(line));
        }

        return read;
    }
}
