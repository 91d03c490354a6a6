using Fondo.Files.Reading;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>Reads the records of a day as they are kept.</summary>
public sealed class StoredRecords(StoreContext db)
{
    /// <summary>The records of a day that stand, in the order in which a builder takes them.</summary>
    /// <param name="last">Up to this record; what comes in meanwhile is left for later.</param>
    public async IAsyncEnumerable<RawRecord> Of(DateOnly date, long last = long.MaxValue)
    {
        var replaced = await db.Records.AsNoTracking().Where(r => r.Day == date && r.Version > 1 && r.Id <= last)
            .GroupBy(r => new { r.Kind, r.Key }).Select(g => new { g.Key.Kind, g.Key.Key, Version = g.Max(r => r.Version) })
            .ToDictionaryAsync(g => (g.Kind, g.Key), g => g.Version);
        await foreach (var record in db.Records.AsNoTracking().Where(r => r.Day == date && r.Id <= last)
            .OrderBy(r => r.Kind == RecordKind.Setup ? 0 : 1).ThenBy(r => r.Id).AsAsyncEnumerable())
        {
            // An empty text stands for a record that a person set aside.
            if (record.Json.Length > 0 && (replaced.Count == 0 || !replaced.TryGetValue((record.Kind, record.Key), out var version)
                || version == record.Version))
            {
                yield return new(record.Kind, record.Key, record.Json);
            }
        }
    }
}
