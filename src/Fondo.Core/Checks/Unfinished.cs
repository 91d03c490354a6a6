using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Checks;

/// <summary><c>partly-reversed</c>, <c>hold-left-open</c> and <c>void-late</c>: tickets that were not brought to their end, or too
/// late.</summary>
public sealed class Unfinished : ITicketCheck
{
    public void Look(Ticket ticket, TicketBook book, List<TicketFinding> found)
    {
        if (PartlyReversed(ticket) is { } reversed)
        {
            found.Add(new(ticket.Id, FindingCode.PartlyReversed, reversed));
        }
    }

    public void Conclude(TicketBook book, List<TicketFinding> found)
    {
        found.AddRange(book.Standing.OpenHolds.Select(h => new TicketFinding(h.Id, FindingCode.HoldLeftOpen, h.Total)));
        LateVoids(book, found);
    }

    /// <summary>What was taken back of a ticket that is not paid in full; null for any other.</summary>
    private static Money? PartlyReversed(Ticket ticket)
    {
        var (reversed, failed) = (Money.Zero, false);
        foreach (var tender in ticket.Tenders)
        {
            reversed += tender.Result == TenderResult.Reversed ? tender.Amount : Money.Zero;
            failed |= tender.Result == TenderResult.Declined;
        }

        return failed && !reversed.IsZero && TicketTotals.Paid(ticket) != ticket.Total ? reversed : null;
    }

    private static void LateVoids(TicketBook book, List<TicketFinding> found)
    {
        var voids = book.Day.Journal.OfType<VoidEvent>().GroupBy(v => v.Original)
            .Select(g => (Ticket: book.Original(g.Key), At: g.Min(v => v.At))).Where(v => v.Ticket is not null).ToList();
        if (voids.Count == 0 || book.Day.Totals.IsEmpty)
        {
            return;
        }

        var closes = book.Day.Totals.ToLookup(t => t.Terminal);
        var settled = Settled(book, voids.Select(v => v.Ticket!));
        foreach (var (ticket, at) in voids)
        {
            var late = Money.Zero;
            foreach (var tender in ticket!.Tenders.Where(t => t.Counts && book.IsBatchProved(t.Type)))
            {
                if (ClosedAt(tender, ticket, settled, closes) is { } closed && at > closed)
                {
                    late += tender.Amount;
                }
            }

            if (!late.IsZero)
            {
                found.Add(new(ticket.Id, FindingCode.VoidLate, late));
            }
        }
    }

    /// <summary>When the batch of a tender was closed: that of its settled row, else the first one of its terminal to close after
    /// it.</summary>
    private static DateTimeOffset? ClosedAt(Tender tender, Ticket ticket, Dictionary<Code, BatchRow> settled,
        ILookup<TerminalId, BatchTotal> closes)
    {
        if (tender.Card is { Reference: { IsThere: true } reference } && settled.TryGetValue(reference, out var row))
        {
            return closes[row.Key.Terminal].FirstOrDefault(t => t.Batch == row.Key.Batch)?.Closed;
        }

        return tender.Card?.Terminal is { } terminal
            ? closes[terminal].Where(t => t.Closed >= ticket.At).Min(t => (DateTimeOffset?)t.Closed)
            : null;
    }

    private static Dictionary<Code, BatchRow> Settled(TicketBook book, IEnumerable<Ticket> tickets)
    {
        var wanted = tickets.SelectMany(t => t.Tenders).Select(t => t.Card?.Reference ?? default).Where(r => r.IsThere).ToHashSet();
        var settled = new Dictionary<Code, BatchRow>();
        foreach (var row in book.Day.Rows ?? [])
        {
            if (wanted.Contains(row.Card.Reference)
                && (!settled.TryGetValue(row.Card.Reference, out var other) || row.Key.CompareTo(other.Key) < 0))
            {
                settled[row.Card.Reference] = row;
            }
        }

        return settled;
    }
}
