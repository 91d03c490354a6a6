using System.Runtime.InteropServices;
using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary><c>duplicate-tender</c>: the same card, amount and terminal approved twice within the matching window. Names the later
/// one.</summary>
public sealed class CardRepeats : ITicketCheck
{
    private readonly record struct Run(string Terminal, string LastFour, Money Amount)
    {
        public override int GetHashCode() => QuickHash.Of(Terminal, LastFour, Amount.Minor);
    }

    // Sorting by a hash is several times as fast as a table of a million runs, of which hardly any repeats.
    private readonly List<int> _hashes = [];
    private readonly List<TakenTender> _taken = [];

    public void Look(Ticket ticket, TicketBook book, List<TicketFinding> found)
    {
        if (_taken.Count == 0)
        {
            _hashes.EnsureCapacity(book.Day.Rows?.Length ?? 0);
            _taken.EnsureCapacity(book.Day.Rows?.Length ?? 0);
        }

        for (var place = 1; place <= ticket.Tenders.Length; place++)
        {
            if (ticket.Tenders[place - 1] is { Counts: true, Card: { Terminal: not null, LastFour: not null } })
            {
                var taken = new TakenTender(ticket, place);
                _hashes.Add(RunOf(taken).GetHashCode());
                _taken.Add(taken);
            }
        }
    }

    public void Conclude(TicketBook book, List<TicketFinding> found)
    {
        var hashes = CollectionsMarshal.AsSpan(_hashes);
        var taken = CollectionsMarshal.AsSpan(_taken);
        hashes.Sort(taken);
        var repeats = new Dictionary<EventId, Money>();
        for (var from = 0; from < hashes.Length;)
        {
            var to = from + 1;
            while (to < hashes.Length && hashes[to] == hashes[from])
            {
                to++;
            }

            if (to - from > 1)
            {
                Compare(taken[from..to].ToArray(), book.Policy.MatchWindow, repeats);
            }

            from = to;
        }

        found.AddRange(repeats.Select(r => new TicketFinding(r.Key, FindingCode.DuplicateTender, r.Value)));
    }

    private static void Compare(TakenTender[] alike, TimeSpan window, Dictionary<EventId, Money> repeats)
    {
        foreach (var run in alike.GroupBy(RunOf))
        {
            var inTime = run.OrderBy(t => t.Ticket.At).ThenBy(t => t.Key).ToList();
            foreach (var (before, after) in inTime.Zip(inTime.Skip(1)).Where(p => p.Second.Ticket.At - p.First.Ticket.At <= window))
            {
                repeats[after.Ticket.Id] = repeats.GetValueOrDefault(after.Ticket.Id) + run.Key.Amount;
            }
        }
    }

    private static Run RunOf(TakenTender taken) =>
        new(taken.Tender.Card!.Terminal!.Value.Value, taken.Tender.Card.LastFour!, taken.Tender.Amount);
}
