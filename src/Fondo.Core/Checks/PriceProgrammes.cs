using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Checks;

/// <summary><c>fee-…</c> and <c>cash-discount-…</c>: whether each ticket follows the price programme; a cent per tender concerned is
/// tolerated (rules §4).</summary>
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
        // Each tender is judged by itself: too little on one card does not make up for too much on another.
        var (missing, wrong, notAllowed) = (new Off(), new Off(), new Off());
        foreach (var tender in ticket.Tenders)
        {
            if (!tender.Counts)
            {
                continue;
            }

            if (!programme.AsksFee(tender.Type))
            {
                notAllowed.Add(tender.Fee);
            }
            else if (programme.FeeDue(tender) - tender.Fee is var difference && difference.Abs().Minor > 1)
            {
                (tender.Fee.IsZero ? ref missing : ref wrong).Add(difference);
            }
        }

        Add(ticket, FindingCode.FeeMissing, missing.Amount, found);
        Add(ticket, FindingCode.FeeWrong, wrong.Amount, found);
        Add(ticket, FindingCode.FeeNotAllowed, notAllowed.Amount, found);
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
            Add(ticket, FindingCode.CashDiscountNotDue, ticket.CashDiscount, found);
        }
        else if (difference.Abs().Minor > tenders)
        {
            Add(ticket, ticket.CashDiscount.IsZero ? FindingCode.CashDiscountMissing : FindingCode.CashDiscountWrong, difference, found);
        }
    }

    /// <summary>By how much the tenders of a ticket are off: in sum; where that is nothing, as the one that is off most.</summary>
    private struct Off
    {
        private Money _sum, _most;

        public Money Amount => _sum.IsZero ? _most : _sum;

        public void Add(Money difference)
        {
            _sum += difference;
            _most = difference.Abs() > _most.Abs() ? difference : _most;
        }
    }

    private static void Add(Ticket ticket, FindingCode code, Money amount, List<TicketFinding> found)
    {
        if (!amount.IsZero)
        {
            found.Add(new(ticket.Id, code, amount));
        }
    }
}
