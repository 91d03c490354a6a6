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
using Fondo.Files.Reading;
using Fondo.Files.Text;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>One line of a part that was not taken as it stands.</summary>
/// <param name="IsKept">Whether it waits for a person; false when it holds what must not be kept.</param>
public sealed record LineSetAside(int Line, string? Id, string Why, bool IsKept);

/// <summary>What became of a part of a journal.</summary>
/// <param name="Taken">How many events were new.</param>
/// <param name="Known">How many were there already, alike.</param>
/// <param name="Refusal">Why nothing at all was taken.</param>
public sealed record PartTaken(int Taken, int Known, IReadOnlyList<LineSetAside> Aside, IReadOnlyList<Finding> Findings, string? Refusal)
{
    /// <summary>The ids of the new events.</summary>
    public IReadOnlyCollection<string> Fresh { get; init; } = [];

    public static PartTaken Refused(string why) => new(0, 0, [], [], why);
}

/// <summary>Takes a register's journal in as it comes: in parts, late, twice, out of order.</summary>
public sealed class JournalIntake(StoreContext db, SetupBook book, DayLock guard, TimeProvider clock)
{
    /// <summary>So many lines are looked up at once.</summary>
    private const int LookUp = 200;

    private static readonly TimeSpan _ahead = TimeSpan.FromMinutes(60);

    /// <summary>A part over HTTP: what cannot be taken waits for a person, and the rest is taken.</summary>
    /// <param name="register">The register whose key was shown.</param>
    public Task<PartTaken> TakePart(Stream lines, string register) => Take(lines, register, register, wholeOnly: false);

    /// <summary>A file: taken whole, or not at all; only contradictions to what is there wait for a person.</summary>
    public Task<PartTaken> TakeFile(Stream lines, string by) => Take(lines, null, by, wholeOnly: true);

    /// <summary>Tries once more to take a line that waits for a person; null when it was taken, else why not.</summary>
    public async Task<string?> TryAgain(AsideRow aside, string by)
    {
        using var line = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(aside.Json));
        var part = await Take(line, null, by, wholeOnly: true);
        return part.Findings.Count > 0 ? part.Findings[0].Message : part.Refusal ?? (part.Aside is [var first, ..] ? first.Why : null);
    }

    /// <summary>Puts the contents that wait in the place of those that are there; both are kept. Null when done, else why not.</summary>
    public async Task<string?> TakeInstead(AsideRow aside, string by, string reason)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var there = await db.Events.AsNoTracking().Where(e => e.Key == aside.Key).Select(e => new { e.Id, e.Day }).ToListAsync();
        if (there.Count == 0)
        {
            return "The event that it contradicts is no longer there.";
        }

        var day = there[0].Day;
        if (await db.Closes.AnyAsync(c => c.Day == day))
        {
            return "That day is closed and stays as it is.";
        }

        var lines = new EventLines((await book.For(day))!.Setup);
        var (e, findings, _) = lines.Read(System.Text.Encoding.UTF8.GetBytes(aside.Json), 1);
        if (e is null)
        {
            return findings[0].Message;
        }

        var ids = there.Select(t => t.Id).ToList();
        var version = await db.Records.Where(r => r.Day == day && r.Kind == RecordKind.Event && r.Key == aside.Key).MaxAsync(r => r.Version);
        await db.Events.Where(x => ids.Contains(x.Id)).ExecuteDeleteAsync();
        foreach (var id in ids)
        {
            await db.Tenders.Where(t => t.Id > id * TenderRow.PlacesOfATicket && t.Id < (id + 1) * TenderRow.PlacesOfATicket).ExecuteDeleteAsync();
        }

        await using (var writer = await RecordWriter.Of(db))
        {
            writer.Append(day, new(RecordKind.Event, aside.Key, aside.Json, e), by, clock.GetUtcNow(), reason, version + 1);
        }

        await guard.Revise(day);
        await transaction.CommitAsync();
        return null;
    }

    private async Task<PartTaken> Take(Stream lines, string? register, string by, bool wholeOnly)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var part = new Part(db, book, guard, clock, register, by, isWanted: wholeOnly);
        await using (part)
        {
            foreach (var some in JsonLines.Of(lines).Select(l => (l.Line, l.Bytes, Glance: EventGlance.Of(l.Bytes))).Chunk(LookUp))
            {
                await part.LookUp(some.Select(l => l.Glance.Id));
                foreach (var (line, bytes, glance) in some)
                {
                    await part.Take(line, bytes, glance);
                }

                if (wholeOnly && part.Findings.Count >= Findings.Most)
                {
                    break;
                }
            }

            if (part.Refusal is { } refusal)
            {
                return PartTaken.Refused(refusal);
            }

            if (wholeOnly && part.Findings.Count > 0)
            {
                db.ChangeTracker.Clear();
                return new(0, 0, [], part.Findings, null);
            }

            await part.Finish();
        }

        await transaction.CommitAsync();
        return new(part.Taken, part.Known, part.Aside, [], null) { Fresh = part.Fresh };
    }

    /// <summary>One part on its way in.</summary>
    /// <param name="isWanted">A person waits for it to be seen.</param>
    private sealed class Part(StoreContext db, SetupBook book, DayLock guard, TimeProvider clock, string? register, string by, bool isWanted) : IAsyncDisposable
    {
        private readonly Dictionary<DateOnly, DayOfPart> _days = [];
        private readonly Dictionary<string, (JournalEvent Event, DateOnly Day)> _fresh = [];
        private readonly DateTimeOffset _now = clock.GetUtcNow();
        private Dictionary<string, (DateOnly Day, long Id)> _there = [];
        private HeldSetup? _latest;
        private RecordWriter? _writer;

        public int Taken { get; private set; }

        public int Known { get; private set; }

        public string? Refusal { get; private set; }

        public IReadOnlyCollection<string> Fresh => _fresh.Keys;

        public List<LineSetAside> Aside { get; } = [];

        public List<Finding> Findings { get; } = [];

        public ValueTask DisposeAsync() => _writer?.DisposeAsync() ?? ValueTask.CompletedTask;

        /// <summary>Asks at once which of these events are there already.</summary>
        public async Task LookUp(IEnumerable<string?> ids)
        {
            var asked = ids.OfType<string>().Distinct().ToList();
            _there = (await db.Events.AsNoTracking().Where(e => asked.Contains(e.Key)).Select(e => new { e.Key, e.Day, e.Id }).ToListAsync()).DistinctBy(e => e.Key).ToDictionary(e => e.Key, e => (e.Day, e.Id));
        }

        public async Task Take(int line, byte[] bytes, EventGlance glance)
        {
            if (Refusal is not null || (_latest ??= await book.Now()) is not { } latest)
            {
                Refusal ??= "Nothing is set up yet: a supervisor names the registers and terminals first.";
                return;
            }

            if (glance.Id is null || glance.At is not { } at)
            {
                // What cannot even be read is given back, not kept: nobody could say whether it holds a card number.
                Refuse(line, glance, glance.Fault!, bytes, mayBeKept: false);
                return;
            }

            (DateOnly Day, long Id)? there = _there.TryGetValue(glance.Id, out var known) ? known : null;
            var day = await DayOf(there?.Day ?? TradingDays.Of(at, latest.Setup.TimeZone, latest.Setup.DayEndsAt).Date);
            var (e, findings, mayBeKept) = day.Lines.Read(bytes, line);
            if (e is null)
            {
                Refuse(line, glance, Sentence(findings[0]), bytes, mayBeKept);
            }
            else if (there is { Id: var id })
            {
                var record = await db.Records.AsNoTracking().Where(r => r.Id == id).Select(r => r.Json).SingleAsync();
                await Compare(line, glance, bytes, day.Lines.Read(System.Text.Encoding.UTF8.GetBytes(record), 0).Event, e);
            }
            else if (_fresh.TryGetValue(glance.Id, out var fresh))
            {
                await Compare(line, glance, bytes, fresh.Event, e);
            }
            else if (await Objection(e, day) is { } why)
            {
                Refuse(line, glance, why, bytes, mayBeKept: true);
            }
            else
            {
                await Keep(e, bytes, day);
            }
        }

        public async Task Finish()
        {
            foreach (var day in _days.Values.Where(d => d.IsTouched))
            {
                await (isWanted ? guard.Revise(day.Date) : guard.Grow(day.Date));
            }

            await db.SaveChangesAsync();
        }

        private async Task Compare(int line, EventGlance glance, byte[] bytes, JournalEvent? known, JournalEvent e)
        {
            if (known is not null && known.Equals(e))
            {
                Known++;
                return;
            }

            const string why = "this id is there already with other contents; a person decides which is right";
            var json = System.Text.Encoding.UTF8.GetString(bytes);
            Aside.Add(new(line, glance.Id, why, true));
            if (!await db.Aside.AnyAsync(a => a.Key == glance.Id && a.Json == json) && !db.Aside.Local.Any(a => a.Key == glance.Id && a.Json == json))
            {
                db.Aside.Add(new() { Register = e.Register.Value, Key = glance.Id!, Json = json, Why = why, IsConflict = true, From = by, At = _now });
            }
        }

        private async Task Keep(JournalEvent e, byte[] bytes, DayOfPart day)
        {
            // A sale after its drawer was closed, or after the day was, belongs to the next trading day.
            while (day.IsClosed || (e is Ticket { Drawer: { } drawer } && await day.ClosedAt(db, drawer) is { } closed && e.At > closed))
            {
                day = await DayOf(day.Date.AddDays(1));
            }

            if (!day.Exists)
            {
                await DisposeAsync();
                await book.Begin(day.Held, by);
                (day.Exists, _writer) = (true, null);
            }

            _writer ??= await RecordWriter.Of(db);
            _writer.Append(day.Date, new(RecordKind.Event, e.Id.Value, System.Text.Encoding.UTF8.GetString(bytes), e), by, _now);
            _fresh[e.Id.Value] = (e, day.Date);
            day.Remember(e);
            day.IsTouched = true;
            Taken++;
        }

        /// <summary>What only the whole day can tell.</summary>
        private async Task<string?> Objection(JournalEvent e, DayOfPart day) =>
            register is not null && e.Register.Value != register ? $"it is of register {e.Register}, and was sent with the key of {register}"
            : e.At > _now + _ahead ? $"its time is {e.At:yyyy-MM-dd HH:mm zzz}, and that is still to come: the register's clock is wrong"
            : e.Drawer is { } drawer && await day.RegisterOf(db, drawer) is { } other && other != e.Register.Value ? $"drawer session {drawer} is of register {other}, not {e.Register}"
            : e is SessionOpen { Drawer: { } opened } && await day.IsOpened(db, opened) ? $"drawer session {opened} was opened already"
            : e is VoidEvent v && !_fresh.ContainsKey(v.Original.Value) && !await db.Events.AnyAsync(x => x.Key == v.Original.Value && x.Day == day.Date) ? $"it voids {v.Original}, which the journal of {day.Date:yyyy-MM-dd} does not have yet"
            : null;

        /// <summary>What a person should read: the last name of the place, and no path.</summary>
        private static string Sentence(Finding finding) =>
            (finding with { Column = finding.Column?.Split('.')[^1] }).Message.Replace("day.json", "the set-up", StringComparison.Ordinal);

        private void Refuse(int line, EventGlance glance, string why, byte[] bytes, bool mayBeKept)
        {
            Findings.Add(new("journal.jsonl", line, null, null, why));
            Aside.Add(new(line, mayBeKept ? glance.Id : null, why, mayBeKept));
            if (mayBeKept && glance.Id is not null)
            {
                var json = System.Text.Encoding.UTF8.GetString(bytes);
                if (!db.Aside.Any(a => a.Key == glance.Id && a.Json == json && a.Decision == null) && !db.Aside.Local.Any(a => a.Key == glance.Id && a.Json == json))
                {
                    db.Aside.Add(new() { Register = glance.Register ?? register ?? "", Key = glance.Id, Json = json, Why = why, From = by, At = _now });
                }
            }
        }

        private async Task<DayOfPart> DayOf(DateOnly date)
        {
            if (!_days.TryGetValue(date, out var day))
            {
                var exists = await db.Days.AnyAsync(d => d.Date == date);
                day = _days[date] = new((await book.For(date))!, exists, await db.Closes.AnyAsync(c => c.Day == date));
            }

            return day;
        }
    }

    /// <summary>What a part needs to know of one trading day.</summary>
    private sealed class DayOfPart(HeldSetup held, bool exists, bool isClosed)
    {
        private readonly Dictionary<DrawerId, (string? Register, DateTimeOffset? ClosedAt)> _drawers = [];
        private readonly HashSet<DrawerId> _opened = [];

        public HeldSetup Held => held;

        public DateOnly Date => held.Setup.TradingDay.Date;

        public EventLines Lines { get; } = new(held.Setup);

        public bool Exists { get; set; } = exists;

        public bool IsClosed => isClosed;

        public bool IsTouched { get; set; }

        public async Task<string?> RegisterOf(StoreContext db, DrawerId drawer) => (await Of(db, drawer)).Register;

        public async Task<DateTimeOffset?> ClosedAt(StoreContext db, DrawerId drawer) => (await Of(db, drawer)).ClosedAt;

        public async Task<bool> IsOpened(StoreContext db, DrawerId drawer) =>
            _opened.Contains(drawer) || await db.Events.AnyAsync(e => e.Day == Date && e.Drawer == drawer.Value && e.Kind == EventKind.Open);

        public void Remember(JournalEvent e)
        {
            if (e is SessionOpen { Drawer: { } opened })
            {
                _opened.Add(opened);
            }

            if (e.Drawer is { } drawer)
            {
                var known = _drawers.GetValueOrDefault(drawer);
                _drawers[drawer] = (e.Register.Value, e is SessionClose && (known.ClosedAt is not { } at || e.At > at) ? e.At : known.ClosedAt);
            }
        }

        private async Task<(string? Register, DateTimeOffset? ClosedAt)> Of(StoreContext db, DrawerId drawer)
        {
            if (!_drawers.TryGetValue(drawer, out var known))
            {
                var of = db.Events.AsNoTracking().Where(e => e.Day == Date && e.Drawer == drawer.Value);
                var closes = await of.Where(e => e.Kind == EventKind.Close).Select(e => (DateTimeOffset?)e.At).ToListAsync();
                known = _drawers[drawer] = (await of.Select(e => e.Register).FirstOrDefaultAsync(), closes.Max());
            }

            return known;
        }
    }
}
