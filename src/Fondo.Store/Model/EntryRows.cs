using Fondo.Core.Amounts;
using Fondo.Core.Closing;
using Fondo.Core.Entries;
using Fondo.Store.Trails;

namespace Fondo.Store.Model;

/// <summary>A resolution. Never changed, never deleted.</summary>
public sealed class EntryRow : IAudited
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

    /// <summary>What its kind says besides, as JSON; null where it says nothing more, and on entries made before it was asked
    /// for.</summary>
    public string? Detail { get; init; }

    /// <summary>Entries that were taken as one have the same.</summary>
    public Guid? Together { get; init; }

    public List<PostingRow> Postings { get; init; } = [];

    public ApprovalRow? Approval { get; init; }

    public string ContentHash() => Hashing.Of(
        [Id, Day, Kind.Written(), Reason, By, At.UtcTicks, Evidence, Reverses, NeedsApproval,
            .. Postings.OrderBy(p => p.Place).SelectMany(p => new object?[] { p.Place, p.Register, p.Drawer, p.Tender, p.Amount.Minor }),
            .. Detail is null && Together is null ? [] : new object?[] { Detail, Together }]);

    public Act Added() => new(TrailAct.Entry, By, $"{Day:yyyy-MM-dd}", $"{Kind.Written()}: {Reason}", $"Entries:{Id}", ContentHash());
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
public sealed class ApprovalRow : IAudited
{
    public Guid EntryId { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(EntryId, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Approve, By, $"entry {EntryId}", "approved", $"Approvals:{EntryId}", ContentHash());
}

/// <summary>A reason to close the day over something that is left. Never changed, never deleted.</summary>
public sealed class ExcuseRow : IAudited
{
    public DateOnly Day { get; init; }

    public GateId Gate { get; init; }

    public required string Item { get; init; }

    /// <summary>What it said of the item when it was excused; over anything else the excuse says nothing.</summary>
    public required string Seen { get; init; }

    public required string Reason { get; init; }

    public required string By { get; init; }

    public DateTimeOffset At { get; init; }

    public string ContentHash() => Hashing.Of(Day, Gate.Written(), Item, Seen, Reason, By, At.UtcTicks);

    public Act Added() => new(TrailAct.Excuse, By, $"{Day:yyyy-MM-dd}", $"{Gate.Written()}: {Item}", $"Excuses:{SeenKey()}", ContentHash());

    /// <summary>A day, a gate, an item and what was seen make a long key; its hash stands for it.</summary>
    private string SeenKey() => Hashing.Of(Day, Gate.Written(), Item, Seen);
}
