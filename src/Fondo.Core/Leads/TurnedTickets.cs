using Fondo.Core.Cells;
using Fondo.Core.Entries;

namespace Fondo.Core.Leads;

/// <summary><c>direction</c> in a drawer: a cash sale recorded as a refund, or a refund as a sale. The difference is twice the
/// amount.</summary>
internal sealed class TurnedTickets : ILeadSearch
{
    private const int MostNamed = 24;

    public IEnumerable<Explanation> SearchFor(LeadCase @case, Cell drawer, Money difference)
    {
        if (difference.Minor % 2 != 0)
        {
            yield break;
        }

        var facts = @case.Facts(drawer.Key.Drawer!.Value)!;
        var fitting = facts.CashByNet[new(-difference.Minor / 2)].ToList();
        if (fitting.Count > 0)
        {
            yield return new(LeadKind.Direction, [new Posting(drawer.Key, difference)],
                [.. fitting.Take(MostNamed).Select(t => t.Key.ToString())],
                new LeadFact.TicketTurned(fitting[0], fitting.Count, IsRecordedAsRefund: difference.Sign > 0),
                difference.Sign > 0 ? Odds.TurnedRefund
                    : Math.Clamp(Odds.TurnedPrior / facts.TicketsExpectedAt(fitting[0].Tender.Net), Odds.UnvoidedLeast, Odds.TurnedRefund),
                new LeadRemedy.Record(difference.Sign > 0 ? MovementKind.Sale : MovementKind.Refund));
        }
    }
}
