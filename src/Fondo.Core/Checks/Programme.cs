using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Checks;

/// <summary>Cash price and card price: what a tender owes more, and what a ticket owes less (rules §4).</summary>
public static class Programme
{
    /// <summary>Whether the programme asks a fee of this tender; never of food benefits, whatever it lists (rules §3).</summary>
    public static bool AsksFee(this PriceProgramme programme, TenderId tender) =>
        programme.Kind == PriceProgrammeKind.Surcharge && tender != TenderId.EbtFood && programme.Tenders.Contains(tender);

    /// <summary>The fee due on a tender; zero where none is asked.</summary>
    public static Money FeeDue(this PriceProgramme programme, Tender tender) =>
        programme.AsksFee(tender.Type) ? tender.Listed.Times(programme.Rate) : Money.Zero;

    /// <summary>Whether a tender pays the cash price where card and cash price differ by a discount.</summary>
    public static bool PaysCashPrice(TenderId tender) => tender == TenderId.Cash || tender == TenderId.Check;

    /// <summary>The discount due on a net amount paid in cash or check: its listed value n ÷ (1 − rate), less n.</summary>
    public static Money DiscountDue(this PriceProgramme programme, Money net) =>
        programme.Kind != PriceProgrammeKind.CashDiscount ? Money.Zero
        : new((long)decimal.Round((net.Minor / (1 - programme.Rate)) - net.Minor, MidpointRounding.AwayFromZero));
}
