using Fondo.Core.Checks;

namespace Fondo.Wording;

/// <summary>What each ticket check says, in words.</summary>
public static class FindingText
{
    public static string Words(this FindingCode code) => code switch
    {
        FindingCode.TotalsDiffer => "its figures do not add up",
        FindingCode.Overtender => "more was tendered than its total",
        FindingCode.EbtOverEligible => "food benefits above what they may pay for",
        FindingCode.EbtTaxed => "tax on what food benefits paid for",
        FindingCode.EbtChange => "change or cash back on food benefits",
        FindingCode.FeeMissing => "the card fee is missing",
        FindingCode.FeeWrong => "the card fee is wrong",
        FindingCode.FeeNotAllowed => "a fee where none may be taken",
        FindingCode.CashDiscountMissing => "the cash discount is missing",
        FindingCode.CashDiscountWrong => "the cash discount is wrong",
        FindingCode.CashDiscountNotDue => "a cash discount that was not due",
        FindingCode.RefundOtherTender => "refunded to a different tender",
        FindingCode.RefundWithoutOriginal => "a refund that names no ticket",
        FindingCode.RefundOverOriginal => "more refunded than was paid",
        FindingCode.DuplicateTender => "the same card and amount approved twice",
        FindingCode.PartlyReversed => "kept although one of its cards failed",
        FindingCode.HoldLeftOpen => "put on hold and never finished",
        FindingCode.RoundingWrong => "cash rounded wrongly",
        _ => "voided after its batch was closed",
    };
}
