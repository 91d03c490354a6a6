using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>Everything that writes to a day goes through here: one writer at a time, and none once the day is closed.</summary>
public sealed class DayLock(StoreContext db, DayCache cache, TradeBegins trade)
{
    /// <summary>The same for a person's act: whom the table of acts does not let do it is refused before anything else.</summary>
    public async Task<Outcome> Write(DateOnly day, Person by, ActKind act, Func<Task<Outcome>> work) =>
        by.Refusal(act) ?? await Write(day, work);

    /// <summary>Does the work in a transaction that no other writer can enter, and keeps it only when the outcome is done.</summary>
    public async Task<Outcome> Write(DateOnly day, Func<Task<Outcome>> work)
    {
        await using var transaction = await db.BeginWriting();
        if (await db.StandingCloses.AsNoTracking().SingleOrDefaultAsync(c => c.Day == day) is { } close)
        {
            return Outcome.Refused($"This day is closed (close {close.Number}). Nothing was changed.");
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

    /// <summary>The days' reconciliations are others from now on, and so may be those of the open days behind them: what is rung late on a
    /// day counts on a later one.</summary>
    /// <param name="isWanted">A person did it: it is shown at once.</param>
    public async Task Grow(IReadOnlyCollection<DateOnly> days, bool isWanted)
    {
        await trade.On(days);
        var first = days.Min();
        await db.Days.Where(d => days.Contains(d.Date) || (d.Date > first && !db.StandingCloses.Any(c => c.Day == d.Date)))
            .ExecuteUpdateAsync(s => s.SetProperty(d => d.Revision, d => d.Revision + 1));
        foreach (var day in isWanted ? days : [])
        {
            cache.Want(day, await db.Days.Where(d => d.Date == day).Select(d => d.Revision).SingleAsync());
        }
    }

    /// <summary>The same after something that a person did to one day.</summary>
    public Task Revise(DateOnly day) => Grow([day], isWanted: true);

    private async Task Commit(Writing transaction)
    {
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
    }
}
