using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>Remembers who saw what should be in a drawer while it was still to be counted: a count of theirs is not blind (rules
/// §8).</summary>
public sealed class Sightings(StoreContext db, TimeProvider clock)
{
    /// <param name="drawers">The drawers whose expectation is on the page; null: all of the day.</param>
    /// <param name="where">The page, for the trail.</param>
    public async Task Note(DayView view, IEnumerable<DrawerId>? drawers, Person by, string where)
    {
        if (view.IsClosed || !by.May(ActKind.Count))
        {
            return;
        }

        var day = view.Setup.TradingDay.Date;
        var uncounted = view.Overview.Sessions.Where(s => IsToCount(view, s)).Select(s => s.Drawer)
            .Where(d => drawers?.Contains(d) != false).Select(d => d.Value).ToList();
        if (uncounted.Count == 0)
        {
            return;
        }

        var known = await db.Seen.Where(s => s.Day == day && s.By == by.Id.Value).Select(s => s.Drawer).ToListAsync();
        if (uncounted.Except(known).ToList() is not { Count: > 0 } fresh)
        {
            return;
        }

        try
        {
            await using var transaction = await db.BeginWriting();
            foreach (var drawer in fresh)
            {
                if (!await db.Seen.AnyAsync(s => s.Day == day && s.By == by.Id.Value && s.Drawer == drawer))
                {
                    db.Seen.Add(new() { Day = day, Drawer = drawer, By = by.Id.Value, Where = where, At = clock.GetUtcNow() });
                }
            }

            await db.SaveChangesAsync();
            await transaction.CommitAsync();
        }
        catch (Exception e) when (DiskFull.Is(e))
        {
            // What is there can still be read; no count can be handed in either.
            db.ChangeTracker.Clear();
        }
    }

    public Task<bool> Has(DateOnly day, DrawerId drawer, PersonId person) =>
        db.Seen.AnyAsync(s => s.Day == day && s.Drawer == drawer.Value && s.By == person.Value);

    /// <summary>Not counted yet, or to be counted once more.</summary>
    private static bool IsToCount(DayView view, DrawerSession session) =>
        view.CountsOf(session.Drawer) is var counts
            && (counts.Count == 0 || Recount.IsAsked(counts.Count, view.IsOff(CountTarget.Of(session.Drawer))));
}
