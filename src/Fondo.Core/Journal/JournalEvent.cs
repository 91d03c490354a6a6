namespace Fondo.Core.Journal;

/// <summary>What every event of a register has.</summary>
/// <param name="Drawer">Null on an online register.</param>
/// <param name="Cashier">May be null on an online register.</param>
public readonly record struct EventHead(EventId Id, RegisterId Register, DrawerId? Drawer, PersonId? Cashier, DateTimeOffset At);

/// <summary>One thing that happened at a register.</summary>
public abstract record JournalEvent(EventHead Head)
{
    public EventId Id => Head.Id;

    public RegisterId Register => Head.Register;

    public DrawerId? Drawer => Head.Drawer;

    public DateTimeOffset At => Head.At;
}

/// <summary>A drawer session began.</summary>
/// <param name="Float">What the cashier declared to be in the drawer.</param>
public sealed record SessionOpen(EventHead Head, Money Float) : JournalEvent(Head);

/// <summary>A drawer session ended.</summary>
public sealed record SessionClose(EventHead Head) : JournalEvent(Head);

/// <summary>An earlier ticket (or hold) of the same day, cancelled whole.</summary>
public sealed record VoidEvent(EventHead Head, EventId Original) : JournalEvent(Head);

/// <summary>A ticket put aside.</summary>
public sealed record Hold(EventHead Head, Money Total) : JournalEvent(Head);

/// <summary>A ticket put aside, taken up again.</summary>
public sealed record Recall(EventHead Head, EventId Original) : JournalEvent(Head);

/// <summary>The drawer was opened without a ticket.</summary>
public sealed record NoSale(EventHead Head) : JournalEvent(Head);

public enum MovementKind
{
    Drop,
    Loan,
    PaidIn,
    PaidOut,
}

/// <summary>Cash that went into or out of the drawer without a ticket.</summary>
/// <param name="Amount">As recorded; the kind says the direction.</param>
/// <param name="Bag">The bag of a drop.</param>
/// <param name="Reason">Why something was paid in or out.</param>
public sealed record CashMovement(EventHead Head, MovementKind Kind, Money Amount, string? Bag, string? Reason) : JournalEvent(Head)
{
    /// <summary>What the movement adds to the drawer; negative for drops and paid-outs.</summary>
    public Money Effect => Kind is MovementKind.Loan or MovementKind.PaidIn ? Amount : -Amount;
}
