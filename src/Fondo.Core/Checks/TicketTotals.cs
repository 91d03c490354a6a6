using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary><c>totals-differ</c> and <c>overtender</c>: whether a ticket's own amounts agree.</summary>
public sealed class TicketTotals : ITicketCheck
{
    public void Look(Ticket ticket, TicketBook book, List<TicketFinding> found)
    {
        if (Difference(ticket) is var difference && !difference.IsZero)
        {
            found.Add(new(ticket.Id, FindingCode.TotalsDiffer, difference));
        }
        else if (Overtender(ticket, book) is var over && !over.IsZero && !FoodBenefits.GivesBack(ticket))
        {
            found.Add(new(ticket.Id, FindingCode.Overtender, over));
        }
    }

    /// <summary>By how much the first of the two ticket equations fails that fails: the total less what its parts say, or the tenders less
    /// the total.</summary>
    private static Money Difference(Ticket t)
    {
        var parts = t.Total - (t.Subtotal - t.Discount + t.Tax + t.Fee + t.Rounding);
        return parts.IsZero ? Paid(t) - t.Total : parts;
    }

    private static Money Overtender(Ticket ticket, TicketBook book)
    {
        var sign = ticket.Direction;
        var (sum, over) = (Money.Zero, Money.Zero);
        foreach (var tender in ticket.Tenders)
        {
            if (!tender.Counts)
            {
                continue;
            }

            sum += tender.Net;
            if (!tender.Change.IsZero && !book.GivesChange(tender.Type))
            {
                over += tender.Change;
            }
            else if (tender.Type != TenderId.Cash && (sum - ticket.Total) * sign > Money.Zero
                && (over * sign) < ((sum - ticket.Total) * sign))
            {
                over = sum - ticket.Total;
            }
        }

        return over;
    }

    /// <summary>What the approved tenders pay.</summary>
    internal static Money Paid(Ticket ticket)
    {
        var paid = Money.Zero;
        foreach (var tender in ticket.Tenders)
        {
            if (tender.Counts)
            {
                paid += tender.Net;
            }
        }

        return paid;
    }
}
