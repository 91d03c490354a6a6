using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;

namespace Fondo.Core.Leads;

/// <summary><c>ticket-finding</c> in a drawer: what a ticket check found says by how much the cash would be off for it.</summary>
internal sealed class TicketFindings : ILeadSearch
{
    public IEnumerable<Explanation> Search(LeadCase @case)
    {
        var findings = @case.Result.TicketFindings.ToLookup(f => f.Ticket);
        foreach (var ticket in @case.Day.Journal.OfType<Ticket>()
            .Where(t => findings.Contains(t.Id) && t.Drawer is not null && @case.Standing.Stands(t)))
        {
            var cash = new CellKey.Takings(ticket.Register, ticket.Drawer, TenderId.Cash);
            foreach (var (effect, what, amount, isFact) in findings[ticket.Id].SelectMany(f => Effects(f, ticket))
                .Where(e => !e.Effect.IsZero && @case.IsOff(cash)).DistinctBy(e => e.Effect))
            {
                yield return new(LeadKind.TicketFinding, [new Posting(cash, effect)], [ticket.Id.Value],
                    new LeadFact.FoundOnTicket(what, ticket, amount),
                    isFact ? Odds.Fact : Odds.Finding,
                    effect.Sign > 0 ? new LeadRemedy.Record(MovementKind.Sale) : new LeadRemedy.Accept(), isFact);
            }
        }
    }

    /// <summary>By how much the drawer would be off, had the ticket gone as its record says.</summary>
    private static IEnumerable<(Money Effect, FindingBehind What, Money Amount, bool IsFact)> Effects(TicketFinding finding, Ticket ticket)
    {
        switch (finding.Code)
        {
            case FindingCode.Overtender or FindingCode.EbtChange when GivenBack(ticket) is { IsZero: false } change:
                yield return (-change, FindingBehind.ChangeNotAllowed, change, true);
                break;
            case FindingCode.Overtender:
                yield return (-finding.Amount, FindingBehind.OvertenderGivenBack, finding.Amount, false);
                break;
            case FindingCode.EbtChange:
                yield return (finding.Amount, FindingBehind.BenefitCashBack, finding.Amount, false);
                break;
            case FindingCode.PartlyReversed:
                yield return (finding.Amount, FindingBehind.ReversedCardPaidInCash, finding.Amount, false);
                yield return (Unpaid(ticket), FindingBehind.UnpaidAfterCardFailed, Unpaid(ticket), false);
                break;
            case FindingCode.TotalsDiffer:
                yield return (Unpaid(ticket), FindingBehind.TendersDifferFromTotal, Unpaid(ticket), false);
                break;
            case FindingCode.RefundOtherTender when ticket.Tenders.Any(t => t.Counts && t.Type == TenderId.Cash):
                yield return (-finding.Amount, FindingBehind.RefundedAnotherWay, finding.Amount, false);
                break;
        }
    }

    /// <summary>Change on tenders that give none.</summary>
    private static Money GivenBack(Ticket ticket) => ticket.Tenders.Where(t => t.Counts && t.Type != TenderId.Cash).Sum(t => t.Change);

    private static Money Unpaid(Ticket ticket) => ticket.Total - ticket.Tenders.Where(t => t.Counts).Sum(t => t.Net);
}
