using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Nodes;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Files.Reading;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>Gives the next day what a closed one carries; and where a later revision carries something else, puts it right and tells the days that had it.</summary>
public sealed class CarryOver(StoreContext db, DayLock guard, LateTickets late, TimeProvider clock)
{
    private const string By = "close";

    /// <summary>Within the transaction that closes the day.</summary>
    /// <param name="before">The document of the revision before; null on a first close.</param>
    public async Task Write(DayView view, int close, CloseDocument document, CloseDocument? before)
    {
        var date = view.Setup.TradingDay.Date;
        var next = Carrying.Next(view.Reconciliation, view.Entries);
        var gone = (before?.Carried ?? []).Where(c => document.Carried.All(n => n.Key != c.Key)).Select(c => c.Key).ToList();
        if (document.Carried.IsEmpty && gone.Count == 0)
        {
            return;
        }

        var to = await late.Receive(date, By);
        var there = (await db.Records.AsNoTracking().Where(r => r.Day == to && r.Kind == RecordKind.Carried).ToListAsync())
            .GroupBy(r => r.Key).ToDictionary(g => g.Key, g => g.MaxBy(r => r.Version)!);
        var strangers = new List<(string Key, string Json, string Why)>();
        await using (var writer = await RecordWriter.Of(db))
        {
            void Append(string key, string json, string? reason)
            {
                var now = there.GetValueOrDefault(key);
                if (now?.Json != json)
                {
                    writer.Append(to, new(RecordKind.Carried, key, json), By, clock.GetUtcNow(), reason, (now?.Version ?? 0) + 1);
                }
            }

            var texts = await Texts(next, date);
            var objections = await Objections(to, texts);
            foreach (var (key, json) in texts)
            {
                if (objections.TryGetValue(key, out var why))
                {
                    // The set-up of that day does not know it: a day that does not read helps nobody. It waits for a person.
                    strangers.Add((key, json, why));
                }
                else
                {
                    Append(key, json, before is null ? null : $"close {close} of {date:yyyy-MM-dd} carries it");
                }
            }

            foreach (var key in gone.Where(there.ContainsKey))
            {
                Append(key, "", $"close {close} of {date:yyyy-MM-dd} carries it no more");
            }
        }

        foreach (var (key, json, why) in strangers)
        {
            db.Aside.Add(new() { Kind = RecordKind.Carried, Register = By, Key = key, Json = json, Why = $"{date:yyyy-MM-dd} carries it, and with the set-up of {to:yyyy-MM-dd} it does not read: {why}", From = By, At = clock.GetUtcNow() });
            db.CarryChanges.Add(new() { Day = to, Close = close, Says = $"{key}, carried from {date:yyyy-MM-dd}, does not read with the set-up of this day: {why}. It waits for a person.", At = clock.GetUtcNow() });
        }

        await db.SaveChangesAsync();
        await guard.Grow([to], isWanted: true);
        if (before is not null && before.Differences(document).Where(d => d.What.StartsWith("carried item", StringComparison.Ordinal)).ToList() is { Count: > 0 } changed)
        {
            var says = $"Close {close} is another revision of {date:yyyy-MM-dd}: " + string.Join("; ", changed.Take(5).Select(d => $"{d.What}: {Or(d.Was)} before, {Or(d.Is)} now")) + ".";
            foreach (var day in await db.Days.Where(d => d.Date > date && d.Date <= to).Select(d => d.Date).ToListAsync())
            {
                db.CarryChanges.Add(new() { Day = day, Close = close, Says = says, At = clock.GetUtcNow() });
            }

            await db.SaveChangesAsync();
        }

        static string Or(string text) => text.Length == 0 ? "nothing" : text;
    }

    /// <summary>Why items do not read on that day, by key; those that read are left out.</summary>
    private async Task<Dictionary<string, string>> Objections(DateOnly day, IReadOnlyList<(string Key, string Json)> texts)
    {
        var setup = await db.Records.AsNoTracking().Where(r => r.Day == day && r.Kind == RecordKind.Setup && r.Json != "").OrderByDescending(r => r.Version).FirstAsync();
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
        var carried = (await db.Records.AsNoTracking().Where(r => r.Day == date && r.Kind == RecordKind.Carried && r.Json != "").ToListAsync()).GroupBy(r => r.Key).ToDictionary(g => g.Key, g => g.MaxBy(r => r.Version)!.Json);
        var events = await Raw(some => db.Events.Where(e => some.Contains(e.Key)).Join(db.Records, e => e.Id, r => r.Id, (e, r) => r), [.. next.Journal.Select(c => c.Ticket.Id.Value), .. next.Holds.Select(c => c.Hold.Id.Value)]);
        var rows = await Raw(some => db.Records.Where(r => r.Day == date && r.Kind == RecordKind.Row && some.Contains(r.Key)), [.. next.Rows.Select(c => c.Row.Key.ToString())]);

        // As it came in; what was carried here before came with what carried it.
        JsonNode Node(string key, string member, IReadOnlyDictionary<string, string> raw, string natural) =>
            carried.TryGetValue(key, out var before) ? JsonNode.Parse(before)![member]!.DeepClone() : JsonNode.Parse(raw[natural])!;
        return
        [
            .. next.Journal.Select(c => (Key: c.Ticket.KeyOf(c.Place).ToString(), Item: c)).Select(c => (c.Key, Item(c.Item.Day, c.Item.Owned, "event", Node(c.Key, "event", events, c.Item.Ticket.Id.Value), c.Item.Place))),
            .. next.Rows.Select(c => (Key: c.Row.Key.ToString(), Item: c)).Select(c => (c.Key, Item(c.Item.Day, c.Item.Owned, "row", Node(c.Key, "row", rows, c.Key), null))),
            .. next.Holds.Select(c => (Key: c.Hold.Id.Value, Item: c)).Select(c => (c.Key, Item(c.Item.Day, c.Item.Owned, "event", Node(c.Key, "event", events, c.Key), null))),
        ];
    }

    /// <summary>Records as they came in, by key: the latest version. Some at a time, each lot by an index.</summary>
    private static async Task<IReadOnlyDictionary<string, string>> Raw(Func<string[], IQueryable<RecordRow>> records, IReadOnlyList<string> keys)
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

    private static string Item(Core.SetUp.TradingDay day, Ownership? owned, string member, JsonNode raw, int? place)
    {
        var item = new JsonObject { ["day"] = day.ToString() };
        if (owned is not null)
        {
            (item["owner"], item["until"]) = (owned.Owner.Value, owned.Deadline.ToString("yyyy-MM-ddTHH:mm:sszzz", CultureInfo.InvariantCulture));
        }

        if (place is { } number)
        {
            item["tender"] = number;
        }

        item[member] = raw;
        return item.ToJsonString();
    }
}
