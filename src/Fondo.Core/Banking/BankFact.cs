using Fondo.Core.Custody;
using Fondo.Core.Leads;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Banking;

/// <summary>What may be behind a line of the bank.</summary>
public static class BankFact
{
    public sealed record ClaimPaid(OpenClaim Claim) : LeadFact;

    public sealed record SumArrived(OpenClaim Sum) : LeadFact;

    public sealed record TakenBackByProcessor(Processor Processor, Money Amount) : LeadFact;

    public sealed record ChargeReversed(ChargeTakenBack Charge, Money Amount) : LeadFact;

    /// <param name="IsBundle">Whether the bag held a whole strap or roll of it.</param>
    public sealed record DepositPieces(Deposit Deposit, Pieces Piece, long Number, bool IsTooFew, Denomination? Kind,
        bool IsBundle) : LeadFact;

    public sealed record CheckNotCredited(Deposit Deposit, HeldCheck Check) : LeadFact;

    public sealed record PaidWithoutFee(string Processor, Money Gross) : LeadFact;

    public sealed record OtherFee(Money Kept, Money Expected, int Items, Money Gross) : LeadFact;

    public sealed record OtherNumber(int Said, int Settled) : LeadFact;
}
