using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>What waits for a person's decision.</summary>
public sealed class Waiting(StoreContext db, JournalIntake intake, DayStore days, DayLock guard, TimeProvider clock)
{
    /// <summary>So much of a line is shown.</summary>
    private const int Shown = 2_000;

    private const int MostShown = 200;

    /// <summary>The first of them, long lines cut.</summary>
    public async Task<IReadOnlyList<AsideRow>> All() =>
        await db.Aside.AsNoTracking().Where(a => a.Decision == null).OrderBy(a => a.Id).Take(MostShown)
        .Select(a => new AsideRow
        {
            Id = a.Id,
            Kind = a.Kind,
            Register = a.Register,
            Key = a.Key,
            Json = a.Json.Substring(0, Shown),
            Why = a.Why,
            IsConflict = a.IsConflict,
            WaitsFor = a.WaitsFor,
            From = a.From,
            Line = a.Line,
            At = a.At,
        }).ToListAsync();

    public Task<int> Count() => db.Aside.CountAsync(a => a.Decision == null);

    /// <summary>What stands there stays, and the line is left out; both are remembered with the reason.</summary>
    public Task<Outcome> LeaveOut(long id, string? reason, Person by) =>
        Decide(id, "left out", reason, by, _ => Task.FromResult<string?>(null));

    /// <summary>The line takes the place of what is there.</summary>
    public Task<Outcome> TakeInstead(long id, string? reason, Person by) =>
        Decide(id, "taken instead", reason, by, a => intake.TakeInstead(a, by.Id.Value, reason!.Trim()));

    /// <summary>The line is taken, now that the cause was corrected.</summary>
    public Task<Outcome> TryAgain(long id, Person by) =>
        Decide(id, "taken", "the cause was corrected", by, a => intake.TryAgain(a, by.Id.Value));

    /// <summary>Sets a stored record aside because of which its day does not read: the day does without it, and it waits for a
    /// person.</summary>
    public async Task<Outcome> SetRecordAside(DateOnly day, RecordKind kind, string key, Person by)
    {
        if (by.Refusal(ActKind.SetRecordAside) is { } refused)
        {
            return refused;
        }

        UnreadRecord? unread;
        try
        {
            await days.View(day);
            return Outcome.Refused("This day is readable. Nothing was changed.");
        }
        catch (UnreadableDayException e)
        {
            unread = e.Records.FirstOrDefault(r => r.Kind == kind && r.Key == key);
        }

        if (unread is null || kind == RecordKind.Setup)
        {
            return Outcome.Refused(kind == RecordKind.Setup
                ? "A day needs its set-up. Save another set-up that starts on this day."
                : "This record is readable, or was already set aside.");
        }

        return await guard.Write(day, async () =>
        {
            var record = await db.Records.AsNoTracking().Where(r => r.Day == day && r.Kind == kind && r.Key == key)
                .OrderByDescending(r => r.Version).FirstAsync();
            var register = kind == RecordKind.Event
                ? await db.Events.Where(e => e.Id == record.Id).Select(e => e.Register).FirstOrDefaultAsync()
                : null;
            await RecordWriter.Unindex(db, record.Id);
            await using (var writer = await RecordWriter.Of(db))
            {
                writer.Append(day, new(kind, key, ""), by.Id.Value, clock.GetUtcNow(), unread.Why, record.Version + 1);
            }

            db.Aside.Add(new()
            {
                Kind = kind,
                Register = register ?? "",
                Key = key,
                Json = record.Json,
                Why = $"it made {day:yyyy-MM-dd} unreadable: {unread.Why}",
                From = by.Id.Value,
                Line = record.Line,
                At = clock.GetUtcNow()
            });
            await guard.Revise(day);
            return Outcome.Done;
        });
    }

    /// <summary>One person decides; a second one is told that it was decided.</summary>
    private async Task<Outcome> Decide(long id, string decision, string? reason, Person by, Func<AsideRow, Task<string?>> work)
    {
        if (by.Refusal(ActKind.DecideLine) is { } refused)
        {
            return refused;
        }

        if (string.IsNullOrWhiteSpace(reason))
        {
            return Outcome.Refused("Give a reason. Fondo keeps it with your decision.");
        }

        if (Reasons.Objection(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        await using var transaction = await db.BeginWriting();
        if (await db.Aside.AsNoTracking().SingleOrDefaultAsync(a => a.Id == id) is not { Decision: null } aside)
        {
            return Outcome.Refused("This was already decided.");
        }

        if (aside.IsConflict && (aside.From == by.Id.Value || await Brought(aside.Key) == by.Id.Value))
        {
            return Outcome.Refused("You imported one of the two. Another supervisor or manager must decide which one counts.");
        }

        if (aside.Kind != RecordKind.Event && decision != "left out")
        {
            return Outcome.Refused(
                "This record can only be left out. Then import the corrected file.");
        }

        if (await work(aside) is { } why)
        {
            db.ChangeTracker.Clear();
            return Outcome.Refused($"{aside.Key} still waits: {why}.");
        }

        if (await Unread(aside.Key) is { } unread)
        {
            return Outcome.Refused($"{aside.Key} still waits: with it the day would be unreadable ({unread}).");
        }

        var (stated, now) = (reason.Trim(), clock.GetUtcNow());
        await db.Aside.Where(a => a.Id == id && a.Decision == null).ExecuteUpdateAsync(s => s
            .SetProperty(a => a.Decision, decision).SetProperty(a => a.Reason, stated).SetProperty(a => a.DecidedBy, by.Id.Value)
            .SetProperty(a => a.DecidedAt, now));
        var state = AsideRow.StateOf(id, decision, stated, by.Id.Value, now);
        await db.Note(state.By(TrailAct.Decide, by.Id.Value, aside.Key, $"{decision}: {stated}"));
        await transaction.CommitAsync();
        return Outcome.Done;
    }

    /// <summary>Who took in the event that stands under a key; null where there is none.</summary>
    private Task<string?> Brought(string key) =>
        db.Records.Where(r => r.Kind == RecordKind.Event && r.Key == key).OrderByDescending(r => r.Version).Select(r => r.TakenBy)
            .FirstOrDefaultAsync();

    /// <summary>Reads the day of an event as it would be now; why it does not, or null.</summary>
    private async Task<string?> Unread(string key)
    {
        try
        {
            if (await db.Events.AsNoTracking().Where(e => e.Key == key).Select(e => (DateOnly?)e.Day).SingleOrDefaultAsync() is { } day)
            {
                await days.Check(day);
            }

            return null;
        }
        catch (UnreadableDayException e)
        {
            return e.Records[0].Why;
        }
    }
}
