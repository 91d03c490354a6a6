using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

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
}
