namespace Fondo.Core.Checks;

/// <summary>What may be wrong with a ticket (rules §2, in that order).</summary>
public enum FindingCode
{
    TotalsDiffer,
    Overtender,
    EbtOverEligible,
    EbtTaxed,
    EbtChange,
    FeeMissing,
    FeeWrong,
    FeeNotAllowed,
    CashDiscountMissing,
    CashDiscountWrong,
    CashDiscountNotDue,
    RefundOtherTender,
    RefundWithoutOriginal,
    RefundOverOriginal,
    DuplicateTender,
    PartlyReversed,
    HoldLeftOpen,
    VoidLate,
    RoundingWrong,
}
