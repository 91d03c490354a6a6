using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary><c>fee-…</c> and <c>cash-discount-…</c>: whether each ticket follows the price programme; a cent per tender concerned is tolerated (rules §4).</summary>
public sealed class PriceProgrammes : ITicketCheck
{
    public void Look(Ticket ticket, TicketBook book, List<TicketFinding> found)
    {
        var programme = book.Policy.PriceProgramme;
        Fees(ticket, programme, found);
        Discount(ticket, programme, found);
    }

    private static void Fees(Ticket ticket, PriceProgramme programme, List<TicketFinding> found)
    {
        var (missing, wrong, notAllowed) = (Money.Zero, Money.Zero, Money.Zero);
        foreach (var tender in ticket.Tenders)
        {
            if (!tender.Counts)
            {
                continue;
            }

            if (!programme.AsksFee(tender.Type))
            {
                notAllowed += tender.Fee;
            }
            else if (programme.FeeDue(tender) - tender.Fee is var difference && difference.Abs().Minor > 1)
            {
                (missing, wrong) = tender.Fee.IsZero ? (missing + difference, wrong) : (missing, wrong + difference);
            }
        }

        Add(ticket, "fee-missing", missing, found);
        Add(ticket, "fee-wrong", wrong, found);
        Add(ticket, "fee-not-allowed", notAllowed, found);
    }

    private static void Discount(Ticket ticket, PriceProgramme programme, List<TicketFinding> found)
    {
        var (net, tenders) = (Money.Zero, 0);
        if (programme.Kind == PriceProgrammeKind.CashDiscount)
        {
            foreach (var tender in ticket.Tenders)
            {
                if (tender.Counts && Programme.PaysCashPrice(tender.Type))
                {
                    net += tender.Net;
                    tenders++;
                }
            }
        }

        var difference = programme.DiscountDue(net) - ticket.CashDiscount;
        if (tenders == 0)
        {
            Add(ticket, "cash-discount-not-due", ticket.CashDiscount, found);
        }
        else if (difference.Abs().Minor > tenders)
        {
            Add(ticket, ticket.CashDiscount.IsZero ? "cash-discount-missing" : "cash-discount-wrong", difference, found);
        }
    }

    private static void Add(Ticket ticket, string code, Money amount, List<TicketFinding> found)
    {
        if (!amount.IsZero)
        {
            found.Add(new(ticket.Id, code, amount));
        }
    }
}
