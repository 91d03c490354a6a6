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
/// Tries from elsewhere do not lock a person out of the machines at which they signed in lately, and tries at the desk where they worked
/// today only slow them down.</summary>
public sealed class PinSignIn(StoreContext db, UserManager<StorePerson> people, TriesOnFullDisk onFullDisk, RequestOrigin here,
    TimeProvider clock)
{
    /// <summary>Tries at one address before a wait; and from all addresses together where the person did not sign in lately.</summary>
    public const int FreeTries = 5, FreeElsewhere = 20;

    /// <summary>A machine that the store did not pair takes no shorter PIN.</summary>
    public const int DigitsElsewhere = 6;

    private const string Everywhere = "*";

    private static readonly TimeSpan _firstWait = TimeSpan.FromSeconds(30), _longestWait = TimeSpan.FromHours(1),
        _lately = TimeSpan.FromDays(30), _workday = TimeSpan.FromHours(16), _slowly = TimeSpan.FromSeconds(30);

    private sealed record Tried(int Tries, long? GoodAt);

    /// <summary>The person, or the sentence that says why not.</summary>
    public async Task<Outcome<StorePerson>> Prove(string? personId, string? pin, PinDoor door)
    {
        var person = personId is null ? null : await db.Users.AsNoTracking().SingleOrDefaultAsync(p => p.PersonId == personId && !p.IsOff);
        if (person is null)
        {
            return Outcome.Refused<StorePerson>("Choose your name.");
        }

        if (!here.IsPaired && (pin?.Length ?? 0) < DigitsElsewhere)
        {
            return Outcome.Refused<StorePerson>(
                $"This machine is not paired with the store, so your PIN needs {DigitsElsewhere} digits or more. Pair the machine, or "
                    + "choose a longer PIN on a paired one.");
        }

        // Worked out before one's turn; what it says counts only where the turn allows the try, so that tries side by side are no more than
        // tries in a row.
        var isRight =
            people.PasswordHasher.VerifyHashedPassword(person, person.PasswordHash ?? "", pin ?? "") != PasswordVerificationResult.Failed;
        if (await Counted(person, door, isRight) is { } objection)
        {
            return Outcome.Refused<StorePerson>(objection);
        }

        return person.MustChoosePin && door != PinDoor.SignIn
            ? Outcome.Refused<StorePerson>($"{person.Name} must sign in first and choose their own PIN.")
            : person;
    }

    /// <summary>Counts a try in a turn; where the disk has no room for that, in memory. Why it proves nothing, or null.</summary>
    private async Task<string?> Counted(StorePerson person, PinDoor door, bool isRight)
    {
        try
        {
            await using var turn = await db.BeginWriting();
            var objection = await Objection(person, door, isRight);
            await turn.CommitAsync();
            return objection;
        }
        catch (Exception e) when (DiskFull.Is(e) && door != PinDoor.Approve && here.IsPaired)
        {
            // Waits cannot be counted now: only the store's own machines are let try.
            db.ChangeTracker.Clear();
            return !onFullDisk.May(person.PersonId)
                ? "The disk is full, so only one PIN every 30 seconds is checked for each person. Wait 30 seconds, then try again."
                : isRight ? null
                : "That PIN does not belong to this person. The disk is full: the next try is possible in 30 seconds.";
        }
    }

    /// <summary>Counts a try; why it proves nothing, or null. Within the turn.</summary>
    private async Task<string?> Objection(StorePerson person, PinDoor door, bool isRight)
    {
        var place = $"{door.ToString().ToLowerInvariant()} {here.Address}";
        var tried = await Try(person, place, FreeTries);
        var isSlow = tried is null && await MayTrySlowly(person);
        if (tried is null && !isSlow)
        {
            return await Waits(person, place);
        }

        var now = clock.GetUtcNow();
        var isKnownHere = isSlow || tried!.GoodAt > (now - _lately).UtcTicks;
        if (!isKnownHere && await Try(person, Everywhere, FreeElsewhere) is null)
        {
            return await Waits(person, Everywhere);
        }

        if (!isRight)
        {
            await db.Note(new Act(TrailAct.Refused, person.PersonId, person.PersonId,
                $"a wrong PIN, {(door == PinDoor.Approve ? "to approve" : "to sign in")}"));
            return "That PIN does not belong to this person. " + (
                tried is null ? "One more try is possible every 30 seconds."
                : tried.Tries < FreeTries ? $"{FreeTries - tried.Tries} {(FreeTries - tried.Tries == 1 ? "try" : "tries")} left."
                : $"Too many tries; the next one is possible in {Plain(WaitAfter(tried.Tries))}.");
        }

        if (isSlow)
        {
            await db.Note(new Act(TrailAct.SignIn, person.PersonId, person.PersonId,
                "gave the right PIN while wrong ones were made to wait"));
        }

        var forgiven = isKnownHere ? [place] : new[] { place, Everywhere };
        await db.PinTries.Where(t => t.Person == person.PersonId && forgiven.Contains(t.Address))
            .ExecuteUpdateAsync(s => s.SetProperty(t => t.Tries, 0).SetProperty(t => t.WaitUntil, (DateTimeOffset?)null)
                .SetProperty(t => t.GoodAt, now));
        return null;
    }

    /// <summary>At a paired machine where the person worked today, others' wrong PINs do not keep them out: one try every half minute is
    /// looked at.</summary>
    private async Task<bool> MayTrySlowly(StorePerson person)
    {
        var (now, own) = (clock.GetUtcNow(), $" {here.Address}");
        var (today, slow, next) = (now - _workday, $"slow{own}", (now + _slowly).UtcTicks);
        return here.IsPaired
            && await db.PinTries.AnyAsync(t => t.Person == person.PersonId && t.Address.EndsWith(own) && t.GoodAt > today)
            && (await db.Database.SqlQuery<int>($"""
                INSERT INTO PinTries (Person, Address, Tries, WaitUntil) VALUES ({person.PersonId}, {slow}, 1, {next})
                ON CONFLICT DO UPDATE SET Tries = Tries + 1, WaitUntil = {next} WHERE WaitUntil <= {now.UtcTicks} OR WaitUntil > {next}
                RETURNING Tries AS Value
                """).ToListAsync()).Count == 1;
    }

    /// <summary>Proves the second person of an act.</summary>
    /// <param name="by">Whose act it is: nobody's second person is somebody to whom they gave the sign-in, until another approver has
    /// confirmed that person.</param>
    public async Task<Outcome<StorePerson>> ProveSecond(string? personId, string? pin, PersonId by)
    {
        var proved = await Prove(personId, pin, PinDoor.Approve);
        return proved.Value is { } person && person.IsOnlyKnownTo(by)
            ? Outcome.Refused<StorePerson>(person.NotConfirmed(
                await db.Users.Where(p => p.PersonId == by.Value).Select(p => p.Name).SingleOrDefaultAsync() ?? by.Value))
            : proved;
    }

    /// <summary>The same where somebody may be chosen: nobody chosen is nobody.</summary>
    public async Task<Outcome<StorePerson>> ProveChosen(string? personId, string? pin, PersonId by) =>
        string.IsNullOrEmpty(personId) ? Outcome.Nothing<StorePerson>() : await ProveSecond(personId, pin, by);

    /// <summary>30 seconds after the fifth wrong PIN, doubled with each further one, an hour at most.</summary>
    public static TimeSpan WaitAfter(int tries) =>
        tries < FreeTries
            ? TimeSpan.Zero
            : TimeSpan.FromTicks(Math.Min(_longestWait.Ticks, _firstWait.Ticks << Math.Min(tries - FreeTries, 20)));

    /// <summary>Null while a wait is on.</summary>
    private async Task<Tried?> Try(StorePerson person, string place, int free)
    {
        var now = clock.GetUtcNow().UtcTicks;
        var (first, longest) = (_firstWait.Ticks, _longestWait.Ticks);
        return (await db.Database.SqlQuery<Tried>($"""
            INSERT INTO PinTries (Person, Address, Tries) VALUES ({person.PersonId}, {place}, 1)
            ON CONFLICT DO UPDATE SET Tries = Tries + 1,
              WaitUntil = CASE WHEN Tries + 1 >= {free} THEN {now} + MIN({longest}, {first} << MIN(Tries + 1 - {free}, 20)) END
            WHERE WaitUntil IS NULL OR WaitUntil <= {now}
              OR WaitUntil > {now} + MIN({longest}, {first} << MIN(MAX(Tries - {free}, 0), 20)) -- the clock was set back meanwhile
            RETURNING Tries, GoodAt
            """).ToListAsync()).SingleOrDefault();
    }

    private async Task<string> Waits(StorePerson person, string place)
    {
        var until = await db.PinTries.Where(t => t.Person == person.PersonId && t.Address == place).Select(t => t.WaitUntil)
            .SingleOrDefaultAsync();
        var left = (until ?? clock.GetUtcNow() + _firstWait) - clock.GetUtcNow();
        return $"Too many wrong PINs for {person.Name}. Try again in {Plain(left < TimeSpan.Zero ? _firstWait : left)}.";
    }

    private static string Plain(TimeSpan wait) =>
        wait.TotalSeconds < 90 ? $"{Math.Ceiling(wait.TotalSeconds):0} seconds" : $"{Math.Ceiling(wait.TotalMinutes):0} minutes";
}
