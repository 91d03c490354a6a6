using System.Collections.Frozen;
using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary>The day as ticket checks look at it.</summary>
public sealed class TicketBook
{
    private readonly FrozenDictionary<TenderId, TenderKind> _kinds;
    private readonly Dictionary<EventId, Ticket> _originals = [];

    public TicketBook(Day day, Standing standing)
    {
        Day = day;
        Standing = standing;
        _kinds = day.Setup.Tenders.ToFrozenDictionary(t => t.Id);
        var named = day.Journal.Select(e => e switch { Ticket { Original: { } o } => o, VoidEvent v => v.Original, _ => (EventId?)null }).OfType<EventId>().ToHashSet();
        foreach (var e in day.Journal)
        {
            if (e is Ticket ticket && named.Contains(ticket.Id))
            {
                _originals.Add(ticket.Id, ticket);
            }
        }
    }

    public Day Day { get; }

    public Standing Standing { get; }

    public Policy Policy => Day.Setup.Policy;

    /// <summary>The tickets that were not voided: what most checks look at.</summary>
    public IEnumerable<Ticket> Kept
    {
        get
        {
            foreach (var e in Day.Journal)
            {
                if (e is Ticket ticket && !Standing.IsVoided(ticket.Id))
                {
                    yield return ticket;
                }
            }
        }
    }

    /// <summary>The ticket that a refund or void refers to; null when the day's journal does not have it.</summary>
    public Ticket? Original(EventId id) => _originals.GetValueOrDefault(id);

    public bool GivesChange(TenderId tender) => _kinds[tender].GivesChange;

    public bool IsBatchProved(TenderId tender) => _kinds[tender].Proof == ProofKind.Batch;
}
