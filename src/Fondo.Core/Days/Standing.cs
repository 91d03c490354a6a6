using Fondo.Core.Journal;

namespace Fondo.Core.Days;

/// <summary>Which tickets count for this day, and why the others do not.</summary>
public sealed class Standing
{
    private readonly HashSet<EventId> _voided = [];
    private readonly Dictionary<DrawerId, DateTimeOffset> _closed = [];

    public Standing(Day day)
    {
        var (holds, recalled) = (new List<Hold>(), new HashSet<EventId>());
        foreach (var e in day.Journal)
        {
            if (e is Hold hold)
            {
                holds.Add(hold);
            }
            else if (e is Recall recall)
            {
                recalled.Add(recall.Original);
            }
            else if (e is VoidEvent v)
            {
                _voided.Add(v.Original);
            }
            else if (e is SessionClose { Drawer: { } drawer } && (!_closed.TryGetValue(drawer, out var at) || e.At > at))
            {
                _closed[drawer] = e.At;
            }
        }

        OpenHolds = [.. holds.Where(h => !recalled.Contains(h.Id) && !_voided.Contains(h.Id)).OrderBy(h => h.At).ThenBy(h => h.Id)];
    }

    /// <summary>The holds that were neither recalled nor voided, by time.</summary>
    public ImmutableArray<Hold> OpenHolds { get; }

    public bool IsVoided(EventId id) => _voided.Count > 0 && _voided.Contains(id);

    /// <summary>A ticket rung after its drawer session was closed belongs to the next trading day (rules §1).</summary>
    public bool IsAfterClose(Ticket ticket)
    {
        return ticket.Head.MovedTo is not null
            || (ticket.Head.LateFrom is null && ticket.Drawer is { } drawer && _closed.TryGetValue(drawer, out var closed)
                && ticket.At > closed);
    }

    public bool Stands(Ticket ticket)
    {
        return !IsVoided(ticket.Id) && !IsAfterClose(ticket);
    }

    /// <summary>The approved tenders of the tickets that count.</summary>
    public static IEnumerable<TakenTender> Tenders(Day day, Standing standing)
    {
        foreach (var e in day.Journal)
        {
            if (e is not Ticket ticket || !standing.Stands(ticket))
            {
                continue;
            }

            for (var place = 1; place <= ticket.Tenders.Length; place++)
            {
                if (ticket.Tenders[place - 1].Counts)
                {
                    yield return new(ticket, place);
                }
            }
        }
    }
}
