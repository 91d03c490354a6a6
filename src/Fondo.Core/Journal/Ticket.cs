namespace Fondo.Core.Journal;

/// <summary>A sale or a refund. On a refund every amount is negative.</summary>
/// <param name="Kind">Sale or refund.</param>
/// <param name="Original">The ticket refunded; null on a sale, or when the refund names none.</param>
/// <param name="Discount">The ticket-level discount; <paramref name="CashDiscount"/> is a part of it.</param>
/// <remarks>What most tickets do not have lies apart (<see cref="Seldom"/>): of a million, that is a third of their memory.</remarks>
public sealed record Ticket(
    EventHead Head,
    EventKind Kind,
    EventId? Original,
    ImmutableArray<TicketLine> Lines,
    Money Subtotal,
    Money Discount,
    Money CashDiscount,
    Money Tax,
    Money Fee,
    Money Rounding,
    Money Total,
    ImmutableArray<Tender> Tenders,
    string? Note) : JournalEvent(Head, Kind)
{
    private readonly Seldom? _seldom = Seldom.Of(Original, Discount, CashDiscount, Fee, Rounding, Note);

    public EventId? Original { get => _seldom?.Original; init => _seldom = Seldom.Of(value, Discount, CashDiscount, Fee, Rounding, Note); }

    public Money Discount
    {
        get => _seldom?.Discount ?? Money.Zero; init =>
        _seldom = Seldom.Of(Original, value, CashDiscount, Fee, Rounding, Note);
    }

    public Money CashDiscount
    {
        get => _seldom?.CashDiscount ?? Money.Zero; init =>
        _seldom = Seldom.Of(Original, Discount, value, Fee, Rounding, Note);
    }

    public Money Fee
    {
        get => _seldom?.Fee ?? Money.Zero; init =>
        _seldom = Seldom.Of(Original, Discount, CashDiscount, value, Rounding, Note);
    }

    public Money Rounding
    {
        get => _seldom?.Rounding ?? Money.Zero; init =>
        _seldom = Seldom.Of(Original, Discount, CashDiscount, Fee, value, Note);
    }

    public string? Note { get => _seldom?.Note; init => _seldom = Seldom.Of(Original, Discount, CashDiscount, Fee, Rounding, value); }

    public bool IsRefund => Kind == EventKind.Refund;

    /// <summary>1 on a sale, −1 on a refund: the side to which its amounts point.</summary>
    public int Direction => IsRefund ? -1 : 1;

    public TenderKey KeyOf(int place) => new(Id, place);

    /// <summary>Equal when every part is, lines and tenders in order: the same event sent twice.</summary>
    public bool Equals(Ticket? other) =>
        other is not null && Head == other.Head && Kind == other.Kind && Subtotal == other.Subtotal && Tax == other.Tax
            && Total == other.Total
        && _seldom == other._seldom && Lines.SequenceEqual(other.Lines) && Tenders.SequenceEqual(other.Tenders);

    public override int GetHashCode() => Id.GetHashCode();

    private sealed record Seldom(EventId? Original, Money Discount, Money CashDiscount, Money Fee, Money Rounding, string? Note)
    {
        /// <summary>Null where there is nothing of it.</summary>
        public static Seldom? Of(EventId? original, Money discount, Money cashDiscount, Money fee, Money rounding, string? note) =>
            original is null && discount.IsZero && cashDiscount.IsZero && fee.IsZero && rounding.IsZero && note is null
                ? null
                : new(original, discount, cashDiscount, fee, rounding, note);
    }
}
