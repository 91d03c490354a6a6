using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary><c>duplicate-tender</c>: the same card, amount and terminal approved twice within the matching window. Names the later one.</summary>
public sealed class CardRepeats : ITicketCheck
{
    public void Find(TicketBook book, List<TicketFinding> found)
    {
        var seen = new Dictionary<(TerminalId, string, Money), DateTimeOffset>();
        var repeats = new Dictionary<EventId, Money>();
        foreach (var taken in InTime(book))
        {
            var card = taken.Tender.Card!;
            var key = (card.Terminal!.Value, card.LastFour!, taken.Tender.Amount);
            if (seen.TryGetValue(key, out var before) && taken.Ticket.At - before <= book.Policy.MatchWindow)
            {
                repeats[taken.Ticket.Id] = repeats.GetValueOrDefault(taken.Ticket.Id) + taken.Tender.Amount;
            }

            seen[key] = taken.Ticket.At;
        }

        found.AddRange(repeats.Select(r => new TicketFinding(r.Key, "duplicate-tender", r.Value)));
    }

    private static IEnumerable<TakenTender> InTime(TicketBook book)
    {
        // Only what shares card and terminal with something else is worth sorting.
        var first = new Dictionary<(TerminalId, string, Money), TakenTender>();
        var shared = new List<TakenTender>();
        foreach (var ticket in book.Kept)
        {
            for (var place = 1; place <= ticket.Tenders.Length; place++)
            {
                if (ticket.Tenders[place - 1] is not { Counts: true, Card: { Terminal: { } terminal, LastFour: { } last } } tender)
                {
                    continue;
                }

                var taken = new TakenTender(ticket, place);
                if (!first.TryAdd((terminal, last, tender.Amount), taken))
                {
                    shared.Add(taken);
                    if (first[(terminal, last, tender.Amount)] is { Place: > 0 } other)
                    {
                        shared.Add(other);
                        first[(terminal, last, tender.Amount)] = default;
                    }
                }
            }
        }

        return shared.OrderBy(t => t.Ticket.At).ThenBy(t => t.Ticket.Id.Value, StringComparer.Ordinal).ThenBy(t => t.Place);
    }
}
