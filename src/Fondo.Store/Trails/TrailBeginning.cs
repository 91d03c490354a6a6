using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Trails;

/// <summary>Begins the trail of a database that was there before it: what was found goes in as it was found.</summary>
public sealed class TrailBeginning(StoreContext db, TimeProvider clock)
{
    public async Task Complete()
    {
        await using var transaction = await db.BeginWriting();
        if (await db.Trail.AnyAsync())
        {
            await CompleteStates();
            await transaction.CommitAsync();
            return;
        }

        var written = new RecordsWritten();
        await foreach (var r in db.Records.AsNoTracking().OrderBy(r => r.Id).AsAsyncEnumerable())
        {
            written.Add(r);
        }

        List<Act> acts =
            [new(TrailAct.Begin, RequestOrigin.Itself, "the store",
                "the audit trail begins; what existed before is recorded as it was found")];
        if (written.Act is { } records)
        {
            acts.Add(records with { By = RequestOrigin.Itself });
        }

        acts.AddRange((await TrailTables.Rows(db)).Select(a => a with { By = a.By ?? RequestOrigin.Itself }));
        await TrailWriter.Append(db, acts, new(), clock.GetUtcNow());
        await CompleteStates();
        await transaction.CommitAsync();
    }

    /// <summary>The line from which on every row that may change has a line of its own.</summary>
    internal const string States = "rows that change";

    /// <summary>A trail from before has no lines for rows that may change: they are written down once, as they are found.</summary>
    private async Task CompleteStates()
    {
        if (await db.Trail.AnyAsync(t => t.Act == TrailAct.Begin && t.On == States))
        {
            return;
        }

        List<Act> acts =
            [new(TrailAct.Begin, RequestOrigin.Itself, States,
                "people, keys, machines, decisions and days are recorded as they were found")];
        acts.AddRange((await TrailTables.States(db))
            .Select(s => s.By(TrailAct.Begin, RequestOrigin.Itself, States, "as it was found")));
        await TrailWriter.Append(db, acts, new(), clock.GetUtcNow());
    }
}
