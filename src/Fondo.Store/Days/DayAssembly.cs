using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files.Reading;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>A day on its way together: while journals come in, only what is new is read.</summary>
public sealed class DayAssembly
{
    private DayBuilder? _builder;
    private long _last;

    /// <summary>One at a time.</summary>
    internal SemaphoreSlim Turn { get; } = new(1);

    internal async Task<Day> Build(DayStore days, StoreContext db, DayRow row)
    {
        var last = await db.Records.Where(r => r.Day == row.Date).MaxAsync(r => (long?)r.Id) ?? 0;
        // Another version of something takes the place of what was read: then all is read again.
        if (_builder is null || await db.Records.AnyAsync(r => r.Day == row.Date && r.Id > _last && (r.Version > 1 || r.Kind == RecordKind.Setup)))
        {
            _builder = new();
            await foreach (var record in days.Records(row.Date, last))
            {
                _builder.Take(record);
            }
        }
        else
        {
            await foreach (var record in db.Records.AsNoTracking().Where(r => r.Day == row.Date && r.Id > _last && r.Id <= last).OrderBy(r => r.Kind).ThenBy(r => r.Id).AsAsyncEnumerable())
            {
                _builder.Take(new RawRecord(record.Kind, record.Key, record.Json));
            }
        }

        _last = last;
        _builder.Mark(row.HasRows, row.HasLedger);
        var reading = _builder.Build();
        if (reading.Day is { } day)
        {
            return day;
        }

        _builder = null;
        throw new InvalidOperationException($"The records of {row.Date} no longer read: {reading.Findings[0]}");
    }
}
