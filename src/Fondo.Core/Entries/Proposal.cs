using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;

namespace Fondo.Core.Entries;

/// <summary>An entry as it is proposed, before anybody made it.</summary>
/// <param name="Evidence">Keys of tickets, rows, counts, bags, drawers.</param>
public sealed record Proposal(EntryKind Kind, ImmutableArray<Posting> Postings, EntryDetail? Detail, string Reason,
    ImmutableArray<string> Evidence)
{
    /// <summary>The entry that a lead asks for: it explains, over all cells that the lead touches, exactly what the lead says.</summary>
    /// <param name="owner">Who would see to what is carried or claimed.</param>
    public static Proposal Of(Lead lead, Reconciliation result, PersonId owner)
    {
        var (kind, detail) = KindOf(lead, result, owner);
        return new(kind, Ordered(lead), detail, lead.Says, lead.Keys);
    }

    /// <summary>The same as it can be made at a moment: a deadline that has passed is proposed anew, so much later.</summary>
    public Proposal At(DateTimeOffset now, TimeSpan later) => Detail switch
    {
        EntryDetail.Awaited awaited when awaited.Deadline <= now => this with { Detail = awaited with { Deadline = now + later } },
        EntryDetail.Owed owed when owed.Deadline <= now => this with { Detail = owed with { Deadline = now + later } },
        _ => this,
    };

    /// <summary>The cell in question first.</summary>
    private static ImmutableArray<Posting> Ordered(Lead lead) => [.. lead.Entry.OrderBy(p => p.Cell == lead.Cell ? 0 : 1)];

    private static (EntryKind Kind, EntryDetail? Detail) KindOf(Lead lead, Reconciliation result, PersonId owner)
    {
        if (lead.Entry.Length > 1 && lead.Entry.Sum(p => p.Amount).IsZero)
        {
            return (EntryKind.Reclassify, null);
        }

        switch (lead.Kind)
        {
            case LeadKind.MissingFromBatch or LeadKind.BatchAbsent or LeadKind.AfterCutoff:
                return (EntryKind.Carry, new EntryDetail.Awaited(owner, Deadline(lead, result), AwaitedProof.LaterBatch));
            case LeadKind.NotInJournal:
                return RungLater(lead, result)
                    ? (EntryKind.Carry, new EntryDetail.Awaited(owner, Deadline(lead, result), AwaitedProof.LaterTicket))
                    : Moved(MovementKind.Sale);
            case LeadKind.ChargedTwice or LeadKind.VoidNotSent or LeadKind.ReversalNotSent or LeadKind.DeclinedButSettled
                or LeadKind.AmountKeyed:
                return (EntryKind.Claim, new EntryDetail.Owed(ClaimParty.Customer, lead.Explains.Sign < 0, owner, Deadline(lead, result)));
            case LeadKind.Direction when lead.Cell.Drawer is null:
                return (EntryKind.Claim, new EntryDetail.Owed(ClaimParty.Customer, lead.Explains.Sign < 0, owner, Deadline(lead, result)));
            case LeadKind.Direction:
                return Moved(lead.Explains.Sign > 0 ? MovementKind.Sale : MovementKind.Refund);
            case LeadKind.ClaimPaid:
                return (EntryKind.Claim, new EntryDetail.Owed(ClaimParty.Customer, lead.Explains.Sign > 0, owner,
                    EndOfNextDay(result.Day)));
            case LeadKind.EarlierDay:
                return Moved(MovementKind.Arrival);
            case LeadKind.DropNotRecorded or LeadKind.DropDiffers:
                return Moved(MovementKind.Drop, lead.Keys.IsEmpty ? null : lead.Keys[0]);
            case LeadKind.FloatDiffers:
                return Moved(MovementKind.Float);
            case LeadKind.CountSlip when result.Day.Counts.Any(c => lead.Keys.Contains(c.Id)):
                return (EntryKind.Recount, new EntryDetail.Recounted(lead.Keys.First(k => result.Day.Counts.Any(c => c.Id == k)),
                    lead.Found));
            case LeadKind.UnvoidedTicket:
                return Moved(MovementKind.Void);
            case LeadKind.TicketFinding when lead.Explains.Sign > 0:
                return Moved(MovementKind.Sale);
            case LeadKind.TenderSwap or LeadKind.WrongTerminal or LeadKind.OtherDrawer or LeadKind.Subset:
                // Its other side has no cell of its own today.
                return Moved(MovementKind.Sale);
            default:
                return (EntryKind.Accept, null);
        }
    }

    private static (EntryKind, EntryDetail) Moved(MovementKind what, string? bag = null) =>
        (EntryKind.Record, new EntryDetail.Moved(what, bag));

    /// <summary>Whether the settled row is of a ticket that was rung after its drawer's close: it counts on the next day, and the row waits
    /// for it.</summary>
    private static bool RungLater(Lead lead, Reconciliation result)
    {
        var standing = new Standing(result.Day);
        var late = result.Day.Journal.OfType<Ticket>().Where(standing.IsAfterClose).Concat(result.Day.Waiting).SelectMany(t => t.Tenders)
            .Select(t => t.Card).OfType<CardSlip>().ToList();
        return (result.Day.Rows ?? []).Any(r => lead.Keys.Contains(r.Key.ToString())
            && late.Any(c => (c.Rrn is { } rrn && rrn == r.Card.Rrn)
                || (c.Approval is { } code && code == r.Card.Approval && c.LastFour == r.Card.LastFour)));
    }

    /// <summary>The first moment at which one of its items can no longer be put right.</summary>
    private static DateTimeOffset Deadline(Lead lead, Reconciliation result)
    {
        var keys = lead.Keys.ToHashSet(StringComparer.Ordinal);
        var items = result.OpenItems.Where(o => keys.Contains(o.Item.Key)).Select(o => o.Item)
            .Concat(result.Matches.SelectMany(m => m.Journal.Concat(m.Rows)).Where(i => keys.Contains(i.Key)));
        return items.Select(i => (DateTimeOffset?)TimeLeft.Until(i, result.Day)).Min() ?? EndOfNextDay(result.Day);
    }

    private static DateTimeOffset EndOfNextDay(Day day)
    {
        var ends = day.Setup.TradingDay.Date.AddDays(2).ToDateTime(day.Setup.DayEndsAt);
        return new(ends, day.Setup.TimeZone.GetUtcOffset(ends));
    }
}
