using Fondo.Core.Cells;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>Who agreed to what files change, and what that was.</summary>
/// <param name="ChangesText">As <see cref="FilesWait.ChangesText"/>.</param>
/// <param name="Seconds">Those of them who may approve.</param>
public sealed record Agreed(string ChangesText, IReadOnlyCollection<PersonId> All, IReadOnlyCollection<PersonId> Seconds);

/// <summary>What a person brings in a file is that person's word. What it changes in a cell that was counted, settled or found off waits
/// above the limit for a second person,
/// all such files of a cell taken together; counts that name others wait for those. What comes by a key or from the watched folder is no
/// person's word.</summary>
public sealed class PersonsWord(StoreContext db, DayStore days, Sources sources, TimeProvider clock)
{
    private PersonId? _by;
    private Agreed? _agreed;

    /// <summary>From now on, and in this scope, files are this person's.</summary>
    public void IsOf(PersonId by, Agreed? agreed = null) => (_by, _agreed) = (by, agreed);

    /// <summary>The open days that files of these days may change, as they are before; null where the files are nobody's word.</summary>
    internal async Task<IReadOnlyList<DayView>?> Before(IEnumerable<DateOnly> touched)
    {
        if (_by is null)
        {
            return null;
        }

        var views = new List<DayView>();
        var open = await db.Days.Where(d => !db.StandingCloses.Any(c => c.Day == d.Date)).OrderBy(d => d.Date).Select(d => d.Date)
            .ToListAsync();
        // A ticket that was rung after a close counts on the day behind.
        foreach (var date in touched.SelectMany(t => open.Where(d => d >= t).Take(2)).Distinct().Order())
        {
            try
            {
                views.Add((await days.View(date))!);
            }
            catch (UnreadableDayException)
            {
                // It has no cells that anybody could have judged.
            }
        }

        return views;
    }

    /// <summary>Why what was just written may not stand; null where it may, and is noted. Within the transaction.</summary>
    /// <param name="before">As <see cref="Before"/> said.</param>
    /// <param name="counts">The new counts of the files.</param>
    /// <param name="worked">The files' own day with what was just written, where that was worked out before.</param>
    internal async Task<FilesWait?> Wait(IReadOnlyList<DayView>? before, string file, IEnumerable<Count> counts, KnownDay? worked = null)
    {
        if (_by is not { } by || before is null)
        {
            return null;
        }

        var (changes, needsSecond) = (new List<(DateOnly Day, FileChange Change)>(), false);
        foreach (var view in before)
        {
            var date = view.Setup.TradingDay.Date;
            var after = await days.Uncommitted(date, worked?.Date == date ? worked : null);
            var alone = await sources.Alone(date);
            var sent = view.Day.Journal.Select(e => e.Register).ToHashSet();
            foreach (var change in FileChange.Of(view.Bridges.Values.Select(b => b.Cell),
                after.Bridges.ToDictionary(b => b.Key, b => b.Value.Cell), sent))
            {
                changes.Add((date, change));
                needsSecond |= alone.GetValueOrDefault(change.Cell) + view.Bridges[change.Cell].Unwitnessed()
                    + change.Amount > view.Setup.Policy.ApprovalAbove;
            }
        }

        var named = counts.SelectMany(c => new[] { c.By, c.Witness }).OfType<PersonId>().Where(p => p != by).Distinct()
            .OrderBy(p => p.Value, StringComparer.Ordinal).ToList();
        var signingIn = await db.Users.Where(p => !p.IsOff).Select(p => p.PersonId).ToListAsync();
        // Whoever cannot sign in cannot agree: a second person does for them.
        needsSecond |= named.Exists(p => !signingIn.Contains(p.Value));
        var wait = new FilesWait([.. changes.Select(c => HeldChange.Of(c.Day, c.Change))], needsSecond,
            [.. named.Where(p => signingIn.Contains(p.Value))]);
        var agreed = _agreed?.ChangesText == wait.ChangesText ? _agreed : null;
        var second = needsSecond ? agreed?.Seconds.Where(p => p != by).Select(p => (PersonId?)p).FirstOrDefault() : null;
        if ((needsSecond && second is null) || wait.Named.Any(p => agreed?.All.Contains(p) != true))
        {
            return wait;
        }

        db.FileChanges.AddRange(changes.Select(c => new FileChangeRow
        {
            Day = c.Day,
            Register = c.Change.Cell.Written.Register,
            Drawer = c.Change.Cell.Written.Drawer,
            Tender = c.Change.Cell.Written.Tender,
            Amount = c.Change.Amount.Minor,
            File = file,
            By = by.Value,
            Witness = second?.Value,
            At = clock.GetUtcNow(),
        }));
        await db.SaveChangesAsync();
        return null;
    }
}
