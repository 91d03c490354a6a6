using Fondo.Files.Reading;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>What one searches events by, for records that came in before it was kept.</summary>
public sealed class EventIndex(StoreContext db, SetupBook book)
{
    public async Task Complete()
    {
        await using var transaction = await db.BeginWriting();
        var days = await db.Days.Select(d => d.Date).ToListAsync();
        foreach (var day in days)
        {
            if (await db.Events.AnyAsync(e => e.Day == day) || await book.For(day) is not { } held)
            {
                continue;
            }

            var lines = new EventLines(held.Setup);
            var records = await db.Records.AsNoTracking().Where(r => r.Day == day && r.Kind == RecordKind.Event).ToListAsync();
            await using var writer = await RecordWriter.Of(db);
            foreach (var record in records)
            {
                if (lines.Read(record.Json).Event is { } e)
                {
                    writer.Index(record.Id, day, e);
                }
            }
        }

        await transaction.CommitAsync();
    }
}
