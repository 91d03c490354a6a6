using Fondo.Core.Checks;
using Fondo.Core.Journal;

namespace Fondo.Core.Entries;

/// <summary>What is done about something that a ticket check found.</summary>
public enum Remedy
{
    RefundTax,
    RefundFee,
    ChargeAgain,
    GiveBack,
    TalkToCashier,
    AskCustomer,

    /// <summary>It was looked at, and is as it should be.</summary>
    Leave,
}

/// <summary>A finding of a ticket check, seen and answered: it says something of that finding and amount alone.</summary>
public sealed record Answer(EventId Ticket, FindingCode Code, Money Amount, Remedy Remedy, string Reason, PersonId By, DateTimeOffset At)
{
    public TicketFinding Finding => new(Ticket, Code, Amount);

    /// <summary>What is usually done about it (common practice).</summary>
    public static Remedy Usual(FindingCode code) => code switch
    {
        FindingCode.EbtTaxed => Remedy.RefundTax,
        FindingCode.FeeNotAllowed => Remedy.RefundFee,
        FindingCode.FeeMissing or FindingCode.CashDiscountNotDue or FindingCode.PartlyReversed => Remedy.ChargeAgain,
        FindingCode.CashDiscountMissing or FindingCode.DuplicateTender or FindingCode.EbtOverEligible => Remedy.GiveBack,
        FindingCode.HoldLeftOpen => Remedy.AskCustomer,
        _ => Remedy.TalkToCashier,
    };
}
