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
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace Fondo.Store.Days;

/// <summary>Everything that writes to a day goes through here: one writer at a time, and none once the day is closed.</summary>
public sealed class DayLock(StoreContext db, DayCache cache)
{
    /// <summary>Does the work in a transaction that no other writer can enter, and keeps it only when the outcome is done.</summary>
    public async Task<Outcome> Write(DateOnly day, Func<Task<Outcome>> work)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await db.Closes.AsNoTracking().SingleOrDefaultAsync(c => c.Day == day) is { } close)
        {
            return Outcome.Refused($"The day was closed as number {close.Number}. Nothing was changed.");
        }

        var outcome = await work();
        if (outcome.IsDone)
        {
            await Commit(transaction);
        }
        else
        {
            db.ChangeTracker.Clear();
        }

        return outcome;
    }

    /// <summary>Says that the day's reconciliation is another one from now on: registers sent something.</summary>
    public Task Grow(DateOnly day) => db.Days.Where(d => d.Date == day).ExecuteUpdateAsync(s => s.SetProperty(d => d.Revision, d => d.Revision + 1));

    /// <summary>The same after something that a person did: it is shown at once.</summary>
    public async Task Revise(DateOnly day)
    {
        await Grow(day);
        cache.Want(day, await db.Days.Where(d => d.Date == day).Select(d => d.Revision).SingleAsync());
    }

    private async Task Commit(IDbContextTransaction transaction)
    {
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
    }
}
