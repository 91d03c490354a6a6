using System.Globalization;
using System.Security.Cryptography;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Store.People;

/// <summary>A person who can sign in from now on.</summary>
/// <param name="Pin">To begin with; it is kept nowhere in this shape.</param>
public sealed record FirstPin(Person Person, string Pin);

/// <summary>What became of a list of names.</summary>
/// <param name="Rest">The lines that were not taken, as they were typed.</param>
/// <param name="Objection">Why the first of them was not; null where all were taken.</param>
public sealed record Hired(IReadOnlyList<FirstPin> Pins, string Rest, string? Objection);

/// <summary>People as a list names them, one a line: a name, and after a comma, a semicolon or a tab a role. Each gets a PIN that works
/// until they choose their own.</summary>
public sealed class NewPeople(PeopleRegister people)
{
    private const int PinDigits = 6, Most = 400;

    /// <param name="taken">Ids that journals and counts know already.</param>
    public async Task<Hired> Take(string names, IEnumerable<string> taken, Person by, Person? second)
    {
        var lines = names.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        var ids = (await people.Listing()).Select(p => p.Person.Id.Value).Concat(taken).ToHashSet();
        List<FirstPin> pins = [];
        foreach (var (number, line) in lines.Take(Most).Index())
        {
            var id = Enumerable.Range(1, Most * Most).Select(n => string.Create(CultureInfo.InvariantCulture, $"p{n:00}"))
                .First(i => !ids.Contains(i));
            var (name, role, objection) = Read(line);
            var pin = await FreshPin(new(id), name, role, objection, by, second);
            if (pin.Objection is { } refused)
            {
                return new(pins, string.Join('\n', lines.Skip(number)), $"“{line}”: {refused}");
            }

            ids.Add(id);
            pins.Add(pin.Value!);
        }

        return new(pins, "", null);
    }

    private async Task<Outcome<FirstPin>> FreshPin(PersonId id, string name, Role role, string? objection, Person by, Person? second)
    {
        if (objection is not null)
        {
            return Outcome.Refused<FirstPin>(objection);
        }

        var (person, pin) = (new Person(id, name, role), "");
        do
        {
            pin = RandomNumberGenerator.GetString("0123456789", PinDigits);
        }
        while (PeopleRegister.Objection(pin) is not null);

        var saved = await people.Save(person, pin, by, second);
        return saved.IsDone ? new FirstPin(person, pin) : Outcome.Refused<FirstPin>(saved.Objections);
    }

    private static (string Name, Role Role, string? Objection) Read(string line)
    {
        var parts = line.Split([',', ';', '\t'], StringSplitOptions.TrimEntries);
        var role = parts.Length > 1 && parts[1].Length > 0 ? parts[1] : nameof(Role.Cashier);
        return parts.Length > 2 ? (parts[0], default, "Type a name, a comma and a role.")
            : Enum.TryParse<Role>(role, ignoreCase: true, out var known) && !char.IsAsciiDigit(role[0]) ? (parts[0], known, null)
            : (parts[0], default, $"{role} is no role here. Roles are cashier, supervisor, manager and auditor.");
    }
}
