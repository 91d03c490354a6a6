using System.Collections.Frozen;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

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
        var named = new HashSet<EventId>();
        foreach (var e in day.Journal)
        {
            if (e is VoidEvent v)
            {
                named.Add(v.Original);
            }
            else if (e is Ticket { Original: { } original })
            {
                named.Add(original);
            }
        }

        foreach (var e in day.Journal)
        {
            if (named.Count > 0 && e is Ticket ticket && named.Contains(ticket.Id))
            {
                _originals.Add(ticket.Id, ticket);
            }
        }
    }

    public Day Day { get; }

    public Standing Standing { get; }

    public Policy Policy => Day.Setup.Policy;

    /// <summary>The ticket that a refund or void refers to; null when the day's journal does not have it.</summary>
    public Ticket? Original(EventId id) => _originals.GetValueOrDefault(id);

    public bool GivesChange(TenderId tender) => _kinds[tender].GivesChange;

    public bool IsBatchProved(TenderId tender) => _kinds[tender].Proof == ProofKind.Batch;
}
