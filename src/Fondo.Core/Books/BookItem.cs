using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.SetUp;

namespace Fondo.Core.Books;

/// <summary>What a line of the books is made of, as the books write it. These words are part of what is exported and frozen: later closes
/// and spans are compared by them, so they never change.</summary>
public static class BookItem
{
    public const string
        GoodsWithoutLine = "goods without a line", TaxWithoutLine = "tax without a line", Discounts = "discounts",
        CashDiscounts = "discounts for cash", CardFees = "card fees", CashRounding = "cash rounding", CashBack = "cash back", Tips = "tips",
        OutOfBalance = "tickets out of balance", PaidIn = "paid in", PaidOut = "paid out", TipsPaidOut = "tips paid out",
        Carried = "carried", CarriedCame = "carried items that came", CarriedExplained = "carried items explained otherwise",
        CarriedGivenUp = "carried items given up", CountedOtherwise = "counted otherwise", DrawerAndSafe = "moved between drawer and safe",
        BetweenRegisters = "moved between registers", NotExplained = "not explained", WithinTolerance = "within tolerance",
        Accepted = "accepted", NeverRecorded = "never recorded", SafeOpening = "opening amount of the safe", PettyCash = "petty cash",
        Change = "change", ChangeDebited = "change debited", ChangeNeverDelivered = "change never delivered",
        CashDeposited = "cash in deposits", ChecksDeposited = "checks in deposits", DepositsCredited = "deposits credited",
        CreditsTakenBack = "credits taken back", BankLines = "the bank’s lines", ClaimsPaidAtDrawer = "claims paid at a drawer",
        ClaimsPaidAtBank = "claims paid at the bank", ClaimsGivenUp = "claims given up", ProcessorsKeep = "what processors keep",
        ProcessorsBilled = "what processors billed", ProcessorsWillBill = "fees the processors will bill";

    private const string CorrectionOf = ", correction of ";

    public static string Corrected(string item, TradingDay day) => $"{item}{CorrectionOf}{day}";

    /// <summary>What was corrected.</summary>
    public static string Uncorrected(string item) => item.Split(CorrectionOf)[0];

    public static string Rest(bool isUnresolved) => isUnresolved ? NotExplained : WithinTolerance;

    public static string OverShort(string name) => $"{name}, over and short";

    public static string OverShort(CellKey place, Setup setup) => OverShort(place switch
    {
        CellKey.Safe => "the safe",
        CellKey.Bag bag => $"bag {bag.Number}",
        _ => $"the float of {setup.NameOf(place.Register)}",
    });

    public static string Claimed(ClaimParty party) => $"claims, {party switch
    {
        ClaimParty.Processor => "the processor",
        ClaimParty.Customer => "the customer",
        _ => "the bank",
    }}";

    public static string Moved(MovementKind what) => what switch
    {
        MovementKind.Float => "a different float",
        MovementKind.Change => "wrong change given",
        MovementKind.Void => "a ticket that should have been voided",
        MovementKind.Sale => "a sale that was not rung",
        MovementKind.Refund => "a refund that was not rung",
        _ => $"a {what.Written()} that was not rung",
    };
}
