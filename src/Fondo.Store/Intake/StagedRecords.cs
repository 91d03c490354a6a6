using System.Diagnostics;
using Fondo.Files.Reading;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>Many records of one file, written in steps between which others write, and seen by nobody until all are there: their numbers
/// are kept apart meanwhile,
/// and whatever is left of those that were never published goes at the next start.</summary>
public sealed class StagedRecords : IAsyncDisposable
{
    /// <summary>From so many on; fewer are written at once.</summary>
    public const int Many = 5_000;

    /// <summary>So many are taken away at once, and written to begin with; then as many as take about as long as others are made to
    /// wait.</summary>
    private const int Step = 1_000, LongestStep = 50_000;

    /// <summary>So long others are made to wait for one step.</summary>
    private static readonly TimeSpan _patience = TimeSpan.FromMilliseconds(900);

    private readonly StoreContext _db;
    private readonly RecordsWritten _written = new();
    private readonly OpenIntakeRow _open;
    private bool _isPublished;

    private StagedRecords(StoreContext db, OpenIntakeRow open) => (_db, _open) = (db, open);

    /// <summary>Writes them; null where one of them came in another way meanwhile.</summary>
    internal static async Task<StagedRecords?> Write(StoreContext db, DateOnly day, IReadOnlyCollection<RawRecord> records, string by,
        DateTimeOffset now, IntakeProgress progress)
    {
        // The day itself begins only when all is published: until then its records refer to nothing.
        await db.Database.OpenConnectionAsync();
        await db.Database.ExecuteSqlRawAsync("PRAGMA foreign_keys=OFF; PRAGMA cache_size=-400000; PRAGMA wal_autocheckpoint=16000;");
        StagedRecords? staged = null;
        try
        {
            OpenIntakeRow open;
            await using (var reserving = await db.BeginWriting())
            {
                var first = await RecordWriter.LastNumber(db) + 1;
                db.OpenIntakes.Add(open = new() { Day = day, First = first, Last = first + records.Count - 1, By = by, At = now });
                await db.SaveChangesAsync();
                await reserving.CommitAsync();
            }

            staged = new(db, open);
            using var left = progress.Writes(records).GetEnumerator();
            var (done, step) = (0, Step);
            while (done < records.Count)
            {
                await using var writing = await db.BeginWriting();
                var began = Stopwatch.GetTimestamp();
                await using (var writer = RecordWriter.From(db, open.First + done, staged._written))
                {
                    for (var i = 0; i < step && left.MoveNext(); i++)
                    {
                        writer.Append(day, left.Current, by, now);
                    }
                }

                await writing.CommitAsync();
                done = Math.Min(done + step, records.Count);
                step = NextStep(step, Stopwatch.GetElapsedTime(began));
            }

            return staged;
        }
        catch (SqliteException e) when (e.SqliteErrorCode == 19 && staged is not null)
        {
            await staged.DisposeAsync();
            return null;
        }
        catch
        {
            if (staged is not null)
            {
                await staged.DisposeAsync();
            }

            throw;
        }
        finally
        {
            await db.Database.ExecuteSqlRawAsync("PRAGMA foreign_keys=ON; PRAGMA wal_autocheckpoint=1000; " + SqlitePragmas.Cache);
            await db.Database.CloseConnectionAsync();
        }
    }

    /// <summary>In long steps the pages of the indexes are written fewer times over.</summary>
    private static int NextStep(int step, TimeSpan took) =>
        Math.Clamp(took < _patience / 2 ? step * 2 : took > _patience ? step / 2 : step, Step, LongestStep);

    /// <summary>From now on everybody sees them. Within the transaction that does all else that comes with them.</summary>
    public async Task Publish()
    {
        await _db.OpenIntakes.Where(o => o.Id == _open.Id).ExecuteDeleteAsync();
        await _db.Note(_written.Act!);
    }

    /// <summary>The transaction was committed.</summary>
    public void Published() => _isPublished = true;

    public async ValueTask DisposeAsync()
    {
        if (!_isPublished)
        {
            await Discard(_db, _open);
            _isPublished = true;
        }
    }

    /// <summary>Takes away what an earlier run wrote and never published.</summary>
    public static async Task Purge(StoreContext db)
    {
        foreach (var open in await db.OpenIntakes.AsNoTracking().ToListAsync())
        {
            await Discard(db, open);
        }
    }

    private static async Task Discard(StoreContext db, OpenIntakeRow open)
    {
        db.ChangeTracker.Clear();
        for (var first = open.First; first <= open.Last; first += Step)
        {
            var (from, to) = (first, Math.Min(first + Step - 1, open.Last));
            await db.InTurn(async () =>
            {
                await db.Database.ExecuteSqlAsync(
                    $"DELETE FROM Tenders WHERE Id >= {from * TenderRow.PlacesOfATicket} AND Id < {(to + 1) * TenderRow.PlacesOfATicket}");
                await db.Database.ExecuteSqlAsync($"DELETE FROM Events WHERE Id BETWEEN {from} AND {to}");
                return await db.Database.ExecuteSqlAsync($"DELETE FROM Records WHERE Id BETWEEN {from} AND {to}");
            });
        }

        await db.InTurn(() => db.OpenIntakes.Where(o => o.Id == open.Id).ExecuteDeleteAsync());
    }
}
