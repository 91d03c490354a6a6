using Fondo.Core.Journal;
using Fondo.Files.Reading;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;

namespace Fondo.Store.Model;

/// <summary>A trading day that something was taken in for.</summary>
public sealed class DayRow : IChanging
{
    public DateOnly Date { get; init; }

    public required string Store { get; init; }

    /// <summary>Grows with everything that changes the day's reconciliation; never with entries.</summary>
    public int Revision { get; set; }

    public bool HasRows { get; set; }

    public bool HasLedger { get; set; }

    /// <summary>Whether anything was rung, counted, or settled on it: only then is it a trading day of the store's chain (rules
    /// §9).</summary>
    public bool HasTrade { get; set; }

    public RowState? State() => RowState.Hashed($"Days:{Date:yyyy-MM-dd}", Store, HasRows, HasLedger, HasTrade);

    public Act? Changed(EntityEntry change) =>
        change.State == EntityState.Added ? State()!.By(TrailAct.Records, null, $"{Date:yyyy-MM-dd}", "the day began")
        : Turned(change) is { Count: > 0 } turned
            ? State()!.By(TrailAct.Records, null, $"{Date:yyyy-MM-dd}",
                turned.Contains(true) ? "a new kind of file arrived" : "nothing of a kind of file counts any more")
        : null;

    /// <summary>What the kinds that changed are now.</summary>
    private static List<bool> Turned(EntityEntry change) =>
        [.. new[] { nameof(HasRows), nameof(HasLedger), nameof(HasTrade) }.Select(change.Property).Where(p => p.IsModified)
            .Select(p => (bool)p.CurrentValue!)];
}

/// <summary>A record as it came in. Never changed, never deleted.</summary>
public sealed class RecordRow
{
    public long Id { get; init; }

    public DateOnly Day { get; init; }

    public RecordKind Kind { get; init; }

    /// <summary>Natural key within its kind.</summary>
    public required string Key { get; init; }

    /// <summary>1; higher where a person decided that another version stands. The highest one counts.</summary>
    public int Version { get; init; } = 1;

    /// <summary>As it came in; empty where a person set the record aside because it no longer reads.</summary>
    public required string Json { get; init; }

    /// <summary>The file that it came in; null where it came over HTTP, or from a person.</summary>
    public string? File { get; init; }

    /// <summary>Its line in the file or part, from 1; 0 where it has none.</summary>
    public int Line { get; init; }

    public DateTimeOffset TakenAt { get; init; }

    /// <summary>Who took it in, or handed it in.</summary>
    public required string TakenBy { get; init; }

    /// <summary>Why a later attempt replaces an earlier count.</summary>
    public string? Reason { get; init; }
}

/// <summary>Records of a file that is being written in steps: until all are there, nobody sees those of these numbers.</summary>
public sealed class OpenIntakeRow
{
    public int Id { get; init; }

    public DateOnly Day { get; init; }

    public long First { get; init; }

    public long Last { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>What of an event one searches by; derived from its record.</summary>
public sealed class EventRow
{
    /// <summary>The record's.</summary>
    public long Id { get; init; }

    public DateOnly Day { get; init; }

    public required string Key { get; init; }

    /// <summary>The number at the end of the key; null where it has none.</summary>
    public long? Number { get; init; }

    public required string Register { get; init; }

    public string? Drawer { get; init; }

    public string? Cashier { get; init; }

    public DateTimeOffset At { get; init; }

    public EventKind Kind { get; init; }

    /// <summary>What it comes to, in minor units.</summary>
    public long? Amount { get; init; }

    /// <summary>The ticket or hold that it refers to.</summary>
    public string? Original { get; init; }
}

/// <summary>What of a tender one searches by; derived.</summary>
public sealed class TenderRow
{
    public const int PlacesOfATicket = 1024;

    /// <summary>The ticket's record times <see cref="PlacesOfATicket"/>, and its place.</summary>
    public long Id { get; init; }

    public required string Type { get; init; }

    public long Amount { get; init; }

    /// <summary>The last four of the card, or of the gift card or account.</summary>
    public string? LastFour { get; init; }

    public string? Approval { get; init; }

    /// <summary>On a check, in small letters.</summary>
    public string? Name { get; init; }

    /// <summary>Of a check.</summary>
    public string? Number { get; init; }
}

/// <summary>A count that a person is typing. The only thing of a day that is overwritten; gone once handed in.</summary>
public sealed class CountDraft
{
    public DateOnly Day { get; init; }

    public required string Drawer { get; init; }

    public required string Person { get; init; }

    public required string Json { get; set; }

    public DateTimeOffset SavedAt { get; set; }
}

/// <summary>Somebody saw what should be in a drawer before it was counted: a closing count of theirs is not blind. Never changed, never
/// deleted.</summary>
public sealed class SeenRow : IAudited
{
    public DateOnly Day { get; init; }

    public required string Drawer { get; init; }

    public required string By { get; init; }

    /// <summary>The page that showed it.</summary>
    public required string Where { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Day, Drawer, By, Where, At.UtcTicks);

    public Act Added() => new(TrailAct.Saw, By, $"{Day:yyyy-MM-dd} {Drawer}", $"saw what should be there: {Where}",
        $"Seen:{Day:yyyy-MM-dd}/{Drawer}/{By}", ContentHash());
}
