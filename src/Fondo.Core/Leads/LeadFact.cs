using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Leads;

/// <summary>What a lead says has happened, as values; how it is worded is not the core's. What concerns safe and bank is said by
/// facts of their own rooms.</summary>
public abstract record LeadFact
{
    private protected LeadFact()
    {
    }

    /// <summary>Change was given for the wrong note.</summary>
    /// <param name="First">The first ticket that fits.</param>
    public sealed record ChangeForWrongNote(Money Handed, Money Recorded, TakenTender First, int Fitting) : LeadFact;

    /// <summary>Pieces of one denomination were entered on the line of another.</summary>
    public sealed record RowMoved(long Pieces, Money Right, Money Entered) : LeadFact;

    /// <summary>A strap or a roll was missed, or counted twice.</summary>
    public sealed record BundleMiscounted(Money Denomination, bool IsNote, bool IsTwice) : LeadFact;

    /// <summary>The value of a row was entered as its number of pieces.</summary>
    public sealed record ValueAsPieces(int Number, Money Denomination) : LeadFact;

    public sealed record DropDiffers(string Bag, Money Recorded, Money Held) : LeadFact;

    public sealed record DropNotRecorded(string Bag, Money Held) : LeadFact;

    public sealed record OpeningCountDiffers(Money Counted, Money Declared) : LeadFact;

    public sealed record StandardFloatDiffers(Money Standard, Money Declared) : LeadFact;

    public sealed record WrongDrawer(CellKey Short, CellKey Over, Money Amount) : LeadFact;

    /// <summary>Cards that were carried together came in one batch.</summary>
    public sealed record BatchArrived(int Cards, Money Amount, TradingDay CarriedFrom, BatchKey First) : LeadFact;

    public sealed record PairArrived(Item Tender, Item Row, TradingDay CarriedFrom) : LeadFact;

    /// <summary>A sale was settled as a refund, or a refund as a sale.</summary>
    public sealed record SettledTheOtherWay(Item Tender, Item Row) : LeadFact;

    public sealed record FeeNotSettled(Item Tender, Money Fee) : LeadFact;

    /// <param name="Slip">How the two amounts differ; null where it is no ordinary slip.</param>
    public sealed record AmountKeyed(Item Tender, Item Row, Slip? Slip) : LeadFact;

    public sealed record WrongTerminal(Item Tender, Item Row) : LeadFact;

    public sealed record SettledAsAnother(Item Tender, Item Row) : LeadFact;

    public sealed record ItemsAddUp(int Items, Money Difference) : LeadFact;

    public sealed record PaidByCard(TakenTender Tender, BatchRow Row) : LeadFact;

    public sealed record CardPaidInCash(Item Tender) : LeadFact;

    /// <param name="First">The first cash sale of the amount.</param>
    /// <param name="Number">Of the check; empty where it has none.</param>
    public sealed record PaidByCheck(TakenTender First, int Fitting, string Number, Money Amount) : LeadFact;

    public sealed record CheckMissing(TakenTender Check) : LeadFact;

    public sealed record FoundOnTicket(FindingBehind What, Ticket Ticket, Money Amount) : LeadFact;

    /// <summary>A cash sale was recorded as a refund, or the other way round.</summary>
    public sealed record TicketTurned(TakenTender First, int Fitting, bool IsRecordedAsRefund) : LeadFact;

    /// <summary>Nothing on the other side answers an item.</summary>
    public sealed record Unanswered(OpenItem Item) : LeadFact;

    public sealed record BatchAbsent(TerminalId Terminal, int Tenders, Money Amount) : LeadFact;

    public sealed record AfterCutoff(TerminalId Terminal, int Tenders, Money Amount) : LeadFact;

    public sealed record NeverPaid(TakenTender First, int Fitting, Money Amount) : LeadFact;
}

/// <summary>By what a finding of a ticket check puts a drawer off.</summary>
public enum FindingBehind
{
    ChangeNotAllowed,
    OvertenderGivenBack,
    BenefitCashBack,
    ReversedCardPaidInCash,
    UnpaidAfterCardFailed,
    TendersDifferFromTotal,
    RefundedAnotherWay,
}
