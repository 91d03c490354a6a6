namespace Fondo.Core.Journal;

/// <summary>The kinds of event of a journal.</summary>
public enum EventKind
{
    Sale,
    Refund,
    Void,
    Hold,
    Recall,
    Open,
    Close,
    Drop,
    Loan,
    PaidIn,
    PaidOut,
    NoSale,
}
