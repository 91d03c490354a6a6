using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;

namespace Fondo.Core.Leads;

/// <summary><c>other-drawer</c>: one drawer short, another over by the same amount; also by what one or two other events leave of either,
/// and the whole of one drawer's
/// difference, of which the other's is a part.</summary>
internal sealed class OtherDrawers : ILeadSearch
{
    // Among more drawers that are off than this, the whole of one is not looked for in all the others; of one amount no more pairs than
    // this are made.
    private const int MostCandidates = 12, RoundTo = 500, MostDrawers = 40, MostPairs = 60;

    public IEnumerable<Explanation> SearchBeside(LeadCase @case, ByCell known)
    {
        var rests = @case.OffDrawers.SelectMany(d => Rests(d, known).Select(r => (Drawer: d, r.Left, r.Events))).ToLookup(r => r.Left);
        var met = new HashSet<(CellKey Short, CellKey Over, Money Left)>();
        foreach (var over in rests.Where(g => g.Key.Sign > 0))
        {
            var pairs = rests[-over.Key].SelectMany(s => over.Select(o => (Short: s, Over: o)))
                .Where(p => p.Short.Drawer.Key != p.Over.Drawer.Key && (p.Short.Events + p.Over.Events == 0 || !IsRound(over.Key)))
                .OrderBy(p => p.Short.Events + p.Over.Events).Select(p => (p.Short.Drawer.Key, p.Over.Drawer.Key, over.Key)).Distinct()
                .Take(MostPairs + 1).ToList();
            @case.StoppedEarly |= pairs.Count > MostPairs;
            met.UnionWith(pairs.Take(MostPairs));
        }

        @case.StoppedEarly |= @case.OffDrawers.Length > MostDrawers;
        var whole = @case.OffDrawers.Length > MostDrawers
            ? []
            : @case.OffDrawers.SelectMany(d => @case.OffDrawers.Where(o => o.Key != d.Key).Select(o => d.Variance!.Value.Sign > 0
            ? (Short: o.Key, Over: d.Key, Left: d.Variance!.Value)
            : (Short: d.Key, Over: o.Key, Left: -d.Variance!.Value)));
        return met.Select(p => Between(p.Short, p.Over, p.Left, 1))
            .Concat(whole.Where(p => !met.Contains(p)).Select(p => Between(p.Short, p.Over, p.Left, Odds.OnOneSide)));
    }

    private static Explanation Between(CellKey from, CellKey to, Money amount, double share) => new(
        LeadKind.OtherDrawer, [new Posting(from, -amount), new Posting(to, amount)], [from.Drawer!.Value.Value, to.Drawer!.Value.Value],
        new LeadFact.WrongDrawer(from, to, amount),
        (IsRound(amount) ? Odds.OtherDrawerRound : Odds.OtherDrawer) * share, new LeadRemedy.Record(MovementKind.Sale));

    /// <summary>What no, one or two events leave of a drawer's difference.</summary>
    private static IEnumerable<(Money Left, int Events)> Rests(Cell drawer, ByCell known)
    {
        var variance = drawer.Variance!.Value;
        yield return (variance, 0);
        var events = known[drawer.Key].OrderByDescending(e => e.Weight).Take(MostCandidates).ToArray();
        for (var i = 0; i < events.Length; i++)
        {
            var rest = variance - events[i].On(drawer.Key);
            yield return (rest, 1);
            for (var j = i + 1; j < events.Length; j++)
            {
                if (!events[i].Shares(events[j]))
                {
                    yield return (rest - events[j].On(drawer.Key), 2);
                }
            }
        }
    }

    private static bool IsRound(Money amount) => amount.Minor % RoundTo == 0;
}
