using Fondo.Files.Reading;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Trails;

/// <summary>Holds what one searches events by against their records: an index that says otherwise hides or invents tickets.</summary>
internal static class IndexCheck
{
    private static readonly (string Table, string Columns)[] _tables =
        [("Events", IndexWriter.EventColumns), ("Tenders", IndexWriter.TenderColumns)];

    /// <summary>The first row that is missing, put in, or another; null where all fit. Within the look that is under way.</summary>
    public static async Task<string?> FirstBroken(StoreContext db)
    {
        foreach (var (table, _) in _tables)
        {
            var make =
                $"DROP TABLE IF EXISTS temp.Expected{table}; CREATE TEMP TABLE Expected{table} AS SELECT * FROM main.{table} WHERE 0";
            await db.Database.ExecuteSqlRawAsync(make);
        }

        using (var writer = new IndexWriter(db, "temp.ExpectedEvents", "temp.ExpectedTenders"))
        {
            foreach (var day in await db.Days.OrderBy(d => d.Date).Select(d => d.Date).ToListAsync())
            {
                if (await db.Records.Where(r => r.Day == day && r.Kind == RecordKind.Setup).OrderByDescending(r => r.Version)
                    .Select(r => r.Json).FirstOrDefaultAsync() is not { } json
                    || SetupText.Read(json).Setup is not { } setup)
                {
                    continue; // the day does not read, and is named as such
                }

                var lines = new EventLines(setup);
                var standing = db.Records.AsNoTracking().Where(r => r.Day == day && r.Kind == RecordKind.Event && r.Json != ""
                    && !db.Records.Any(later => later.Day == day && later.Kind == RecordKind.Event && later.Key == r.Key
                        && later.Version > r.Version));
                await foreach (var record in standing.Select(r => new { r.Id, r.Json }).AsAsyncEnumerable())
                {
                    if (lines.Read(record.Json).Event is { } e)
                    {
                        writer.Write(record.Id, day, e);
                    }
                }
            }
        }

        foreach (var (table, columns) in _tables)
        {
            var open = table == "Events" ? "t.Id" : $"t.Id / {TenderRow.PlacesOfATicket}";
            var there =
                $"SELECT {columns} FROM main.{table} AS t WHERE NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE {open} BETWEEN o.First "
                    + "AND o.Last)";
            foreach (var (one, other, what) in new[]
            {
                (there, $"SELECT {columns} FROM temp.Expected{table}", "says something that no record says"),
                ($"SELECT {columns} FROM temp.Expected{table}", there, "lacks what a record says")
            })
            {
                var sql = $"SELECT Id AS Value FROM ({one} EXCEPT {other}) ORDER BY Id LIMIT 1";
                if ((await db.Database.SqlQueryRaw<long>(sql).ToListAsync()) is [var id])
                {
                    return $"The search index ({table}) {what}: row {id}.";
                }
            }
        }

        return null;
    }
}
