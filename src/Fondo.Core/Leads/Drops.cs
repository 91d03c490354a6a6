using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Leads;

/// <summary><c>drop-not-recorded</c> and <c>drop-differs</c>: a bag at the safe that the journal does not know, or that holds another amount.</summary>
internal sealed class Drops : ILeadSearch
{
    public IEnumerable<Explanation> Search(LeadCase @case)
    {
        var bags = @case.Day.Counts.Where(c => c.Kind == CountKind.Drop && c.Bag is not null).GroupBy(c => c.Bag!).ToDictionary(g => g.Key, g => g.MaxBy(c => (c.Attempt, c.Id))!);
        var recorded = @case.Day.Journal.OfType<CashMovement>().Where(m => m is { Kind: EventKind.Drop, Bag: not null }).ToLookup(m => m.Bag!);
        foreach (var (bag, count) in bags)
        {
            if (recorded[bag].FirstOrDefault() is { Drawer: { } drawer } drop)
            {
                var over = recorded[bag].Sum(m => m.Amount) - count.Cash;
                if (!over.IsZero)
                {
                    yield return new(LeadKind.DropDiffers, [new Posting(new(drop.Register, drawer, TenderId.Cash), over)], [bag, drop.Id.Value, count.Id],
                        $"Bag {bag} was recorded with {@case.Say(drop.Amount)} and holds {@case.Say(count.Cash)}.", Odds.Fact, IsFact: true);
                }

                continue;
            }

            foreach (var session in @case.Sessions.Where(s => s.From <= count.At))
            {
                yield return new(LeadKind.DropNotRecorded, [new Posting(new(session.Register, session.Drawer, TenderId.Cash), -count.Cash)], [bag, count.Id],
                    $"Bag {bag} with {@case.Say(count.Cash)} was opened at the safe, and no drop of it was recorded.", Odds.Bag)
                { HasHappenedSomewhere = true };
            }
        }
    }
}
