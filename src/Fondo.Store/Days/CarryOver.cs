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

            foreach (var (key, json) in await Texts(next, date))
            {
                Append(key, json, before is null ? null : $"close {close} of {date:yyyy-MM-dd} carries it");
            }

            foreach (var key in gone.Where(there.ContainsKey))
            {
                Append(key, "", $"close {close} of {date:yyyy-MM-dd} carries it no more");
            }
        }

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

    /// <summary>The carried items as carried.json has them, by key.</summary>
    private async Task<IReadOnlyList<(string Key, string Json)>> Texts(Carried next, DateOnly date)
    {
        var carried = (await db.Records.AsNoTracking().Where(r => r.Day == date && r.Kind == RecordKind.Carried && r.Json != "").ToListAsync()).GroupBy(r => r.Key).ToDictionary(g => g.Key, g => g.MaxBy(r => r.Version)!.Json);
        var texts = new List<(string, string)>();
        foreach (var c in next.Journal)
        {
            var key = c.Ticket.KeyOf(c.Place).ToString();
            texts.Add((key, Item(c.Day, c.Owned, "event", await Raw(key, "event", RecordKind.Event, c.Ticket.Id.Value), c.Place)));
        }

        foreach (var c in next.Rows)
        {
            var key = c.Row.Key.ToString();
            texts.Add((key, Item(c.Day, c.Owned, "row", await Raw(key, "row", RecordKind.Row, key), null)));
        }

        foreach (var c in next.Holds)
        {
            var key = c.Hold.Id.Value;
            texts.Add((key, Item(c.Day, c.Owned, "event", await Raw(key, "event", RecordKind.Event, key), null)));
        }

        return texts;

        // As it came in; what was carried here before came with what carried it.
        async Task<JsonNode> Raw(string key, string member, RecordKind kind, string natural) =>
            carried.TryGetValue(key, out var before) ? JsonNode.Parse(before)![member]!.DeepClone()
            : JsonNode.Parse((await db.Records.AsNoTracking().Where(r => r.Kind == kind && r.Key == natural && r.Json != "").OrderByDescending(r => r.Day == date).ThenByDescending(r => r.Version).Select(r => r.Json).FirstAsync())!)!;
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
