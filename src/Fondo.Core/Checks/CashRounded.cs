using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary><c>rounding-wrong</c>: a rounding that the smallest coin does not explain (rules §1). Only what is paid in cash is rounded, of
/// a split only the cash part.</summary>
public sealed class CashRounded : ITicketCheck
{
    public void Look(Ticket ticket, TicketBook book, List<TicketFinding> found)
    {
        var smallest = book.Policy.CashRounding;
        if (ticket.Rounding.IsZero && smallest.Minor <= 1)
        {
            return;
        }

        if (ticket.Rounding - Due(ticket, smallest) is { IsZero: false } wrong)
        {
            found.Add(new(ticket.Id, FindingCode.RoundingWrong, wrong));
        }
    }

    private static Money Due(Ticket ticket, Money smallest)
    {
        var (cash, others) = (false, Money.Zero);
        foreach (var tender in ticket.Tenders.Where(t => t.Counts))
        {
            if (tender.Type == TenderId.Cash)
            {
                cash = true;
            }
            else
            {
                others += tender.Net;
            }
        }

        var due = ticket.Subtotal - ticket.Discount + ticket.Tax + ticket.Fee - others;
        return cash ? CashRounding.Of(due, smallest) - due : Money.Zero;
    }
}
