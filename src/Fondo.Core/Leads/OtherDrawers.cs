using Fondo.Core.Entries;

namespace Fondo.Core.Leads;

/// <summary><c>other-drawer</c>: one drawer short, another over by the same amount.</summary>
internal sealed class OtherDrawers : ILeadSearch
{
    public IEnumerable<Explanation> Search(LeadCase @case)
    {
        foreach (var shortOne in @case.OffDrawers.Where(c => c.Variance < Money.Zero))
        {
            foreach (var over in @case.OffDrawers.Where(c => c.Variance == -shortOne.Variance))
            {
                yield return new("other-drawer", [new Posting(shortOne.Key, shortOne.Variance!.Value), new Posting(over.Key, over.Variance!.Value)],
                    [shortOne.Key.Drawer!.Value.Value, over.Key.Drawer!.Value.Value],
                    $"{shortOne.Key.Drawer} is short and {over.Key.Drawer} over by the same {@case.Say(over.Variance.Value)}: money may have gone into the wrong drawer.", Weights.Swap);
            }
        }
    }
}
