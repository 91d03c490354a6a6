using Fondo.Core.Journal;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.People;

/// <summary>The doors at which a PIN is asked for; each counts its own tries.</summary>
public enum PinDoor
{
    SignIn,
    Again,
    Approve,
}

/// <summary>Proves a person by their PIN: five tries from an address, then a wait that grows with every further one.
/// Tries from elsewhere do not lock a person out of the machines at which they signed in lately.</summary>
public sealed class PinSignIn(StoreContext db, UserManager<StorePerson> people, Here here, TimeProvider clock)
{
    /// <summary>Tries at one address before a wait; and from all addresses together where the person did not sign in lately.</summary>
    public const int FreeTries = 5, FreeElsewhere = 20;

    /// <summary>A machine that the store did not pair takes no shorter PIN.</summary>
    public const int DigitsElsewhere = 6;

    private const string Everywhere = "*";

    private static readonly TimeSpan _firstWait = TimeSpan.FromSeconds(30), _longestWait = TimeSpan.FromHours(1), _lately = TimeSpan.FromDays(30);

    private sealed record Tried(int Tries, long? GoodAt);

    /// <summary>The person, or the sentence that says why not.</summary>
    public async Task<(StorePerson? Person, string? Objection)> Prove(string? personId, string? pin, PinDoor door)
    {
        var person = personId is null ? null : await db.Users.AsNoTracking().SingleOrDefaultAsync(p => p.PersonId == personId && !p.IsOff);
        if (person is null)
        {
            return (null, "Choose your name.");
        }

        if (!here.IsPaired && (pin?.Length ?? 0) < DigitsElsewhere)
        {
            return (null, $"The store does not know this machine: here a PIN has {DigitsElsewhere} digits or more. Pair the machine with the code that the desk shows, or choose a longer PIN there.");
        }

        // A try is counted, and the wait after it begun, in one statement before the PIN is looked at: tries side by side are no more than tries in a row.
        var place = $"{door.ToString().ToLowerInvariant()} {here.Address}";
        if (await Try(person, place, FreeTries) is not { } tried)
        {
            return (null, await Waits(person, place));
        }

        var now = clock.GetUtcNow();
        var isKnownHere = tried.GoodAt > (now - _lately).UtcTicks;
        if (!isKnownHere && await Try(person, Everywhere, FreeElsewhere) is null)
        {
            return (null, await Waits(person, Everywhere));
        }

        if (people.PasswordHasher.VerifyHashedPassword(person, person.PasswordHash ?? "", pin ?? "") == PasswordVerificationResult.Failed)
        {
            await db.Note(new Act(TrailAct.Refused, person.PersonId, person.PersonId, $"a wrong PIN, {(door == PinDoor.Approve ? "to approve" : "to sign in")}"));
            return (null, "That PIN does not belong to this person. " + (tried.Tries < FreeTries
                ? $"{FreeTries - tried.Tries} {(FreeTries - tried.Tries == 1 ? "try" : "tries")} left."
                : $"Too many tries; the next one is possible in {Plain(WaitAfter(tried.Tries))}."));
        }

        var forgiven = isKnownHere ? [place] : new[] { place, Everywhere };
        await db.InTurn(() => db.PinTries.Where(t => t.Person == person.PersonId && forgiven.Contains(t.Address))
            .ExecuteUpdateAsync(s => s.SetProperty(t => t.Tries, 0).SetProperty(t => t.WaitUntil, (DateTimeOffset?)null).SetProperty(t => t.GoodAt, now)));
        return person.MustChoosePin && door != PinDoor.SignIn
            ? (null, $"{person.Name} signs in first and chooses a PIN of their own: this one was given by somebody else.")
            : (person, null);
    }

    /// <summary>Proves the second person of an act.</summary>
    /// <param name="by">Whose act it is: nobody's second person is somebody to whom they gave the sign-in, until another approver has confirmed that person.</param>
    public async Task<(StorePerson? Person, string? Objection)> ProveSecond(string? personId, string? pin, PersonId by)
    {
        var (person, objection) = await Prove(personId, pin, PinDoor.Approve);
        return person?.IsOnlyKnownTo(by) == true
            ? (null, person.NotConfirmed(await db.Users.Where(p => p.PersonId == by.Value).Select(p => p.Name).SingleOrDefaultAsync() ?? by.Value))
            : (person, objection);
    }

    /// <summary>30 seconds after the fifth wrong PIN, doubled with each further one, an hour at most.</summary>
    public static TimeSpan WaitAfter(int tries) =>
        tries < FreeTries ? TimeSpan.Zero : TimeSpan.FromTicks(Math.Min(_longestWait.Ticks, _firstWait.Ticks << Math.Min(tries - FreeTries, 20)));

    /// <summary>Null while a wait is on.</summary>
    private async Task<Tried?> Try(StorePerson person, string place, int free)
    {
        var now = clock.GetUtcNow().UtcTicks;
        var (first, longest) = (_firstWait.Ticks, _longestWait.Ticks);
        return await db.InTurn(async () => (await db.Database.SqlQuery<Tried>($"""
            INSERT INTO PinTries (Person, Address, Tries) VALUES ({person.PersonId}, {place}, 1)
            ON CONFLICT DO UPDATE SET Tries = Tries + 1,
              WaitUntil = CASE WHEN Tries + 1 >= {free} THEN {now} + MIN({longest}, {first} << MIN(Tries + 1 - {free}, 20)) END
            WHERE WaitUntil IS NULL OR WaitUntil <= {now}
              OR WaitUntil > {now} + MIN({longest}, {first} << MIN(MAX(Tries - {free}, 0), 20)) -- the clock was set back meanwhile
            RETURNING Tries, GoodAt
            """).ToListAsync()).SingleOrDefault());
    }

    private async Task<string> Waits(StorePerson person, string place)
    {
        var until = await db.PinTries.Where(t => t.Person == person.PersonId && t.Address == place).Select(t => t.WaitUntil).SingleOrDefaultAsync();
        var left = (until ?? clock.GetUtcNow() + _firstWait) - clock.GetUtcNow();
        return $"Too many wrong PINs for {person.Name}. Try again in {Plain(left < TimeSpan.Zero ? _firstWait : left)}.";
    }

    private static string Plain(TimeSpan wait) =>
        wait.TotalSeconds < 90 ? $"{Math.Ceiling(wait.TotalSeconds):0} seconds" : $"{Math.Ceiling(wait.TotalMinutes):0} minutes";
}
