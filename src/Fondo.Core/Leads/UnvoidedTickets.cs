using Fondo.Core.Cells;
using Fondo.Core.Entries;

namespace Fondo.Core.Leads;

/// <summary><c>unvoided-ticket</c>: a cash ticket of exactly this amount that may never have been paid. Several tickets may fit alike: all
/// are named.</summary>
internal sealed class UnvoidedTickets : ILeadSearch
{
    private const int MostNamed = 24;

    public IEnumerable<Explanation> SearchFor(LeadCase @case, Cell drawer, Money difference)
    {
        if (difference.Sign > 0)
        {
            yield break;
        }

        var facts = @case.Facts(drawer.Key.Drawer!.Value)!;
        var fitting = facts.CashByNet[-difference].Where(t => !t.Ticket.IsRefund).ToList();
        if (fitting.Count > 0)
        {
            yield return new(LeadKind.UnvoidedTicket, [new Posting(drawer.Key, difference)],
                [.. fitting.Take(MostNamed).Select(t => t.Key.ToString())],
                new LeadFact.NeverPaid(fitting[0], fitting.Count, -difference),
                Math.Clamp(Odds.UnvoidedPrior / facts.TicketsExpectedAt(-difference), Odds.UnvoidedLeast, Odds.UnvoidedMost),
                new LeadRemedy.Record(MovementKind.Void));
        }
    }
}
