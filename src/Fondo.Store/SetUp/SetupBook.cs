using Fondo.Core.Days;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Files.Text;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.SetUp;

/// <summary>A set-up as it holds for one trading day.</summary>
/// <param name="Json">In the shape of day.json.</param>
public sealed record HeldSetup(string Json, Setup Setup);

/// <summary>A new set-up.</summary>
/// <param name="Loosens">What it loosens: it waits for a manager who did not make it.</param>
public sealed record SetupSaved(IReadOnlyList<string> Loosens);

/// <summary>The set-ups of the store, each from a trading day on. A day keeps its own from the moment it begins; closed days keep theirs
/// for ever.</summary>
public sealed class SetupBook(StoreContext db, StoredRecords records, DayCache cache, TimeProvider clock)
{
    private const int MostWaiting = 20;

    /// <summary>So long the board says that a control was loosened.</summary>
    private const int ShownDays = 14;

    /// <summary>What holds on that day; null while nothing was ever set up. One that does not read (no door lets such a one in) is passed
    /// over.</summary>
    public async Task<HeldSetup?> For(DateOnly day)
    {
        Func<Task<string?>>[] candidates =
        [
            () => Record(day),
            () => Holding.Where(s => s.From <= day).OrderByDescending(s => s.From).ThenByDescending(s => s.Id).Select(s => s.Json)
                .FirstOrDefaultAsync(),
            () => Latest(db.Days.Where(d => d.Date < day).OrderByDescending(d => d.Date)),
            () => Latest(db.Days.OrderBy(d => d.Date)),
            () => Holding.OrderBy(s => s.From).ThenByDescending(s => s.Id).Select(s => s.Json).FirstOrDefaultAsync(),
        ];
        foreach (var candidate in candidates)
        {
            if (await candidate() is { } json && Read(json, day) is { } held)
            {
                return held;
            }
        }

        return null;
    }

    /// <summary>What holds now: today's by the store's own clock and hour.</summary>
    public async Task<HeldSetup?> Now() => await For(await Today());

    /// <summary>Whether a trading day has ever begun: from then on controls are not loosened alone.</summary>
    public Task<bool> HasBegun() => db.Days.AnyAsync();

    /// <summary>The trading day that it is now.</summary>
    public async Task<DateOnly> Today()
    {
        var now = clock.GetUtcNow();
        return await For(DateOnly.FromDateTime(now.UtcDateTime)) is { Setup: var s }
            ? Placement.ByClock(now, s).Date
            : DateOnly.FromDateTime(now.UtcDateTime);
    }

    /// <summary>Those that loosen something and wait for a manager.</summary>
    public async Task<IReadOnlyList<SetupRow>> Waiting() => await db.Setups.AsNoTracking()
        .Where(s => s.Loosens != null && s.Approval == null).OrderByDescending(s => s.Id).Take(MostWaiting).ToListAsync();

    /// <summary>Those that loosened something and hold on that day, with the managers who approved them; newest first.</summary>
    public async Task<IReadOnlyList<SetupRow>> Loosened(DateOnly day) => await db.Setups.AsNoTracking().Include(s => s.Approval)
        .Where(s => s.Loosens != null && s.Approval != null && s.From <= day && s.From > day.AddDays(-ShownDays))
        .OrderByDescending(s => s.Id).ToListAsync();

    /// <summary>Lets a set-up hold from a trading day on: days of it that have begun take it over where all they hold still reads, and none
    /// where one does not.
    /// One that loosens a control holds from the next trading day at the earliest, and only once a manager who did not make it has approved
    /// it (rules §11).</summary>
    public async Task<Outcome<SetupSaved>> Save(DateOnly from, string json, Person by)
    {
        if (by.Refusal(ActKind.SaveSetUp) is { } refused)
        {
            return Outcome.Refused<SetupSaved>(refused.Objections);
        }

        var read = Read(from, json);
        if (!read.IsDone)
        {
            return Outcome.Refused<SetupSaved>(read.Objections);
        }

        var (text, setup) = read.Value;
        await using var transaction = await db.BeginWriting();
        if (await db.StandingCloses.Where(c => c.Day >= from).OrderBy(c => c.Day).FirstOrDefaultAsync() is { } close)
        {
            return Outcome.Refused<SetupSaved>($"{close.Day:yyyy-MM-dd} is closed and keeps its set-up. Choose a later start day.");
        }

        var (before, today) = (await For(from), await Today());
        string[] loosens = before is null || !await HasBegun() ? []
            : [.. Loosening.Of(before.Setup, setup).Select(l => l.Says(before.Setup.Currency))];
        if (loosens.Length > 0)
        {
            if (from <= today)
            {
                return Outcome.Refused<SetupSaved>(
                    $"This loosens a control for tonight: {string.Join("; ", loosens)}. It can hold from {today.AddDays(1):yyyy-MM-dd} on "
                        + "at the earliest. Nothing was changed.");
            }

            db.Setups.Add(new()
            {
                From = from,
                Json = text,
                By = by.Id.Value,
                At = clock.GetUtcNow(),
                Loosens = string.Join('\n', loosens),
                Follows = await Last(from)
            });
            await db.SaveChangesAsync();
            await transaction.CommitAsync();
            return new SetupSaved(loosens);
        }

        foreach (var day in await db.Days.Where(d => d.Date >= from).ToListAsync())
        {
            if (await Replace(day, SetupText.For(json, day.Date), by) is { } why)
            {
                db.ChangeTracker.Clear();
                return Outcome.Refused<SetupSaved>(Unreadable(day.Date, why));
            }
        }

        db.Setups.Add(new() { From = from, Json = text, By = by.Id.Value, At = clock.GetUtcNow() });
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return new SetupSaved([]);
    }

    /// <summary>A set-up as it is kept, where it is one that a store can have.</summary>
    private static Outcome<(string Text, Setup Setup)> Read(DateOnly from, string json)
    {
        if (CardNumbers.Contains(json))
        {
            return Refused("This contains a full card number. Nothing was saved.");
        }

        string text;
        try
        {
            text = SetupText.For(json, from);
        }
        catch (Exception e) when (e is System.Text.Json.JsonException or InvalidOperationException or ArgumentException)
        {
            return Refused("This file is not a valid day.json. Nothing was changed.");
        }

        var (setup, findings) = SetupText.Read(text);
        if (setup is null)
        {
            return Outcome.Refused<(string, Setup)>(
                [.. findings.Select(f => new Objection(f.Column,
                    $"{(f.Value is null ? Capital(f.Expected) : $"“{f.Value}” is not possible: {f.Expected}")}."
                        .Replace("day.json", "the set-up", StringComparison.Ordinal)))]);
        }

        return setup.Policy.CashRounding is { Minor: > 1 } smallest
            && setup.Registers.FirstOrDefault(r => r.Float.Minor % smallest.Minor != 0) is { } register
            ? Refused(
                $"The float of {register.Name}, {setup.Currency.Say(register.Float)}, cannot be made: the smallest coin is "
                    + $"{setup.Currency.Say(smallest)}. Nothing was saved.")
            : (text, setup);

        static string Capital(string text) => char.ToUpperInvariant(text[0]) + text[1..];

        static Outcome<(string, Setup)> Refused(string why) => Outcome.Refused<(string, Setup)>(why);
    }

    /// <summary>A manager's word for a set-up that loosens a control: from now on it holds.</summary>
    public async Task<Outcome> Approve(int id, Person manager)
    {
        await using var transaction = await db.BeginWriting();
        if (await db.Setups.AsNoTracking().Include(s => s.Approval).SingleOrDefaultAsync(s => s.Id == id) is not { Loosens: not null } row)
        {
            return Outcome.Refused("No such set-up is waiting.");
        }

        if (row.Approval is { } there)
        {
            return there.By == manager.Id.Value ? Outcome.Done : Outcome.Refused("This set-up is approved already.");
        }

        if (row.By == manager.Id.Value || !manager.MayWitness(ActKind.LoosenSetUp))
        {
            return Outcome.Refused(row.By == manager.Id.Value
                ? "You cannot approve your own set-up. Another manager must approve it."
                : $"{manager.Name} is not a manager. Only a manager can approve a looser control.");
        }

        var today = await Today();
        if (row.From <= today)
        {
            return Outcome.Refused(
                $"{row.From:yyyy-MM-dd} has begun. A looser control can only start on the next trading day. Save it again from "
                    + $"{today.AddDays(1):yyyy-MM-dd}.");
        }

        if (await Last(row.From) != row.Follows)
        {
            return Outcome.Refused(
                "The set-up has changed since this one was made. Approving it would undo that change. Make your change again.");
        }

        foreach (var day in await db.Days.Where(d => d.Date >= row.From).ToListAsync())
        {
            if (await Replace(day, SetupText.For(row.Json, day.Date), manager) is { } why)
            {
                db.ChangeTracker.Clear();
                return Outcome.Refused(Unreadable(day.Date, why));
            }
        }

        db.Add(new SetupApprovalRow { SetupId = id, By = manager.Id.Value, At = clock.GetUtcNow() });
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return Outcome.Done;
    }

    /// <summary>What loosens a control holds only once it is approved.</summary>
    private IQueryable<SetupRow> Holding => db.Setups.Where(s => s.Loosens == null || s.Approval != null);

    /// <summary>The set-up that holds from that day, as it was made here; null where none was.</summary>
    private async Task<int?> Last(DateOnly from) => await Holding.Where(s => s.From <= from).OrderByDescending(s => s.From)
        .ThenByDescending(s => s.Id).Select(s => (int?)s.Id).FirstOrDefaultAsync();

    private static string Unreadable(DateOnly day, string why) =>
        $"{day:yyyy-MM-dd} has begun, and its records could no longer be read: {why}. Nothing was changed. Start the set-up on a later "
            + "day, or keep everything that this day already uses.";

    /// <summary>Begins a trading day with the set-up that holds on it.</summary>
    internal async Task<DayRow> Begin(HeldSetup held, string by)
    {
        var day = new DayRow { Date = held.Setup.TradingDay.Date, Store = held.Setup.Store, Revision = 1 };
        db.Days.Add(day);
        await db.SaveChangesAsync();
        await RecordWriter.Append(db, day.Date, [new(RecordKind.Setup, held.Setup.TradingDay.ToString(), held.Json)], by,
            clock.GetUtcNow());
        return day;
    }

    private async Task<string?> Replace(DayRow day, string json, Person by)
    {
        var builder = new DayBuilder();
        builder.Mark(day.HasRows, day.HasLedger);
        var key = new TradingDay(day.Date).ToString();
        builder.Take(new RawRecord(RecordKind.Setup, key, json));
        await foreach (var record in records.Of(day.Date))
        {
            if (record.Kind != RecordKind.Setup)
            {
                builder.Take(record);
            }
        }

        if (builder.Build().Day is null)
        {
            return builder.Findings[0].Message.Replace("day.json", "the set-up", StringComparison.Ordinal);
        }

        var version = await db.Records.Where(r => r.Day == day.Date && r.Kind == RecordKind.Setup).MaxAsync(r => (int?)r.Version) ?? 0;
        await using (var writer = await RecordWriter.Of(db))
        {
            writer.Append(day.Date, new(RecordKind.Setup, key, json), by.Id.Value, clock.GetUtcNow(), "the set-up was changed",
                version + 1);
        }

        day.Revision++;
        cache.Want(day.Date, day.Revision);
        return null;
    }

    private Task<string?> Record(DateOnly day) =>
        db.Records.Where(r => r.Day == day && r.Kind == RecordKind.Setup).OrderByDescending(r => r.Version).Select(r => r.Json)
            .FirstOrDefaultAsync();

    private async Task<string?> Latest(IQueryable<DayRow> of) =>
        await of.Select(d => (DateOnly?)d.Date).FirstOrDefaultAsync() is { } day ? await Record(day) : null;

    private static HeldSetup? Read(string json, DateOnly day)
    {
        try
        {
            var text = SetupText.For(json, day);
            return SetupText.Read(text).Setup is { } setup ? new(text, setup) : null;
        }
        catch (Exception e) when (e is System.Text.Json.JsonException or InvalidOperationException or ArgumentException)
        {
            return null;
        }
    }
}
