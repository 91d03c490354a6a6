using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Trails;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;

namespace Fondo.Store.Model;

/// <summary>A person's session at a machine. The browser holds only its key, and this only the key's hash.</summary>
public sealed class SessionRow
{
    public required string Hash { get; init; }

    public required string Person { get; init; }

    public required string Machine { get; init; }

    /// <summary>Encrypted with the application's keys.</summary>
    public required byte[] Ticket { get; set; }

    public DateTimeOffset BeganAt { get; init; }

    /// <summary>When the person last did something.</summary>
    public DateTimeOffset ActedAt { get; set; }

    /// <summary>When the person last proved themselves by PIN.</summary>
    public DateTimeOffset ProvedAt { get; set; }
}

/// <summary>A machine that the store has paired: there a PIN of four digits is enough. Never deleted.</summary>
public sealed class MachineRow : IAudited, IChanging
{
    public Guid Id { get; init; }

    public required string Name { get; init; }

    public required string Hash { get; init; }

    public required string PairedBy { get; init; }

    public DateTimeOffset PairedAt { get; init; }

    public string? EndedBy { get; set; }

    public DateTimeOffset? EndedAt { get; set; }

    public string ContentHash() => Hashing.Of(Id, Name, Hash, PairedBy, PairedAt.UtcTicks);

    public Act Added() => new(TrailAct.Machine, PairedBy, Name, "paired", $"Machines:{Id}", ContentHash());

    public RowState? State() => EndedBy is null && EndedAt is null ? null : RowState.Hashed($"Machines:{Id}", EndedBy, EndedAt?.UtcTicks);

    public Act? Changed(EntityEntry change) => State()?.By(TrailAct.Machine, EndedBy, Name, "no longer paired");
}

/// <summary>Tries of a person's PIN, from one address at one door.</summary>
public sealed class PinTryRow
{
    public required string Person { get; init; }

    public required string Address { get; init; }

    public int Tries { get; set; }

    public DateTimeOffset? WaitUntil { get; set; }

    /// <summary>When the right PIN was last given from there.</summary>
    public DateTimeOffset? GoodAt { get; set; }
}

/// <summary>How the single-letter keys are pressed.</summary>
public enum PlainKeys
{
    On,
    WithAlt,
    Off,
}

/// <summary>A person who can sign in.</summary>
public sealed class StorePerson : IdentityUser, IChanging
{
    /// <summary>The id by which journals and counts name the person.</summary>
    public required string PersonId { get; set; }

    public required string Name { get; set; }

    public Role Role { get; set; }

    /// <summary>Switched off: signs in no more, and keeps their name for what they did.</summary>
    public bool IsOff { get; set; }

    /// <summary>Somebody else chose the PIN; it serves only to choose one's own.</summary>
    public bool MustChoosePin { get; set; }

    public PlainKeys PlainKeys { get; set; }

    /// <summary>Who made this person, changed their role or gave them a PIN last; null where that was the console's code.</summary>
    public string? GivenBy { get; set; }

    /// <summary>The other approver who knows that whoever signs in is this person; null while nobody has said so.</summary>
    public string? ConfirmedBy { get; set; }

    /// <summary>Whether nobody but that person says who this is.</summary>
    public bool IsOnlyKnownTo(PersonId maker) => GivenBy == maker.Value && ConfirmedBy is null;

    /// <summary>Why they are no second person for whoever gave them the sign-in.</summary>
    /// <param name="maker">That person's name.</param>
    public string NotConfirmed(string maker) =>
        $"{maker} gave {Name} this sign-in. Another supervisor or manager must confirm {Name} under People first.";

    public Person ToPerson() => new(new(PersonId), Name, Role);

    public RowState? State() => RowState.Hashed($"AspNetUsers:{Id}", PersonId, Name, Role.Written(), IsOff, MustChoosePin, PasswordHash,
        PlainKeys.Written(), GivenBy, ConfirmedBy);

    public Act? Changed(EntityEntry change)
    {
        if (change.State == EntityState.Added)
        {
            return State()!.By(TrailAct.Person, null, PersonId, $"made: {Name}, {Role.Written()}");
        }

        var isPin = change.Property(nameof(PasswordHash)).IsModified;
        string?[] changes =
        [
            Change<string>(change, nameof(Name), "name", n => n),
            Change<Role>(change, nameof(Role), "role", r => r.Written()),
            Change<bool>(change, nameof(IsOff), "signs in", off => off ? "no" : "yes"),
            Change<string?>(change, nameof(GivenBy), "sign-in given by", g => g ?? "nobody"),
            Change<string?>(change, nameof(ConfirmedBy), "confirmed by", c => c ?? "nobody"),
            Change<PlainKeys>(change, nameof(PlainKeys), "keys", k => k.Written()),
            isPin ? MustChoosePin ? "was given a PIN to begin with" : "chose a PIN" : null,
        ];
        var says = string.Join("; ", changes.OfType<string>());
        return says.Length == 0 ? null : State()!.By(isPin ? TrailAct.Pin : TrailAct.Person, null, PersonId, says);
    }

    private static string? Change<T>(EntityEntry change, string property, string name, Func<T, string> words) =>
        change.Property(property) is { IsModified: true } p && !Equals(p.OriginalValue, p.CurrentValue)
            ? $"{name}: from {words((T)p.OriginalValue!)} to {words((T)p.CurrentValue!)}"
            : null;
}
