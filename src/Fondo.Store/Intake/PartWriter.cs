using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>What has been written of a part so far.</summary>
internal sealed class WrittenPart
{
    public int Lines { get; set; }

    public int Known { get; set; }

    public List<string> Fresh { get; } = [];

    public List<(LineRead Read, JournalLine Line, string Why, bool IsKept, bool IsConflict)> Aside { get; } = [];

    public PartTaken Told() => new(Fresh.Count, Known,
        [.. Aside.OrderBy(a => a.Line.Line).Select(a => new LineSetAside(a.Line.Line, a.IsKept ? a.Line.Id : null, a.Why, a.IsKept))], [],
        null)
    { Fresh = Fresh };
}

/// <summary>Writes lines as the judge decides, within a transaction that no other writer can enter.</summary>
/// <param name="by">The register that sent them, or the person.</param>
/// <param name="sender">The register whose key was shown; null for files and persons.</param>
/// <param name="isWanted">A person waits for it to be seen.</param>
internal sealed class PartWriter(StoreContext db, SetupBook book, DayLock guard, DateTimeOffset now, LineReader reader, WrittenPart part,
    string by, RegisterId? sender, bool isWanted) : IAsyncDisposable
{
    private const int KeysOfAQuestion = 5_000;

    private readonly FiledInStore _filed = new(db);
    private readonly HashSet<TradingDay> _touched = [], _begun = [];
    private readonly HashSet<string> _freshNow = [];
    private RecordWriter? _writer;
    private bool _isChecked;

    /// <summary>The file that the lines came in.</summary>
    public string? File { get; init; }

    public ValueTask DisposeAsync() => _writer?.DisposeAsync() ?? ValueTask.CompletedTask;

    public async Task Write(IReadOnlyCollection<LineRead> lines)
    {
        if (!_isChecked && !await reader.IsUpToDate())
        {
            // The set-up was changed since they were read.
            reader = new(book);
            var again = new List<LineRead>();
            foreach (var line in lines)
            {
                again.Add(await reader.Read(line.Line));
            }

            lines = again;
        }

        _isChecked = true;
        await _filed.LookUp(lines, reader.Stored);
        var aside = new List<(LineRead Read, Judgement Judged)>();
        foreach (var line in lines.OrderBy(l => LineRead.NamesAnother(l.Event)))
        {
            part.Lines++;
            await Write(line, aside);
        }

        await SetAside(aside);
    }

    /// <summary>What the days need once everything is written.</summary>
    public async Task Finish()
    {
        await TryWaiting();
        await DisposeAsync(); // a day that begins takes records of its own
        _writer = null;
        if (_touched.Count > 0)
        {
            await guard.Grow([.. _touched.Select(d => d.Date)], isWanted);
        }

        await db.SaveChangesAsync();
    }

    private async Task Write(LineRead line, List<(LineRead, Judgement)> aside)
    {
        if (line.Event is not { } e)
        {
            // What cannot even be read is given back, not kept: nobody could say whether it holds a card number.
            aside.Add((line, new(line.Line is { Json.Length: > 0, Id: not null } ? Verdict.SetAside : Verdict.Refused, line.Day,
                new JudgementReason.Unreadable(line.Fault!))));
            return;
        }

        var judged = Judge.Of(e, line.Day, _filed, now, sender);
        if (judged.Verdict == Verdict.Known)
        {
            part.Known++;
            return;
        }

        if (judged is { Verdict: Verdict.Taken } && judged.Day != line.Day && (await reader.Read(line, judged.Day)) is { Fault: { } fault })
        {
            // Its day has another set-up than the day of its time.
            judged = judged with { Verdict = Verdict.SetAside, Why = new JudgementReason.Unreadable(fault) };
        }

        if (judged.Verdict == Verdict.Taken)
        {
            await Keep(line.Line, e, judged.Day);
        }
        else
        {
            aside.Add((line, judged));
        }
    }

    private async Task Keep(JournalLine line, JournalEvent e, TradingDay day)
    {
        await Begin(day);
        _writer ??= await RecordWriter.Of(db);
        _writer.Append(day.Date, new(RecordKind.Event, e.Id.Value, line.Json, e, File, line.Line), by, now);
        _filed.Keep(e, day);
        part.Fresh.Add(e.Id.Value);
        _freshNow.Add(e.Id.Value);
        _touched.Add(day);
    }

    private async Task Begin(TradingDay day)
    {
        if (!_begun.Add(day) || await db.Days.AnyAsync(d => d.Date == day.Date))
        {
            return;
        }

        await DisposeAsync();
        _writer = null;
        await book.Begin(await reader.Held(day), by);
    }

    /// <summary>What waited for an event that has come now is tried again, as often as that helps.</summary>
    private async Task TryWaiting()
    {
        while (_freshNow.Count > 0)
        {
            var came = _freshNow.ToList();
            _freshNow.Clear();
            var waiting = new List<AsideRow>();
            foreach (var some in came.Chunk(KeysOfAQuestion))
            {
                waiting.AddRange(await db.Aside.AsNoTracking()
                    .Where(a => a.Decision == null && a.WaitsFor != null && some.Contains(a.WaitsFor)).OrderBy(a => a.Id).ToListAsync());
            }

            foreach (var row in waiting)
            {
                using var stream = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(row.Json));
                var line = await reader.Read(JournalLine.Of(stream).First());
                await _filed.LookUp([line], reader.Stored);
                if (line.Event is { } e && Judge.Of(e, line.Day, _filed, now) is { Verdict: Verdict.Taken or Verdict.Known } judged)
                {
                    if (judged.Verdict == Verdict.Taken)
                    {
                        await Keep(line.Line with { Line = row.Line }, e, judged.Day);
                    }

                    var reason = $"{row.WaitsFor} has come in";
                    await db.Aside.Where(a => a.Id == row.Id).ExecuteUpdateAsync(s => s
                        .SetProperty(a => a.Decision, "taken").SetProperty(a => a.Reason, reason).SetProperty(a => a.DecidedBy, by)
                        .SetProperty(a => a.DecidedAt, now));
                    var state = AsideRow.StateOf(row.Id, "taken", reason, by, now);
                    await db.Note(state.By(TrailAct.Decide, by, row.Key, $"taken: {reason}"));
                }
            }
        }
    }

    /// <summary>Keeps what waits for a person, once.</summary>
    private async Task SetAside(List<(LineRead Read, Judgement Judged)> aside)
    {
        if (aside.Count == 0)
        {
            return;
        }

        var ids = aside.Where(a => a.Judged.Verdict == Verdict.SetAside).Select(a => a.Read.Line.Id!).Distinct().ToList();
        var there = (await db.Aside.AsNoTracking().Where(a => ids.Contains(a.Key) && (a.Decision == null || a.IsConflict))
            .Select(a => new { a.Key, a.Json }).ToListAsync())
            .Select(a => (a.Key, a.Json)).ToHashSet();
        foreach (var (read, judged) in aside)
        {
            var (isKept, why) = (judged.Verdict == Verdict.SetAside, JudgementText.Of(judged.Why!));
            part.Aside.Add((read, read.Line, why, isKept, judged.IsConflict));
            if (isKept && there.Add((read.Line.Id!, read.Line.Json)))
            {
                db.Aside.Add(new()
                {
                    Register = read.Event?.Register.Value ?? read.Line.Register ?? by,
                    Key = read.Line.Id!,
                    Json = read.Line.Json,
                    Why = why,
                    IsConflict = judged.IsConflict,
                    WaitsFor = judged.WaitsFor?.Value,
                    From = by,
                    Line = read.Line.Line,
                    At = now,
                });
            }
        }

        await db.SaveChangesAsync();
        db.ChangeTracker.Clear();
    }
}
