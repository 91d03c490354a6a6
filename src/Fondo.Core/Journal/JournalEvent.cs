namespace Fondo.Core.Journal;

/// <summary>What every event of a register has.</summary>
/// <param name="Drawer">Null on an online register.</param>
/// <param name="Cashier">May be null on an online register.</param>
public readonly record struct EventHead(EventId Id, RegisterId Register, DrawerId? Drawer, PersonId? Cashier, DateTimeOffset At)
{
    private readonly string? _drawer = Drawer?.Value, _cashier = Cashier?.Value;
    private readonly OtherDays? _others = null;

    public DrawerId? Drawer { get => _drawer is null ? null : new(_drawer); init => _drawer = value?.Value; }

    public PersonId? Cashier { get => _cashier is null ? null : new(_cashier); init => _cashier = value?.Value; }

    /// <summary>The trading day after whose close it was rung, where it counts on a later one; null on nearly all.</summary>
    public DateOnly? LateFrom { get => _others?.LateFrom; init => _others = OtherDays.Of(value, MovedTo); }

    /// <summary>The later trading day, closed by now, on which it was counted; null on nearly all.</summary>
    public DateOnly? MovedTo { get => _others?.MovedTo; init => _others = OtherDays.Of(LateFrom, value); }

    private sealed record OtherDays(DateOnly? LateFrom, DateOnly? MovedTo)
    {
        /// <summary>Null where there is neither.</summary>
        public static OtherDays? Of(DateOnly? lateFrom, DateOnly? movedTo) =>
            lateFrom is null && movedTo is null ? null : new(lateFrom, movedTo);
    }
}

/// <summary>One thing that happened at a register.</summary>
public abstract record JournalEvent(EventHead Head, EventKind Kind)
{
    public EventId Id => Head.Id;

    public RegisterId Register => Head.Register;

    public DrawerId? Drawer => Head.Drawer;

    public DateTimeOffset At => Head.At;
}

/// <summary>A drawer session began.</summary>
/// <param name="Float">What the cashier declared to be in the drawer.</param>
public sealed record SessionOpen(EventHead Head, Money Float) : JournalEvent(Head, EventKind.Open);

/// <summary>A drawer session ended.</summary>
public sealed record SessionClose(EventHead Head) : JournalEvent(Head, EventKind.Close);

/// <summary>An earlier ticket (or hold) of the same day, cancelled whole.</summary>
public sealed record VoidEvent(EventHead Head, EventId Original) : JournalEvent(Head, EventKind.Void);

/// <summary>A ticket put aside.</summary>
public sealed record Hold(EventHead Head, Money Total) : JournalEvent(Head, EventKind.Hold);

/// <summary>A ticket put aside, taken up again.</summary>
public sealed record Recall(EventHead Head, EventId Original) : JournalEvent(Head, EventKind.Recall);

/// <summary>The drawer was opened without a ticket.</summary>
public sealed record NoSale(EventHead Head) : JournalEvent(Head, EventKind.NoSale);

/// <summary>What cash was paid in or out for, as the register says it: the books go by it, and never by the reason.</summary>
public enum CashPurpose
{
    Other,
    Tips,
    Supplier,
    Expense,
}

/// <summary>Cash that went into or out of the drawer without a ticket.</summary>
/// <param name="Kind">Drop, loan, paid in or paid out.</param>
/// <param name="Amount">As recorded; the kind says the direction.</param>
/// <param name="Bag">The bag of a drop.</param>
/// <param name="Reason">Why something was paid in or out.</param>
public sealed record CashMovement(EventHead Head, EventKind Kind, Money Amount, string? Bag, string? Reason) : JournalEvent(Head, Kind)
{
    public CashPurpose Purpose { get; init; }

    /// <summary>What the movement adds to the drawer; negative for drops and paid-outs.</summary>
    public Money Effect => Kind is EventKind.Loan or EventKind.PaidIn ? Amount : -Amount;
}
