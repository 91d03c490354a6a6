using Fondo.Core.Days;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>A stored day that does not read, or cannot be worked out: the record, and why.</summary>
public sealed class UnreadableDayException(DateOnly day, IReadOnlyList<UnreadRecord> records)
    : InvalidOperationException($"{day:yyyy-MM-dd} does not read: {records[0].Key}: {records[0].Why}")
{
    public DateOnly Day => day;

    public IReadOnlyList<UnreadRecord> Records => records;
}

/// <summary>A day on its way together: while journals come in, only what is new is read.</summary>
public sealed class DayAssembly
{
    private DayBuilder? _builder;
    private long _last;

    /// <summary>One at a time.</summary>
    internal SemaphoreSlim Turn { get; } = new(1);

    /// <summary>A day of its records with what stands beside them: late tickets in their place, and what persons paired.</summary>
    internal static async Task<Day> Complete(Day day, StoreContext db, LateTickets late) =>
        await late.Place(day) with { Pairings = await PairingDesk.Of(db, day.Setup.TradingDay.Date) };

    /// <exception cref="UnreadableDayException">A record cannot be read.</exception>
    internal async Task<Day> Build(StoredRecords records, StoreContext db, LateTickets late, DayRow row)
    {
        var last = await db.Records.Where(r => r.Day == row.Date).MaxAsync(r => (long?)r.Id) ?? 0;
        // Another version of something takes the place of what was read: then all is read again.
        if (_builder is null || await db.Records.AnyAsync(r => r.Day == row.Date && r.Id > _last
            && (r.Version > 1 || r.Kind == RecordKind.Setup)))
        {
            _builder = new();
            await foreach (var record in records.Of(row.Date, last))
            {
                _builder.Take(record);
            }
        }
        else
        {
            await foreach (var record in db.Records.AsNoTracking().Where(r => r.Day == row.Date && r.Id > _last && r.Id <= last)
                .OrderBy(r => r.Id).AsAsyncEnumerable())
            {
                _builder.Take(new RawRecord(record.Kind, record.Key, record.Json));
            }
        }

        _last = last;
        _builder.Mark(row.HasRows, row.HasLedger);
        if (_builder.Build().Day is { } day)
        {
            return await Complete(day, db, late);
        }

        var unread = _builder.Unread.Count > 0
            ? _builder.Unread
            : [new(RecordKind.Setup, new TradingDay(row.Date).ToString(), _builder.Findings[0].Message)];
        _builder = null;
        throw new UnreadableDayException(row.Date, unread);
    }
}
