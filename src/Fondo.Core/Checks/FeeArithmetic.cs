using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Checks;

/// <summary>What one tender of a ticket owes to the price programme, and what was recorded (rules §4).</summary>
/// <param name="Value">v: what it pays at the listed price; of cash and checks, what they paid net.</param>
/// <param name="FeeDue">Nothing where no fee is asked of it.</param>
public readonly record struct FeeLine(Tender Tender, Money Value, bool IsAsked, Money FeeDue)
{
    public Money FeeRecorded => Tender.Fee;

    public static ImmutableArray<FeeLine> Of(Ticket ticket, PriceProgramme programme) =>
        [.. ticket.Tenders.Where(t => t.Counts)
            .Select(t =>
                new FeeLine(t, t.Listed, programme.AsksFee(t.Type), programme.AsksFee(t.Type) ? programme.FeeDue(t) : Money.Zero))];
}

/// <summary>The cash discount of a ticket (rules §4).</summary>
/// <param name="Net">What cash and checks paid.</param>
/// <param name="Due">What the listed value of it is above that.</param>
public readonly record struct DiscountArithmetic(Money Net, Money Due, Money Given)
{
    public Money Listed => Net + Due;

    public static DiscountArithmetic Of(Ticket ticket, PriceProgramme programme) =>
        ticket.Tenders.Where(t => t.Counts && Programme.PaysCashPrice(t.Type)).Sum(t => t.Net) is var net
            ? new(net, programme.DiscountDue(net), ticket.CashDiscount)
            : default;
}
