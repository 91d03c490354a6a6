namespace Fondo.Core.Journal;

/// <summary>A sale or a refund. On a refund every amount is negative.</summary>
/// <param name="Kind">Sale or refund.</param>
/// <param name="Original">The ticket refunded; null on a sale, or when the refund names none.</param>
/// <param name="Discount">The ticket-level discount; <paramref name="CashDiscount"/> is a part of it.</param>
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
    public bool IsRefund => Kind == EventKind.Refund;

    /// <summary>1 on a sale, −1 on a refund: the side to which its amounts point.</summary>
    public int Direction => IsRefund ? -1 : 1;

    public TenderKey KeyOf(int place) => new(Id, place);

    /// <summary>Equal when every part is, lines and tenders in order: the same event sent twice.</summary>
    public bool Equals(Ticket? other) =>
        other is not null && Head == other.Head && Kind == other.Kind && Original == other.Original && Subtotal == other.Subtotal
        && Discount == other.Discount && CashDiscount == other.CashDiscount && Tax == other.Tax && Fee == other.Fee
        && Rounding == other.Rounding && Total == other.Total && Note == other.Note
        && Lines.SequenceEqual(other.Lines) && Tenders.SequenceEqual(other.Tenders);

    public override int GetHashCode() => Id.GetHashCode();
}

/// <summary>What a line sells. The same article on another line is the same value.</summary>
/// <param name="BenefitEligible">Whether food benefits may pay for it.</param>
/// <param name="Account">Null for ordinary goods.</param>
public sealed record Article(string Sku, string Name, decimal TaxRate, bool BenefitEligible, string? Account)
{
    public override int GetHashCode() => QuickHash.Of(Sku, Name, Account);
}

/// <summary>One line of a ticket. The same article in the same number at the same price is the same value, on whatever ticket.</summary>
/// <param name="Amount">Extended, after the line's own discount, before tax.</param>
/// <param name="Tax">What was charged.</param>
public sealed record TicketLine(Article Article, decimal Quantity, Money Amount, Money Tax, Money? Cost);

public enum TenderResult
{
    Approved,
    Declined,

    /// <summary>Approved, then taken back because a later card on the ticket failed.</summary>
    Reversed,
}

/// <summary>One tender of a ticket, in the order taken. Only approved tenders count.</summary>
/// <param name="Amount">What was handed over or charged, all in: tip, cash back and fee are included.</param>
/// <param name="Change">Cash given back out of this tender.</param>
/// <param name="Card">For batch-proved tenders, what the terminal said.</param>
/// <param name="Number">Check number.</param>
/// <param name="Name">Name on the check.</param>
/// <param name="Reference">Last four of a gift card, store credit or account.</param>
public sealed record Tender(
    TenderId Type,
    Money Amount,
    Money Change,
    Money Tip,
    Money Cashback,
    Money Fee,
    CardSlip? Card,
    TenderResult Result,
    string? Number,
    string? Name,
    string? Reference)
{
    public bool Counts => Result == TenderResult.Approved;

    /// <summary>What should be there of it (rules §1): of cash, what was handed over less the change; of any other tender all of it, whatever change was wrongly given.</summary>
    public Money Expected => Type == TenderId.Cash ? Amount - Change : Amount;

    /// <summary>What it pays of its ticket's total: without change, cash back and tip.</summary>
    public Money Net => Amount - Change - Cashback - Tip;

    /// <summary>What it pays of its ticket at the listed price: without fee, too (rules §4).</summary>
    public Money Listed => Net - Fee;
}

/// <summary>What a terminal said of a card: never more than the last four digits.</summary>
/// <param name="Reference">Retrieval reference number (ISO 8583, data element 37); null where the terminal is not connected.</param>
public sealed record CardSlip(TerminalId? Terminal, string? Brand, string? LastFour, Code ApprovalCode, Code Reference, string? Entry)
{
    public string? Approval => ApprovalCode.Text;

    public string? Rrn => Reference.Text;
}
