using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary><c>duplicate-tender</c>: the same card, amount and terminal approved twice within the matching window. Names the later one.</summary>
public sealed class CardRepeats : ITicketCheck
{
    private readonly record struct Run(string Terminal, string LastFour, Money Amount);

    private readonly Dictionary<Run, TakenTender> _first = [];
    private readonly Dictionary<Run, List<TakenTender>> _repeated = [];

    public void Look(Ticket ticket, TicketBook book, List<TicketFinding> found)
    {
        if (_first.Count == 0)
        {
            _first.EnsureCapacity(book.Day.Rows?.Length ?? 0);
        }

        for (var place = 1; place <= ticket.Tenders.Length; place++)
        {
            if (ticket.Tenders[place - 1] is { Counts: true, Card: { Terminal: { } terminal, LastFour: { } last } } tender)
            {
                var run = new Run(terminal.Value, last, tender.Amount);
                var taken = new TakenTender(ticket, place);
                if (!_first.TryAdd(run, taken))
                {
                    (_repeated.TryGetValue(run, out var others) ? others : _repeated[run] = [_first[run]]).Add(taken);
                }
            }
        }
    }

    public void Conclude(TicketBook book, List<TicketFinding> found)
    {
        var repeats = new Dictionary<EventId, Money>();
        foreach (var (run, taken) in _repeated)
        {
            var inTime = taken.OrderBy(t => t.Ticket.At).ThenBy(t => t.Key).ToList();
            foreach (var (before, after) in inTime.Zip(inTime.Skip(1)).Where(p => p.Second.Ticket.At - p.First.Ticket.At <= book.Policy.MatchWindow))
            {
                repeats[after.Ticket.Id] = repeats.GetValueOrDefault(after.Ticket.Id) + run.Amount;
            }
        }

        found.AddRange(repeats.Select(r => new TicketFinding(r.Key, "duplicate-tender", r.Value)));
    }
}
