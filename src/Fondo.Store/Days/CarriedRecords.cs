using System.Collections.Immutable;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Files.Reading;
using Fondo.Files.Writing;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>Carried items as records of the day that begins with them.</summary>
public sealed class CarriedRecords(StoreContext db, TimeProvider clock)
{
    private const string By = "close";

    /// <summary>What a day carries on, by key, as carried.json has it.</summary>
    public Task<IReadOnlyList<(string Key, string Json)>> Of(DayView view) =>
        Texts(Carrying.Next(view.Reconciliation, view.Entries), view.Setup.TradingDay.Date);

    /// <summary>The keys of what another day brought here.</summary>
    public async Task<IReadOnlyCollection<string>> BroughtTo(DateOnly day) =>
        [.. (await db.Records.AsNoTracking().Where(r => r.Day == day && r.Kind == RecordKind.Carried && r.TakenBy == By).ToListAsync())
            .GroupBy(r => r.Key).Select(g => g.MaxBy(r => r.Version)!).Where(r => r.Json.Length > 0).Select(r => r.Key)];

    /// <summary>What a correction carries otherwise than the close that it corrects, within a transaction. Days between are closed and keep
    /// what they began with: what has come there since is not carried once more because it has another owner or deadline.</summary>
    public async Task<bool> Correct(DateOnly to, DayView corrected, CloseDocument document, int close, CloseDocument? before)
    {
        var (was, standing) = ((before?.Carried ?? []).ToDictionary(c => c.Key), await Standing(to));
        bool IsOther(string key, ClosedCarry now) => !was.TryGetValue(key, out var old) || old.Amount != now.Amount
            || (old != now && standing.Contains(key));
        var carried = document.Carried.ToDictionary(c => c.Key);
        return await Write(to, corrected.Setup.TradingDay.Date, close,
            [.. (await Of(corrected)).Where(t => IsOther(t.Key, carried[t.Key]))], [.. was.Keys.Where(k => !carried.ContainsKey(k))],
            isChange: true);
    }

    /// <summary>The keys of what that day carries.</summary>
    private async Task<IReadOnlySet<string>> Standing(DateOnly day) => (await db.StandingRecords
        .Where(r => r.Day == day && r.Kind == RecordKind.Carried).Select(r => r.Key).ToListAsync()).ToHashSet();

    /// <summary>Within a transaction. What is there alike stays as it is; what the day's set-up does not know waits for a person.</summary>
    /// <param name="from">The day that carries it.</param>
    /// <param name="gone">Keys of what is carried no more.</param>
    /// <returns>Whether anything was written.</returns>
    public async Task<bool> Write(DateOnly to, DateOnly from, int close, IReadOnlyList<(string Key, string Json)> items,
        IReadOnlyCollection<string> gone, bool isChange)
    {
        var there = (await db.Records.AsNoTracking().Where(r => r.Day == to && r.Kind == RecordKind.Carried).ToListAsync())
            .GroupBy(r => r.Key).ToDictionary(g => g.Key, g => g.MaxBy(r => r.Version)!);
        var isWritten = false;
        var objections = await Objections(to, items);
        await using (var writer = await RecordWriter.Of(db))
        {
            void Append(string key, string json, string? reason)
            {
                var now = there.GetValueOrDefault(key);
                if ((now?.Json ?? "") != json)
                {
                    writer.Append(to, new(RecordKind.Carried, key, json), By, clock.GetUtcNow(), reason, (now?.Version ?? 0) + 1);
                    isWritten = true;
                }
            }

            foreach (var (key, json) in items.Where(i => !objections.ContainsKey(i.Key)))
            {
                Append(key, json, isChange ? $"close {close} of {from:yyyy-MM-dd} carries it" : null);
            }

            foreach (var key in gone.Where(there.ContainsKey))
            {
                Append(key, "", $"close {close} of {from:yyyy-MM-dd} carries it no more");
            }
        }

        foreach (var (key, json) in items.Where(i => objections.ContainsKey(i.Key)))
        {
            db.Aside.Add(new()
            {
                Kind = RecordKind.Carried,
                Register = By,
                Key = key,
                Json = json,
                Why = $"{from:yyyy-MM-dd} carries it, and with the set-up of {to:yyyy-MM-dd} it cannot be read: {objections[key]}",
                From = By,
                At = clock.GetUtcNow()
            });
            db.CarryChanges.Add(new()
            {
                Day = to,
                Close = close,
                Says =
                    $"{key}, carried from {from:yyyy-MM-dd}, cannot be read with the set-up of this day: {objections[key]}. It waits for a "
                        + "person.",
                At = clock.GetUtcNow()
            });
        }

        await db.SaveChangesAsync();
        return isWritten;
    }

    /// <summary>Why items do not read on that day, by key; those that read are left out.</summary>
    private async Task<Dictionary<string, string>> Objections(DateOnly day, IReadOnlyList<(string Key, string Json)> texts)
    {
        var setup = await db.Records.AsNoTracking().Where(r => r.Day == day && r.Kind == RecordKind.Setup && r.Json != "")
            .OrderByDescending(r => r.Version).FirstAsync();
        var objections = new Dictionary<string, string>(StringComparer.Ordinal);
        if (Read(texts) is null)
        {
            return objections;
        }

        foreach (var text in texts)
        {
            if (Read([text]) is { } why)
            {
                objections[text.Key] = why;
            }
        }

        return objections;

        string? Read(IReadOnlyList<(string Key, string Json)> some)
        {
            var builder = new DayBuilder();
            builder.Take(new RawRecord(RecordKind.Setup, setup.Key, setup.Json));
            foreach (var (key, json) in some)
            {
                builder.Take(new RawRecord(RecordKind.Carried, key, json));
            }

            return builder.Build().Day is not null ? null : builder.Unread.Count > 0 ? builder.Unread[0].Why : builder.Findings[0].Message;
        }
    }

    /// <summary>The carried items as carried.json has them, by key.</summary>
    private async Task<IReadOnlyList<(string Key, string Json)>> Texts(Carried next, DateOnly date)
    {
        var carried = (await db.Records.AsNoTracking().Where(r => r.Day == date && r.Kind == RecordKind.Carried && r.Json != "")
            .ToListAsync()).GroupBy(r => r.Key).ToDictionary(g => g.Key, g => g.MaxBy(r => r.Version)!.Json);
        var events = await Latest(some => db.Events.Where(e => some.Contains(e.Key)).Join(db.Records, e => e.Id, r => r.Id, (e, r) => r),
            [.. next.Journal.Select(c => c.Ticket.Id.Value), .. next.Holds.Select(c => c.Hold.Id.Value)]);
        var rows = await Latest(some => db.Records.Where(r => r.Day == date && r.Kind == RecordKind.Row && some.Contains(r.Key)),
            [.. next.Rows.Select(c => c.Row.Key.ToString())]);

        // As it came in; what was carried here before came with what carried it.
        string Raw(string key, string member, IReadOnlyDictionary<string, string> came, string natural) =>
            carried.TryGetValue(key, out var before) ? CarriedJson.Member(before, member) : came[natural];
        return
        [
            .. next.Journal.Select(c => (Key: c.Ticket.KeyOf(c.Place).ToString(), Item: c))
                .Select(c => (c.Key, CarriedJson.OfTender(c.Item, Raw(c.Key, CarriedJson.Event, events, c.Item.Ticket.Id.Value)))),
            .. next.Rows.Select(c => (Key: c.Row.Key.ToString(), Item: c))
                .Select(c => (c.Key, CarriedJson.OfRow(c.Item, Raw(c.Key, CarriedJson.Row, rows, c.Key)))),
            .. next.Holds.Select(c => (Key: c.Hold.Id.Value, Item: c))
                .Select(c => (c.Key, CarriedJson.OfHold(c.Item, Raw(c.Key, CarriedJson.Event, events, c.Key)))),
        ];
    }

    /// <summary>Records as they came in, by key: the latest version. Some at a time, each lot by an index.</summary>
    private static async Task<IReadOnlyDictionary<string, string>> Latest(Func<string[], IQueryable<RecordRow>> records,
        IReadOnlyList<string> keys)
    {
        var found = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var some in keys.Distinct(StringComparer.Ordinal).Chunk(500))
        {
            foreach (var record in (await records(some).AsNoTracking().Where(r => r.Json != "").ToListAsync()).OrderBy(r => r.Version))
            {
                found[record.Key] = record.Json;
            }
        }

        return found;
    }
}
