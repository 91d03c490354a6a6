namespace Fondo.Core.Journal;

/// <summary>The kinds of event as journals write them.</summary>
public static class EventKind
{
    public const string Sale = "sale", Refund = "refund", Open = "open", Close = "close", Void = "void", Hold = "hold", Recall = "recall", NoSale = "no-sale",
        Drop = "drop", Loan = "loan", PaidIn = "paid-in", PaidOut = "paid-out";

    public static readonly ImmutableArray<string> All = [Sale, Refund, Void, Hold, Recall, Open, Close, Drop, Loan, PaidIn, PaidOut, NoSale];

    public static string Of(JournalEvent e) => e switch
    {
        Ticket { Kind: TicketKind.Sale } => Sale,
        Ticket => Refund,
        SessionOpen => Open,
        SessionClose => Close,
        VoidEvent => Void,
        Journal.Hold => Hold,
        Journal.Recall => Recall,
        Journal.NoSale => NoSale,
        CashMovement { Kind: MovementKind.Drop } => Drop,
        CashMovement { Kind: MovementKind.Loan } => Loan,
        CashMovement { Kind: MovementKind.PaidIn } => PaidIn,
        _ => PaidOut,
    };
}
