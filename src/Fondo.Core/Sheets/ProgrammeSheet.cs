using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;

namespace Fondo.Core.Sheets;

/// <summary>Cash price and card price at one register (rules §4).</summary>
/// <param name="CardValue">What batch-proved tenders paid at the listed price.</param>
/// <param name="CashValue">The listed value of what was paid in cash and by check: with the discount due, where there is one.</param>
/// <param name="FeesSettled">What was settled above value, tip and cash back, of the tenders that a fee is asked of and that were found
/// settled.</param>
/// <param name="CardSettled">What the settled rows of the register come to.</param>
public sealed record ProgrammeLine(
    RegisterId Register,
    Money CardValue,
    Money CashValue,
    Money FeesDue,
    Money FeesRecorded,
    Money FeesSettled,
    Money DiscountsDue,
    Money DiscountsGiven,
    Money Tips,
    Money Cashback,
    Money CardSettled)
{
    /// <summary>Card settled = value + fees + tips (and cash back); zero where the register's cards prove.</summary>
    public Money Difference => CardSettled - (CardValue + FeesRecorded + Tips + Cashback);
}

/// <summary>The day's sheet of the price programme; one line for each register, in the order of the set-up.</summary>
public sealed record ProgrammeSheet(ImmutableArray<ProgrammeLine> Lines)
{
    public static ProgrammeSheet Of(Reconciliation result)
    {
        var day = result.Day;
        var taken = Standing.Tenders(day, new Standing(day)).ToLookup(t => t.Ticket.Register);
        var proofs = day.Setup.Tenders.ToDictionary(t => t.Id, t => t.Proof);
        var settledFees = FeesSettled(result);
        return new([.. day.Setup.Registers.Where(r => taken[r.Id].Any()).Select(r => Line(r.Id, [.. taken[r.Id]]))]);

        ProgrammeLine Line(RegisterId register, TakenTender[] tenders)
        {
            var programme = day.Setup.Policy.PriceProgramme;
            var cards = tenders.Where(t => proofs[t.Tender.Type] == ProofKind.Batch).ToList();
            var tickets = tenders.Select(t => t.Ticket).DistinctBy(t => t.Id).ToList();
            var cash = tickets.Select(t => t.Tenders.Where(x => x.Counts && Programme.PaysCashPrice(x.Type)).Sum(x => x.Net)).ToList();
            var discounts = cash.Sum(programme.DiscountDue);
            return new(
                register,
                cards.Sum(t => t.Tender.Listed),
                cash.Sum() + discounts,
                tenders.Sum(t => programme.FeeDue(t.Tender)),
                tenders.Sum(t => t.Tender.Fee),
                settledFees.GetValueOrDefault(register),
                discounts,
                tickets.Sum(t => t.CashDiscount),
                cards.Sum(t => t.Tender.Tip),
                cards.Sum(t => t.Tender.Cashback),
                result.Cells.Where(c => c.Key.Register == register && result.Day.Setup.ProofOf(c.Key) == ProofKind.Batch)
                    .Sum(c => c.Proof ?? Money.Zero));
        }
    }

    private static Dictionary<RegisterId, Money> FeesSettled(Reconciliation result)
    {
        var programme = result.Day.Setup.Policy.PriceProgramme;
        var fees = new Dictionary<RegisterId, Money>();
        foreach (var match in result.Matches)
        {
            var tenders = match.Journal.Where(j => j.CarriedFrom is null).Select(j => j.Tender!.Value)
                .Where(t => programme.AsksFee(t.Tender.Type)).ToList();
            if (tenders.Count == match.Journal.Length)
            {
                var register = tenders[0].Ticket.Register;
                fees[register] =
                    fees.GetValueOrDefault(register) + Match.Sum(match.Rows) - tenders.Sum(t => t.Tender.Amount - t.Tender.Fee);
            }
        }

        return fees;
    }
}
