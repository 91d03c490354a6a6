namespace Fondo.Core.Leads;

/// <summary>What a lead says (rules §6).</summary>
public enum LeadKind
{
    TenderSwap,
    WrongTerminal,
    OtherDrawer,
    MissingFromBatch,
    AfterCutoff,
    BatchAbsent,
    NotInJournal,
    ChargedTwice,
    VoidNotSent,
    ReversalNotSent,
    DeclinedButSettled,
    EarlierDay,
    AmountKeyed,
    Direction,
    DropNotRecorded,
    DropDiffers,
    FloatDiffers,
    CountSlip,
    UnvoidedTicket,
    ChangeSlip,
    TicketFinding,
    Subset,

    /// <summary>Money that came at the bank for a claim of an earlier day; never of a register.</summary>
    ClaimPaid,
}
