using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Text;
using Fondo.Store.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.People;

/// <summary>A person as the list of people shows them.</summary>
/// <param name="IsOff">Switched off: signs in no more.</param>
/// <param name="GivenBy">Who gave them their sign-in, while no other approver has confirmed them; null where nothing is to be
/// confirmed.</param>
public sealed record Listed(Person Person, bool IsOff, bool MustChoosePin, PersonId? GivenBy);

/// <summary>Who can sign in. Nobody makes their own second person: whoever may approve is made and changed by two.</summary>
public sealed class PeopleRegister(StoreContext db, UserManager<StorePerson> people)
{
    /// <summary>So many people who may approve a store needs; the first ones are made with the console's code.</summary>
    public const int FirstPeople = 2;

    /// <summary>Those who can sign in.</summary>
    public async Task<IReadOnlyList<Person>> All() => [.. (await Listing()).Where(p => !p.IsOff).Select(p => p.Person)];

    public async Task<IReadOnlyList<Listed>> Listing() =>
        [.. (await db.Users.AsNoTracking().OrderBy(p => p.Name).ToListAsync())
            .Select(p =>
                new Listed(p.ToPerson(), p.IsOff, p.MustChoosePin, p is { GivenBy: { } by, ConfirmedBy: null } ? new PersonId(by) : null))];

    public async Task<bool> IsEmpty() => !await db.Users.AnyAsync();

    /// <summary>How many people who may approve are still to be made with the console's code.</summary>
    public async Task<int> StillMissing() => Math.Max(0, FirstPeople - (await All()).Count(p => p.May(Right.Supervise)));

    /// <summary>Makes the first people, who choose their own PINs: all of them, or none.</summary>
    public async Task<Outcome> Begin(IReadOnlyList<(Person Person, string Pin)> first)
    {
        await using var transaction = await db.BeginWriting();
        if (await StillMissing() == 0)
        {
            return Outcome.Refused("The first people are there already.");
        }

        foreach (var (person, pin) in first)
        {
            var id = new PersonId(person.Id.Value.Trim());
            if (await db.Users.AnyAsync(p => p.PersonId == id.Value))
            {
                return Outcome.Refused($"The ID {id} is taken. Choose another one.");
            }

            if (await Write(person with { Id = id }, pin, null, null) is { IsDone: false } refused)
            {
                return refused;
            }
        }

        await transaction.CommitAsync();
        return Outcome.Done;
    }

    /// <summary>Adds a person, or gives one another name or role, or a PIN to begin with.</summary>
    /// <param name="pin">Null or empty: it stays as it is.</param>
    /// <param name="second">A manager who has proved themselves; needed for everybody who may approve.</param>
    public async Task<Outcome> Save(Person person, string? pin, Person by, Person? second)
    {
        person = person with { Id = new(person.Id.Value.Trim()) };
        await using var transaction = await db.BeginWriting();
        if (await Refusal(person, by, second) is { } refusal)
        {
            return Outcome.Refused(refusal);
        }

        var outcome = await Write(person, string.IsNullOrEmpty(pin) ? null : pin, by, second);
        return await Commit(outcome, transaction, person.Id);
    }

    /// <summary>Switches a person off, or on again. Nobody is ever deleted: their name stands at what they did.</summary>
    public async Task<Outcome> Switch(PersonId id, bool off, Person by, Person? second)
    {
        await using var transaction = await db.BeginWriting();
        if (await db.Users.SingleOrDefaultAsync(p => p.PersonId == id.Value) is not { } row)
        {
            return Outcome.Refused("No one has that ID.");
        }

        if (await Refusal(row.ToPerson(), by, second) is { } refusal)
        {
            return Outcome.Refused(refusal);
        }

        if (off && row.ToPerson().May(Right.Manage) && (await All()).Count(p => p.May(Right.Manage)) == 1)
        {
            return Outcome.Refused(
                $"{row.Name} is the only manager. Add another manager first.");
        }

        row.IsOff = off;
        await db.SaveChangesAsync();
        return await Commit(Outcome.Done, transaction, id);
    }

    /// <summary>A person's own PIN, once the old one was proved. Ends their other sessions.</summary>
    /// <param name="keep">The hash of the session that goes on.</param>
    public async Task<Outcome> ChoosePin(PersonId id, string pin, string? keep)
    {
        await using var transaction = await db.BeginWriting();
        var row = await db.Users.SingleAsync(p => p.PersonId == id.Value);
        if (Objection(pin) is { } objection)
        {
            return Outcome.Refused(objection);
        }

        if (people.PasswordHasher.VerifyHashedPassword(row, row.PasswordHash ?? "", pin) != PasswordVerificationResult.Failed)
        {
            return Outcome.Refused("This is your current PIN. Choose a different one.");
        }

        (row.PasswordHash, row.MustChoosePin) = (people.PasswordHasher.HashPassword(row, pin), false);
        await db.SaveChangesAsync();
        await db.Sessions.Where(s => s.Person == id.Value && s.Hash != keep).ExecuteDeleteAsync();
        await transaction.CommitAsync();
        return Outcome.Done;
    }

    public async Task SetKeys(PersonId id, PlainKeys keys)
    {
        var row = await db.Users.SingleAsync(p => p.PersonId == id.Value);
        row.PlainKeys = keys;
        await db.SaveChangesAsync();
    }

    public async Task<PlainKeys> KeysOf(PersonId id) =>
        await db.Users.Where(p => p.PersonId == id.Value).Select(p => p.PlainKeys).SingleOrDefaultAsync();

    /// <summary>Why these two may not change that person; null when they may.</summary>
    private async Task<string?> Refusal(Person person, Person by, Person? second)
    {
        if (by.Refusal(ActKind.ChangePerson) is { } refused)
        {
            return refused.Objection;
        }

        if (person.Id == by.Id)
        {
            return "You cannot change your own name or role. Change your PIN under “My PIN”.";
        }

        var isApprover = person.May(Right.Supervise)
            || await db.Users.AnyAsync(p => p.PersonId == person.Id.Value && (p.Role == Role.Supervisor || p.Role == Role.Manager));
        return !isApprover ? null
            : second is null ? "Adding or changing someone who can approve takes two people. Another manager must type their PIN."
            : !second.MayWitness(ActKind.ChangePerson) ? $"{second.Name} is not a manager. The second person here must be a manager."
            : second.Id == by.Id ? "The second person must be someone else."
            : second.Id == person.Id ? "The person you are changing cannot be the second person."
            : null;
    }

    /// <summary>Another approver says that whoever signs in as this person is this person.</summary>
    public async Task<Outcome> Confirm(PersonId id, Person by)
    {
        await using var transaction = await db.BeginWriting();
        if (await db.Users.SingleOrDefaultAsync(p => p.PersonId == id.Value && !p.IsOff) is not { } row)
        {
            return Outcome.Refused("This person does not sign in any more. Reload the page.");
        }

        if (!by.May(ActKind.ConfirmPerson) || row.PersonId == by.Id.Value || row.GivenBy == by.Id.Value)
        {
            return Outcome.Refused("Someone else must confirm this person: not who gave the sign-in, and not the person.");
        }

        row.ConfirmedBy ??= by.Id.Value;
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return Outcome.Done;
    }

    /// <param name="by">Who gives them their sign-in; null where they choose it themselves, with the console's code.</param>
    private async Task<Outcome> Write(Person person, string? pin, Person? by, Person? second)
    {
        var id = person.Id.Value;
        if (id.Length is 0 or > 20 || !id.All(c => char.IsAsciiLetterOrDigit(c) || c == '-') || CardNumbers.Contains(id))
        {
            return Outcome.Refused("Type the ID that journals and counts use for this person: letters and digits, 20 at most.");
        }

        if (string.IsNullOrWhiteSpace(person.Name) || person.Name.Length > 80 || CardNumbers.Contains(person.Name))
        {
            return Outcome.Refused("Type the person's name.");
        }

        var known = await db.Users.SingleOrDefaultAsync(p => p.PersonId == id);
        if (NameLooks.Objection(person.Name, await db.Users.Where(p => p.PersonId != id).Select(p => p.Name).ToListAsync()) is { } looks)
        {
            return Outcome.Refused(looks.Says());
        }

        if ((known is null || pin is not null) && Objection(pin ?? "") is { } objection)
        {
            return Outcome.Refused(objection);
        }

        var row = known ?? new StorePerson { PersonId = id, Name = "", UserName = id };
        if (by is not null && (known is null || pin is not null || person.Role != row.Role))
        {
            (row.GivenBy, row.ConfirmedBy) = (by.Id.Value, second?.Id.Value);
        }

        (row.Name, row.Role) = (person.Name.Trim(), person.Role);
        if (pin is not null)
        {
            (row.PasswordHash, row.MustChoosePin) = (people.PasswordHasher.HashPassword(row, pin), by is not null);
        }

        if (known is not null)
        {
            await db.SaveChangesAsync();
            return Outcome.Done;
        }

        var result = await people.CreateAsync(row);
        return result.Succeeded ? Outcome.Done : Outcome.Refused(string.Join(" ", result.Errors.Select(e => e.Description)));
    }

    /// <summary>Whatever changed: who signed in before has to do so again.</summary>
    private async Task<Outcome> Commit(Outcome outcome, Writing transaction, PersonId id)
    {
        if (outcome.IsDone)
        {
            await db.Sessions.Where(s => s.Person == id.Value).ExecuteDeleteAsync();
            await transaction.CommitAsync();
        }
        else
        {
            db.ChangeTracker.Clear();
        }

        return outcome;
    }

    internal static string? Objection(string pin) =>
        pin is not { Length: >= 4 and <= 8 } || !pin.All(char.IsAsciiDigit) ? "A PIN has four to eight digits."
        : pin.Distinct().Count() == 1 || "0123456789".Contains(pin, StringComparison.Ordinal)
            || "9876543210".Contains(pin, StringComparison.Ordinal) ? "Choose a PIN that is not one digit repeated or counted up or down."
        : null;
}
