using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Leads;

/// <summary><c>drop-not-recorded</c> and <c>drop-differs</c>: a bag at the safe that the journal does not know, or that holds another
/// amount.</summary>
internal sealed class Drops : ILeadSearch
{
    public IEnumerable<Explanation> Search(LeadCase @case)
    {
        var bags = @case.Day.Counts.Where(c => c.Kind == CountKind.Drop && c.Bag is not null).GroupBy(c => c.Bag!)
            .ToDictionary(g => g.Key, g => g.MaxBy(c => (c.Attempt, c.Id))!);
        var recorded = @case.Day.Journal.OfType<CashMovement>().Where(m => m is { Kind: EventKind.Drop, Bag: not null })
            .ToLookup(m => m.Bag!);
        foreach (var (bag, count) in bags)
        {
            var drops = recorded[bag].Where(m => m.Drawer is not null).OrderBy(m => m.Id).ToList();
            var over = drops.Sum(m => m.Amount) - count.Cash;
            foreach (var (drawer, own) in drops.GroupBy(m => (m.Register, m.Drawer)).Select(g => (g.Key, g.ToList()))
                .Where(_ => !over.IsZero))
            {
                // A bag of one drawer is that drawer's affair; of several, it is one of theirs.
                var isAlone = own.Count == drops.Count;
                yield return new(LeadKind.DropDiffers,
                    [new Posting(new CellKey.Takings(drawer.Register, drawer.Drawer, TenderId.Cash), over)],
                    [bag, .. own.Select(m => m.Id.Value), count.Id],
                    new LeadFact.DropDiffers(bag, drops.Sum(m => m.Amount), count.Cash),
                    isAlone ? Odds.Fact : Odds.Bag, new LeadRemedy.Record(MovementKind.Drop, bag), isFact: isAlone)
                { Uses = [bag], HasHappenedSomewhere = !isAlone };
            }

            if (drops.Count > 0)
            {
                continue;
            }

            foreach (var session in @case.Sessions.Where(s => s.From <= count.At))
            {
                yield return new(LeadKind.DropNotRecorded,
                    [new Posting(new CellKey.Takings(session.Register, session.Drawer, TenderId.Cash), -count.Cash)],
                    [bag, count.Id],
                    new LeadFact.DropNotRecorded(bag, count.Cash), Odds.Bag,
                    new LeadRemedy.Record(MovementKind.Drop, bag))
                { HasHappenedSomewhere = true };
            }
        }
    }
}
