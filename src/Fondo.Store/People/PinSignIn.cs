using Fondo.Store.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.People;

/// <summary>Proves a person by their PIN on a shared machine: five tries, then a wait that grows with every further one.</summary>
public sealed class PinSignIn(StoreContext db, UserManager<StorePerson> people, TimeProvider clock)
{
    public const int FreeTries = 5;

    private static readonly TimeSpan _firstWait = TimeSpan.FromSeconds(30), _longestWait = TimeSpan.FromHours(1);

    /// <summary>The person, or the sentence that says why not.</summary>
    public async Task<(StorePerson? Person, string? Objection)> Prove(string? personId, string? pin)
    {
        const string Wrong = "That PIN does not belong to this person.";
        var person = personId is null ? null : await db.Users.AsNoTracking().SingleOrDefaultAsync(p => p.PersonId == personId);
        if (person is null)
        {
            return (null, "Choose your name.");
        }

        // A try is taken before the PIN is looked at, in one statement, so that tries side by side cannot be more than tries in a row.
        var now = clock.GetUtcNow();
        var taken = await db.Users.Where(p => p.Id == person.Id && (p.LockoutEnd == null || p.LockoutEnd <= now))
            .ExecuteUpdateAsync(s => s.SetProperty(p => p.AccessFailedCount, p => p.AccessFailedCount + 1));
        if (taken == 0)
        {
            // Another try, side by side with this one, may have begun the wait.
            var end = await db.Users.Where(p => p.Id == person.Id).Select(p => p.LockoutEnd).SingleOrDefaultAsync();
            return (null, $"Too many wrong PINs for {person.Name}. Try again in {Plain((end ?? now + _firstWait) - now)}.");
        }

        if (people.PasswordHasher.VerifyHashedPassword(person, person.PasswordHash ?? "", pin ?? "") == PasswordVerificationResult.Failed)
        {
            var tries = await db.Users.Where(p => p.Id == person.Id).Select(p => p.AccessFailedCount).SingleAsync();
            if (tries < FreeTries)
            {
                return (null, $"{Wrong} {FreeTries - tries} {(FreeTries - tries == 1 ? "try" : "tries")} left.");
            }

            var wait = WaitAfter(tries);
            DateTimeOffset? until = now + wait;
            await db.Users.Where(p => p.Id == person.Id).ExecuteUpdateAsync(s => s.SetProperty(p => p.LockoutEnd, until));
            return (null, $"{Wrong} Too many tries; the next one is possible in {Plain(wait)}.");
        }

        await db.Users.Where(p => p.Id == person.Id)
            .ExecuteUpdateAsync(s => s.SetProperty(p => p.AccessFailedCount, 0).SetProperty(p => p.LockoutEnd, (DateTimeOffset?)null));
        return (person, null);
    }

    /// <summary>30 seconds after the fifth wrong PIN, doubled with each further one, an hour at most.</summary>
    public static TimeSpan WaitAfter(int tries) =>
        tries < FreeTries ? TimeSpan.Zero : TimeSpan.FromTicks(Math.Min(_longestWait.Ticks, _firstWait.Ticks << Math.Min(tries - FreeTries, 20)));

    private static string Plain(TimeSpan wait) =>
        wait.TotalSeconds < 90 ? $"{Math.Ceiling(wait.TotalSeconds):0} seconds" : $"{Math.Ceiling(wait.TotalMinutes):0} minutes";
}
