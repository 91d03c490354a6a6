namespace Fondo.Core.Closing;

/// <summary>Something that two documents of one day say differently.</summary>
/// <param name="Was">Empty where the first has nothing of it.</param>
/// <param name="Is">Empty where the second has nothing of it.</param>
public sealed record CloseDifference(string What, string Was, string Is);

/// <summary>A line of the trail by its number and hash.</summary>
public sealed record ClosedTrail(long Number, string Hash);

/// <summary>A drawer session with its cashier.</summary>
public sealed record ClosedSession(string RegisterId, string Register, string Drawer, string? CashierId, string Cashier,
    DateTimeOffset From, DateTimeOffset? Until);

public sealed record ClosedCell(string Register, string? Drawer, string Tender, string Expected, string? Proof, string? Variance,
    string Explained, string? Left, string State)
{
    public string? RegisterId { get; init; }

    public string? TenderId { get; init; }

    public int? ExpectedCount { get; init; }

    public int? ProofCount { get; init; }
}

public sealed record ClosedTender(string Tender, string Expected, string Proof, string Variance)
{
    public string? TenderId { get; init; }
}

public sealed record ClosedEntry(string Kind, string Reason, string By, DateTimeOffset At, string? ApprovedBy,
    ImmutableArray<ClosedPosting> Postings)
{
    public Guid? Id { get; init; }

    public string? ById { get; init; }

    public string? ApprovedById { get; init; }

    public Guid? Reverses { get; init; }

    public Guid? Together { get; init; }

    public ImmutableArray<string> Evidence { get; init; } = [];

    /// <summary>What its kind says besides, in words.</summary>
    public string? Says { get; init; }
}

public sealed record ClosedPosting(string Register, string? Drawer, string Tender, string Amount)
{
    public string? RegisterId { get; init; }

    public string? TenderId { get; init; }
}

public sealed record ClosedExcuse(string Gate, string Item, string Reason, string By, DateTimeOffset At)
{
    public string? ById { get; init; }
}

/// <param name="Drawer">Empty for a bag and the safe.</param>
/// <param name="Blind">Whether whoever counted had not seen what should be there.</param>
public sealed record ClosedCount(string Drawer, int Attempt, string By, DateTimeOffset At, string Cash, bool Blind = true)
{
    public string? Id { get; init; }

    public string? Kind { get; init; }

    public string? Bag { get; init; }

    public string? ById { get; init; }

    public string? Witness { get; init; }

    public string? WitnessId { get; init; }

    /// <summary>By denomination, largest first.</summary>
    public ImmutableArray<ClosedPieces> Pieces { get; init; } = [];

    public ImmutableArray<ClosedCheck> Checks { get; init; } = [];

    public ImmutableArray<ClosedStub> Others { get; init; } = [];
}

public sealed record ClosedPieces(string Denomination, int Number);

public sealed record ClosedCheck(string Number, string Amount, string? Routing);

public sealed record ClosedStub(string TenderId, string Amount);

public sealed record ClosedItem(string Key, string Amount, string Cause);

/// <param name="Closed">Null where no host said when.</param>
public sealed record ClosedBatch(string Terminal, string Batch, DateTimeOffset? Closed, int SalesCount, string SalesAmount,
    int RefundsCount, string RefundsAmount, int Rows);

/// <param name="Remedy">Null where nobody answered it.</param>
public sealed record ClosedFinding(string Ticket, string Code, string Amount, string? Remedy, string? Reason, string? ById, string? By);

public sealed record ClosedPairing(string Kind, ImmutableArray<string> Journal, ImmutableArray<string> Rows, string Reason, string ById,
    string By, DateTimeOffset At);

public sealed record ClosedCarry(string Key, string From, string Amount, string? OwnerId, string? Owner, DateTimeOffset? Until);

/// <param name="RegisterId">Null for what is the store's.</param>
public sealed record ClosedBookSum(string Account, string? RegisterId, string? Register, string What, string Amount, int Number);

/// <summary>A way on which records of the day came in.</summary>
/// <param name="Kind">Of the records, as it is written.</param>
/// <param name="Way">As <see cref="SourceWay"/> is written.</param>
/// <param name="By">A person's name, a register or a machine; empty for the processor and the watched folder.</param>
/// <param name="File">Null where they came over the wire or from a page.</param>
public sealed record ClosedSource(string Kind, string Way, string By, string? File, int Records, DateTimeOffset First);

/// <summary>How records come in.</summary>
public enum SourceWay
{
    /// <summary>Sent by a register or a machine with its key.</summary>
    Key,

    /// <summary>Typed by a person.</summary>
    Page,

    /// <summary>In a file that a person brought: that person's word.</summary>
    File,

    /// <summary>In a file of the watched folder.</summary>
    Folder,

    Processor,
}

public sealed record ClosedSignature(string What, string ById, string By, DateTimeOffset At);
