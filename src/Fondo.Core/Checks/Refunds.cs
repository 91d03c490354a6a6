using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary><c>refund-other-tender</c>, <c>refund-without-original</c> and <c>refund-over-original</c>: what may be given back, and
/// how.</summary>
public sealed class Refunds : ITicketCheck
{
    private readonly List<Ticket> _refunds = [];

    public void Look(Ticket ticket, TicketBook book, List<TicketFinding> found)
    {
        if (ticket.Kind == EventKind.Refund && ticket.Original is null)
        {
            found.Add(new(ticket.Id, FindingCode.RefundWithoutOriginal, ticket.Total));
        }
        else if (ticket.Kind == EventKind.Refund)
        {
            _refunds.Add(ticket);
        }
    }

    public void Conclude(TicketBook book, List<TicketFinding> found)
    {
        foreach (var ofOne in _refunds.GroupBy(r => r.Original!.Value))
        {
            if (book.Original(ofOne.Key) is { } original)
            {
                Against(original, book.Standing.IsVoided(original.Id), [.. ofOne.OrderBy(r => r.At).ThenBy(r => r.Id)], found);
            }
        }
    }

    /// <summary>Takes the refunds of one ticket in the order of time; what a voided ticket took is nothing.</summary>
    private static void Against(Ticket original, bool isVoided, Ticket[] refunds, List<TicketFinding> found)
    {
        var left = ByTender(original).ToDictionary(t => t.Tender, t => isVoided ? Money.Zero : t.Amount);
        foreach (var refund in refunds)
        {
            var (elsewhere, over) = (Money.Zero, Money.Zero);
            foreach (var (tender, amount) in ByTender(refund))
            {
                if (!left.TryGetValue(tender, out var remains))
                {
                    elsewhere += amount;
                    continue;
                }

                left[tender] = remains + amount;
                if (left[tender] < Money.Zero)
                {
                    over += left[tender];
                    left[tender] = Money.Zero;
                }
            }

            if (!elsewhere.IsZero)
            {
                found.Add(new(refund.Id, FindingCode.RefundOtherTender, elsewhere));
            }

            if (!over.IsZero)
            {
                found.Add(new(refund.Id, FindingCode.RefundOverOriginal, over));
            }
        }
    }

    private static IEnumerable<(TenderId Tender, Money Amount)> ByTender(Ticket ticket) =>
        ticket.Tenders.Where(t => t.Counts).GroupBy(t => t.Type).Select(g => (g.Key, g.Sum(t => t.Amount - t.Change - t.Cashback)));
}
