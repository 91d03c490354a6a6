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

/// <summary>What became of a new set-up.</summary>
public sealed record SetupSaved(string? Objection, IReadOnlyList<Finding> Findings)
{
    public bool IsDone => Objection is null && Findings.Count == 0;
}

/// <summary>The set-ups of the store, each from a trading day on. A day keeps its own from the moment it begins; closed days keep theirs for ever.</summary>
public sealed class SetupBook(StoreContext db, StoredRecords records, DayCache cache, TimeProvider clock)
{
    /// <summary>What holds on that day; null while nothing was ever set up. One that does not read (no door lets such a one in) is passed over.</summary>
    public async Task<HeldSetup?> For(DateOnly day)
    {
        Func<Task<string?>>[] candidates =
        [
            () => Record(day),
            () => db.Setups.Where(s => s.From <= day).OrderByDescending(s => s.From).ThenByDescending(s => s.Id).Select(s => s.Json).FirstOrDefaultAsync(),
            () => Latest(db.Days.Where(d => d.Date < day).OrderByDescending(d => d.Date)),
            () => Latest(db.Days.OrderBy(d => d.Date)),
            () => db.Setups.OrderBy(s => s.From).ThenByDescending(s => s.Id).Select(s => s.Json).FirstOrDefaultAsync(),
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

    /// <summary>The trading day that it is now.</summary>
    public async Task<DateOnly> Today()
    {
        var now = clock.GetUtcNow();
        return await For(DateOnly.FromDateTime(now.UtcDateTime)) is { Setup: var s } ? Placement.ByClock(now, s).Date : DateOnly.FromDateTime(now.UtcDateTime);
    }

    public async Task<IReadOnlyList<SetupRow>> History() => await db.Setups.AsNoTracking().OrderByDescending(s => s.Id).Take(50).ToListAsync();

    /// <summary>Lets a set-up hold from a trading day on: days of it that have begun take it over where all they hold still reads, and none where one does not.</summary>
    public async Task<SetupSaved> Save(DateOnly from, string json, Person by)
    {
        string text;
        try
        {
            text = SetupText.For(json, from);
        }
        catch (Exception e) when (e is System.Text.Json.JsonException or InvalidOperationException or ArgumentException)
        {
            return new("This is not JSON in the shape of day.json. Nothing was changed.", []);
        }

        var (setup, findings) = SetupText.Read(text);
        if (setup is null)
        {
            return new(null, findings);
        }

        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await db.Closes.Where(c => c.Day >= from).OrderBy(c => c.Day).FirstOrDefaultAsync() is { } close)
        {
            return new($"{close.Day:yyyy-MM-dd} is closed and keeps what held then. Let the set-up hold from a later day.", []);
        }

        foreach (var day in await db.Days.Where(d => d.Date >= from).ToListAsync())
        {
            if (await Replace(day, SetupText.For(json, day.Date), by) is { } why)
            {
                db.ChangeTracker.Clear();
                return new($"{day.Date:yyyy-MM-dd} has begun, and what it holds would no longer read: {why}. Nothing was changed; let the set-up hold from a later day, or leave in what was used.", []);
            }
        }

        db.Setups.Add(new() { From = from, Json = text, By = by.Id.Value, At = clock.GetUtcNow() });
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return new(null, []);
    }

    /// <summary>Begins a trading day with the set-up that holds on it.</summary>
    internal async Task<DayRow> Begin(HeldSetup held, string by)
    {
        var day = new DayRow { Date = held.Setup.TradingDay.Date, Store = held.Setup.Store, Revision = 1 };
        db.Days.Add(day);
        await db.SaveChangesAsync();
        await RecordWriter.Append(db, day.Date, [new(RecordKind.Setup, held.Setup.TradingDay.ToString(), held.Json)], by, clock.GetUtcNow());
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
            writer.Append(day.Date, new(RecordKind.Setup, key, json), by.Id.Value, clock.GetUtcNow(), "the set-up was changed", version + 1);
        }

        day.Revision++;
        cache.Want(day.Date, day.Revision);
        return null;
    }

    private Task<string?> Record(DateOnly day) =>
        db.Records.Where(r => r.Day == day && r.Kind == RecordKind.Setup).OrderByDescending(r => r.Version).Select(r => r.Json).FirstOrDefaultAsync();

    private async Task<string?> Latest(IQueryable<DayRow> of) => await of.Select(d => (DateOnly?)d.Date).FirstOrDefaultAsync() is { } day ? await Record(day) : null;

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
