using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Files.Reading;
using Microsoft.AspNetCore.Identity;

namespace Fondo.Store.Model;

/// <summary>A trading day that something was taken in for.</summary>
public sealed class DayRow
{
    public DateOnly Date { get; init; }

    public required string Store { get; init; }

    /// <summary>Grows with everything that changes the day's reconciliation; never with entries.</summary>
    public int Revision { get; set; }

    public bool HasRows { get; set; }

    public bool HasLedger { get; set; }
}

/// <summary>A record as it came in. Never changed, never deleted.</summary>
public sealed class RecordRow
{
    public long Id { get; init; }

    public DateOnly Day { get; init; }

    public RecordKind Kind { get; init; }

    /// <summary>Natural key within its kind.</summary>
    public required string Key { get; init; }

    public required string Json { get; init; }

    public DateTimeOffset TakenAt { get; init; }

    /// <summary>Who took it in, or handed it in.</summary>
    public required string TakenBy { get; init; }

    /// <summary>Why a later attempt replaces an earlier count.</summary>
    public string? Reason { get; init; }
}

/// <summary>A count that is being typed. The only thing of a day that is overwritten; gone once handed in.</summary>
public sealed class CountDraft
{
    public DateOnly Day { get; init; }

    public required string Drawer { get; init; }

    public required string Json { get; set; }

    public DateTimeOffset SavedAt { get; set; }
}

/// <summary>A resolution. Never changed, never deleted.</summary>
public sealed class EntryRow
{
    public Guid Id { get; init; }

    public DateOnly Day { get; init; }

    public EntryKind Kind { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    /// <summary>Keys of what it rests on, one a line.</summary>
    public string Evidence { get; init; } = "";

    public Guid? Reverses { get; init; }

    public bool NeedsApproval { get; init; }

    public List<PostingRow> Postings { get; init; } = [];

    public ApprovalRow? Approval { get; init; }
}

public sealed class PostingRow
{
    public Guid EntryId { get; init; }

    public int Place { get; init; }

    public string? Register { get; init; }

    public string? Drawer { get; init; }

    public required string Tender { get; init; }

    public Money Amount { get; init; }
}

/// <summary>The second person's word. Never changed, never deleted.</summary>
public sealed class ApprovalRow
{
    public Guid EntryId { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>A reason to close the day over something that is left. Never changed, never deleted.</summary>
public sealed class ExcuseRow
{
    public DateOnly Day { get; init; }

    public required string Gate { get; init; }

    public required string Item { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }
}

/// <summary>A closed day as it was frozen. Never changed, never deleted.</summary>
public sealed class CloseRow
{
    public int Number { get; init; }

    public DateOnly Day { get; init; }

    public required string Content { get; init; }

    public required string PreviousHash { get; init; }

    public required string Hash { get; init; }
}

/// <summary>A person who can sign in.</summary>
public sealed class StorePerson : IdentityUser
{
    /// <summary>The id by which journals and counts name the person.</summary>
    public required string PersonId { get; set; }

    public required string Name { get; set; }

    public Role Role { get; set; }

    public Person ToPerson() => new(new(PersonId), Name, Role);
}
