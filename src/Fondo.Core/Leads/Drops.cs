using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Leads;

/// <summary><c>drop-not-recorded</c> and <c>drop-differs</c>: a bag at the safe that the journal does not know, or that holds another amount.</summary>
internal sealed class Drops : ILeadSearch
{
    public IEnumerable<Explanation> Search(LeadCase @case)
    {
        var bags = @case.Day.Counts.Where(c => c.Kind == CountKind.Drop && c.Bag is not null).GroupBy(c => c.Bag!).ToDictionary(g => g.Key, g => g.MaxBy(c => (c.Attempt, c.Id))!);
        var recorded = @case.Day.Journal.OfType<CashMovement>().Where(m => m is { Kind: MovementKind.Drop, Bag: not null }).ToLookup(m => m.Bag!);
        foreach (var (bag, count) in bags)
        {
            if (recorded[bag].FirstOrDefault() is { Drawer: { } drawer } drop)
            {
                var over = recorded[bag].Sum(m => m.Amount) - count.Cash;
                if (!over.IsZero)
                {
                    yield return new("drop-differs", [new Posting(new(drop.Register, drawer, TenderId.Cash), over)], [bag, drop.Id.Value, count.Id],
                        $"Bag {bag} was recorded with {@case.Say(drop.Amount)} and holds {@case.Say(count.Cash)}.", Weights.Fact, IsFact: true);
                }

                continue;
            }

            foreach (var session in @case.Result.Sessions.Where(s => s.From <= count.At))
            {
                yield return new("drop-not-recorded", [new Posting(new(session.Register, session.Drawer, TenderId.Cash), -count.Cash)], [bag, count.Id],
                    $"Bag {bag} with {@case.Say(count.Cash)} was opened at the safe, and no drop of it was recorded.", Weights.Bag)
                { HasHappenedSomewhere = true };
            }
        }
    }
}
