using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Files.Writing;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>Opens drawer sessions: the float counted, or accepted as it was left.</summary>
public sealed class Opening(StoreContext db, DayStore days, DayLock guard, SetupBook book, TimeProvider clock)
{
    /// <summary>Begins today's trading day with the set-up that holds; the day when it has begun already.</summary>
    /// <returns>Null when nothing is set up.</returns>
    public async Task<DateOnly?> Begin(Person by)
    {
        await using var transaction = await db.BeginWriting();
        if (await book.Now() is not { } held)
        {
            return null;
        }

        if (!await db.Days.AnyAsync(d => d.Date == held.Setup.TradingDay.Date))
        {
            await book.Begin(held, by.Id.Value);
            await transaction.CommitAsync();
        }

        return held.Setup.TradingDay.Date;
    }

    /// <summary>Opens the next drawer session of a register. The same <paramref name="form"/> twice is one opening.</summary>
    /// <param name="pieces">As typed, by denomination in minor units; null: the float is accepted uncounted, as it was left, else as the
    /// set-up says.</param>
    public Task<Outcome> Open(DateOnly day, RegisterId register, Guid form,
        IReadOnlyDictionary<long, string>? pieces, Person by)
    {
        List<Objection> objections = [];
        return guard.Write(day, by, ActKind.OpenRegister, async () =>
        {
            var key = Counting.KeyOf(form);
            var view = (await days.View(day))!;
            if (await Before(day, key, pieces, view.Setup) is { } before)
            {
                return before;
            }

            if (view.Setup.Find(register) is not { } known)
            {
                return Outcome.Refused($"There is no register {register} in the set-up.");
            }

            if (known.Kind == RegisterKind.Online)
            {
                return Outcome.Refused($"{known.Name} has no drawer. It opens by itself with its first order.");
            }

            if (view.Overview.Sessions.FirstOrDefault(s => s.Register == register && s.Until is null) is { } open)
            {
                return Outcome.Refused(
                    $"{known.Name} is already open: drawer {open.Drawer}, {view.Setup.NameOf(open.Cashier)}. Close it at the register "
                        + "first.");
            }

            if (view.Setup.Find(by.Id)?.MayOpen(register) != true)
            {
                return Outcome.Refused(view.Setup.Find(by.Id) is null
                    ? $"{by.Name} is not in the set-up and cannot open a register. Ask a supervisor to add them."
                    : $"The set-up does not let {by.Name} open {known.Name}. Ask someone who may, or have a supervisor change the set-up.");
            }

            var (drawer, now) = (NextDrawer(view, known), TimeZoneInfo.ConvertTime(clock.GetUtcNow(), view.Setup.TimeZone));
            var counted = pieces is null ? null : Counted(key, drawer, pieces, view.Setup, by, now, objections);
            if (counted is { Pieces.IsEmpty: true } && objections.Count == 0)
            {
                objections.Add(new(null, "You typed nothing. Count the float, or accept the expected amount."));
            }

            if (objections.Count > 0)
            {
                return Outcome.Refused(objections);
            }

            var json = JournalJson.Open(OpenKey(key), register, drawer, by.Id, now,
                counted?.Cash ?? view.Floats.Expected(known, clock.GetUtcNow()).Amount, view.Setup.Currency);
            var (e, findings) = new EventLines(view.Setup).Read(json, 1);
            if (e is null)
            {
                return Outcome.Refused($"{known.Name} cannot be opened: {findings[0].Message}.");
            }

            List<RawRecord> records = [new(RecordKind.Event, OpenKey(key), json, e)];
            if (counted is not null)
            {
                records.Add(new(RecordKind.Count, key, CountJson.Of(counted, view.Setup.Currency)));
            }

            await RecordWriter.Append(db, day, records, by.Id.Value, clock.GetUtcNow());
            await guard.Revise(day);
            return Outcome.Done;
        });
    }

    /// <summary>What became of the same form before; null where it was not sent yet.</summary>
    private async Task<Outcome?> Before(DateOnly day, string key, IReadOnlyDictionary<long, string>? pieces, Setup setup)
    {
        if (!await db.Records.AnyAsync(r => r.Day == day && r.Kind == RecordKind.Event && r.Key == OpenKey(key)))
        {
            return null;
        }

        var made = await db.Records.Where(r => r.Day == day && r.Kind == RecordKind.Count && r.Key == key).Select(r => r.Json)
            .FirstOrDefaultAsync();
        var again = pieces is null ? null : Counted(key, "", pieces, setup, null, clock.GetUtcNow(), []);
        return (made is null && again is null)
            || (made is not null && again is not null && CountJson.HoldsTheSame(made, again, setup.Currency))
            ? Outcome.Done
            : Outcome.Refused("This form already opened the register with a different float, and that one was kept.");
    }

    private static Count Counted(string key, string drawer, IReadOnlyDictionary<long, string> pieces, Setup setup, Person? by,
        DateTimeOffset at, List<Objection> objections)
    {
        var how = TypedPieces.Rows(pieces, setup, objections);
        return new(key, CountKind.Opening, new DrawerId(drawer), null, by?.Id, null, at, 1, TypedPieces.Of(how), [], [])
        { How = how };
    }

    private static string OpenKey(string count) => "o" + count[1..];

    /// <summary>L1-A, L1-B, and so on: a register may have several sessions in a day.</summary>
    private static string NextDrawer(DayView view, Register register)
    {
        var taken = view.Overview.Sessions.Select(s => s.Drawer.Value).ToHashSet();
        return Enumerable.Range(0, 26 * 26)
            .Select(n => $"{register.Id}-{(n < 26 ? "" : ((char)('A' + (n / 26) - 1)).ToString())}{(char)('A' + (n % 26))}")
            .First(d => !taken.Contains(d));
    }
}
