using Fondo.Core.Cells;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Matching;

namespace Fondo.Core.Leads;

/// <summary>Items that nothing on the other side answers: each is a lead of its cause.</summary>
internal sealed class UnansweredItems : ILeadSearch
{
    public IEnumerable<Explanation> Search(LeadCase @case)
    {
        var today = @case.Result.OpenItems.Where(o => o.Item.CarriedFrom is null).ToList();
        var late = RungLater(@case);
        foreach (var open in today.Where(o => !ConcernsTheBatch(o)))
        {
            var amount = open.Side == OpenIn.Batch ? open.Item.Amount : -open.Item.Amount;
            yield return new(KindOf(open.Cause), [new Posting(open.Item.Cell, amount)], [open.Item.Key], new LeadFact.Unanswered(open),
                Odds.Of(open.Cause), Remedy(open, late));
        }

        // A batch that is missing, or was closed early, is one event for all its tenders.
        foreach (var batch in today.Where(ConcernsTheBatch).GroupBy(o => (o.Cause, o.Item.Cell, Terminal: o.Item.Terminal!.Value)))
        {
            var amount = batch.Sum(o => o.Item.Amount);
            yield return new(KindOf(batch.Key.Cause), [new Posting(batch.Key.Cell, -amount)],
                [.. batch.Select(o => o.Item.Key), batch.Key.Terminal.Value],
                batch.Key.Cause == Cause.BatchAbsent
                    ? new LeadFact.BatchAbsent(batch.Key.Terminal, batch.Count(), amount)
                    : new LeadFact.AfterCutoff(batch.Key.Terminal, batch.Count(), amount),
                Odds.Of(batch.Key.Cause), new LeadRemedy.Await(AwaitedProof.LaterBatch))
            {
                Uses = [.. batch.Select(o => o.Item.Key)],
            };
        }
    }

    /// <summary>A cause is a kind of lead of the same name.</summary>
    private static LeadKind KindOf(Cause cause) => WrittenNames.Read<LeadKind>(cause.Written())!.Value;

    private static LeadRemedy Remedy(OpenItem open, IReadOnlyCollection<CardSlip> late) => open.Cause switch
    {
        Cause.MissingFromBatch => new LeadRemedy.Await(AwaitedProof.LaterBatch),
        Cause.NotInJournal => open.Item.Row is { } row && late.Any(c => IsOf(c, row.Card))
            ? new LeadRemedy.Await(AwaitedProof.LaterTicket)
            : new LeadRemedy.Record(MovementKind.Sale),
        _ => new LeadRemedy.Claim(),
    };

    private static bool IsOf(CardSlip rung, CardSlip settled) => (rung.Rrn is { } rrn && rrn == settled.Rrn)
        || (rung.Approval is { } code && code == settled.Approval && rung.LastFour == settled.LastFour);

    /// <summary>Cards of tickets that were rung after their drawer's close: they count on the next day, and their rows wait for
    /// them.</summary>
    private static List<CardSlip> RungLater(LeadCase @case) =>
        [.. @case.Day.Journal.OfType<Ticket>().Where(@case.Standing.IsAfterClose).Concat(@case.Day.Waiting).SelectMany(t => t.Tenders)
            .Select(t => t.Card).OfType<CardSlip>()];

    private static bool ConcernsTheBatch(OpenItem open) => open.Cause is Cause.BatchAbsent or Cause.AfterCutoff;
}
