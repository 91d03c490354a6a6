namespace Fondo.Core.Entries;

/// <summary>The closed family of resolutions (rules §11).</summary>
public enum EntryKind
{
    /// <summary>From one cell to others; adds up to nothing over the store.</summary>
    Reclassify,

    /// <summary>A movement that was never entered, or entered otherwise.</summary>
    Record,

    /// <summary>The count was wrong: what really lies there.</summary>
    Recount,

    /// <summary>Expected in a later batch, a line of the bank, a ticket of the next day.</summary>
    Carry,

    /// <summary>Somebody outside owes it, or is owed it.</summary>
    Claim,

    /// <summary>Booked over or short.</summary>
    Accept,

    /// <summary>Takes an earlier entry back.</summary>
    Reverse,
}

/// <summary>What moved, and nobody entered.</summary>
public enum MovementKind
{
    Sale,
    Refund,
    Void,
    Drop,
    Loan,
    PaidIn,
    PaidOut,
    Float,
    Change,

    /// <summary>What an earlier day carried has come.</summary>
    Arrival,
}

/// <summary>Where something that is carried should turn up.</summary>
public enum AwaitedProof
{
    LaterBatch,
    BankLine,
    LaterTicket,
}

/// <summary>Who outside the store owes something, or is owed it.</summary>
public enum ClaimParty
{
    Processor,
    Customer,
    Bank,
}
