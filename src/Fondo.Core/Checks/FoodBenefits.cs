using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary><c>ebt-over-eligible</c>, <c>ebt-taxed</c> and <c>ebt-change</c>: what food benefits may pay, and that it is not taxed (rules
/// §3).</summary>
public sealed class FoodBenefits : ITicketCheck
{
    private static readonly Money _centPerLine = new(1);

    public void Look(Ticket ticket, TicketBook book, List<TicketFinding> found)
    {
        if (Returned(ticket) is var returned && !returned.IsZero)
        {
            found.Add(new(ticket.Id, FindingCode.EbtChange, returned));
        }

        if (Paid(ticket) is not { IsZero: false } paid)
        {
            return;
        }

        var eligible = Eligible.Of(ticket, paid, book.Policy.BenefitTax);
        var sign = ticket.Direction;
        if ((paid - eligible.Amount) * sign > Money.Zero)
        {
            found.Add(new(ticket.Id, FindingCode.EbtOverEligible, paid - eligible.Amount));
        }

        if ((eligible.TaxRecorded - eligible.TaxDue) * sign > _centPerLine * eligible.TaxedLines)
        {
            found.Add(new(ticket.Id, FindingCode.EbtTaxed, eligible.TaxRecorded - eligible.TaxDue));
        }
    }

    /// <summary>What food benefits paid of a ticket.</summary>
    internal static Money Paid(Ticket ticket)
    {
        var paid = Money.Zero;
        foreach (var tender in ticket.Tenders)
        {
            if (tender.Counts && tender.Type == TenderId.EbtFood)
            {
                paid += tender.Net;
            }
        }

        return paid;
    }

    /// <summary>Whether change or cash back was given on benefits that give none.</summary>
    internal static bool GivesBack(Ticket ticket) => !Returned(ticket).IsZero;

    private static Money Returned(Ticket ticket)
    {
        var returned = Money.Zero;
        foreach (var tender in ticket.Tenders)
        {
            if (tender.Counts && (tender.Type == TenderId.EbtFood || tender.Type == TenderId.Wic))
            {
                returned += tender.Change + tender.Cashback;
            }
        }

        return returned;
    }
}
