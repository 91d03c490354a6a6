using Fondo.Core.SetUp;
using Fondo.Files.Text;
using Fondo.Store.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.People;

/// <summary>Who can sign in.</summary>
public sealed class PeopleRegister(StoreContext db, UserManager<StorePerson> people)
{
    public async Task<IReadOnlyList<Person>> All() =>
        [.. (await db.Users.AsNoTracking().OrderBy(p => p.Name).ToListAsync()).Select(p => p.ToPerson())];

    public async Task<bool> IsEmpty() => !await db.Users.AnyAsync();

    /// <summary>Adds a person, or gives one another name, role or PIN.</summary>
    /// <param name="by">Who does it; null for the first start, when there is nobody yet.</param>
    public async Task<Outcome> Save(Person person, string pin, Person? by)
    {
        var id = person.Id.Value.Trim();
        if (by is not null && await MakesApprover(person with { Id = new(id) }, by))
        {
            return Outcome.Refused("Only a manager makes or changes supervisors and managers.");
        }

        if (id.Length is 0 or > 20 || !id.All(c => char.IsAsciiLetterOrDigit(c) || c == '-'))
        {
            return Outcome.Refused("The id is what journals and counts call the person: letters and digits, 20 at most.");
        }

        if (string.IsNullOrWhiteSpace(person.Name) || person.Name.Length > 80 || CardNumbers.Contains(person.Name))
        {
            return Outcome.Refused("Give the person's name.");
        }

        if (PinObjection(pin) is { } objection)
        {
            return Outcome.Refused(objection);
        }

        var known = await db.Users.SingleOrDefaultAsync(p => p.PersonId == id);
        var row = known ?? new StorePerson { PersonId = id, Name = "", UserName = id };
        (row.Name, row.Role) = (person.Name.Trim(), person.Role);
        row.PasswordHash = people.PasswordHasher.HashPassword(row, pin);
        (row.AccessFailedCount, row.LockoutEnd) = (0, null);
        var result = known is null ? await people.CreateAsync(row) : await people.UpdateSecurityStampAsync(row);
        return result.Succeeded ? Outcome.Done : Outcome.Refused(string.Join(" ", result.Errors.Select(e => e.Description)));
    }

    /// <summary>Whoever could make a second approver, or give one a new PIN, could approve their own entries.
    /// While there is no manager, somebody has to make the first one.</summary>
    private async Task<bool> MakesApprover(Person person, Person by)
    {
        if (by.May(Right.Manage) || (person.Id == by.Id && person.Role == by.Role))
        {
            return false;
        }

        var everyone = await All();
        return everyone.Any(p => p.Role == Role.Manager)
            && everyone.Where(p => p.Id == person.Id).Append(person).Any(p => p.May(Right.Supervise));
    }

    private static string? PinObjection(string pin) =>
        pin is not { Length: >= 4 and <= 8 } || !pin.All(char.IsAsciiDigit) ? "A PIN has four to eight digits."
        : pin.Distinct().Count() == 1 || "0123456789".Contains(pin, StringComparison.Ordinal) || "9876543210".Contains(pin, StringComparison.Ordinal) ? "Choose a PIN that is not one digit repeated or counted up or down."
        : null;
}
