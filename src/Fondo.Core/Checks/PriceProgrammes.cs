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

        Add(ticket, FindingCode.FeeMissing, missing, found);
        Add(ticket, FindingCode.FeeWrong, wrong, found);
        Add(ticket, FindingCode.FeeNotAllowed, notAllowed, found);
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

    private static void Add(Ticket ticket, FindingCode code, Money amount, List<TicketFinding> found)
    {
        if (!amount.IsZero)
        {
            found.Add(new(ticket.Id, code, amount));
        }
    }
}
