using Fondo.Core.Journal;

namespace Fondo.Core.Days;

/// <summary>A tender of the day together with its ticket.</summary>
public readonly record struct TakenTender(Ticket Ticket, int Place)
{
    public Tender Tender => Ticket.Tenders[Place - 1];

    public TenderKey Key => Ticket.KeyOf(Place);
}
