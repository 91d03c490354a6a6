using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;

namespace Fondo.Core.Leads;

/// <summary>What was found.</summary>
/// <param name="StoppedEarly">Whether something was not looked for because there is too much of it: the leads hold, and there may be
/// others.</param>
public sealed record LeadsFound(ImmutableArray<Lead> Leads, bool StoppedEarly)
{
    public static readonly LeadsFound Nothing = new([], false);
}

/// <summary>Why cells are off: what may have happened, weighed against each other (rules §6).</summary>
/// <remarks>A terminal's cell is the sum of its unlike pairs and open items, so these are its leads. A drawer's difference is explained by
/// the sets of
/// explanations that add up to it; each set weighs the product of its parts' odds, once more when it is exact, less when it leaves out what
/// is known to have
/// happened, and cells that share an explanation are weighed together. A lead's chance is the share of the sets that do without
/// it.</remarks>
public static class LeadFinder
{
    private const int MostLeads = 8;

    private const double LeastShown = 0.03;

    /// <summary>All ways to look.</summary>
    internal static readonly ImmutableArray<ILeadSearch> Searches =
    [
        new SettledPairs(), new UnansweredItems(), new Swaps(), new Drops(), new Floats(), new TicketFindings(), new CountSlips(),
        new ChangeSlips(), new UnvoidedTickets(), new TurnedTickets(), new Subsets(), new OtherDrawers(),
    ];

    /// <summary>The leads of every cell that is off, by cell and rank. A cell that proves has none.</summary>
    public static LeadsFound Of(Reconciliation result) =>
        LeadGround.Of(result.Day, result.Cells) is { } ground ? Of(result, ground) : LeadsFound.Nothing;

    /// <param name="ground">Laid out before, of the same day.</param>
    public static LeadsFound Of(Reconciliation result, LeadGround ground) => Of(result, ground, _ => false);

    /// <param name="isTaken">What an entry says already: it is not weighed with what is left.</param>
    internal static LeadsFound Of(Reconciliation result, LeadGround ground, Func<Explanation, bool> isTaken)
    {
        var @case = new LeadCase(result, ground);
        var explanations = Searches.SelectMany(s => s.Search(@case)).Where(e => !isTaken(e)).ToList();
        var known = new ByCell(explanations);
        var byCell = new ByCell([.. explanations, .. Searches.SelectMany(s => s.SearchBeside(@case, known)).Where(e => !isTaken(e))]);
        var off = result.Cells.Where(c => c.State == CellState.Off).ToList();
        var counted = JointWeighing.Of(@case, [.. off.Where(c => result.Day.Setup.ProofOf(c.Key) == ProofKind.Count)], byCell);

        var leads = ImmutableArray.CreateBuilder<Lead>();
        foreach (var cell in off)
        {
            var isCounted = result.Day.Setup.ProofOf(cell.Key) == ProofKind.Count;
            var shown = (isCounted ? counted.Weighed(cell.Key) : Settled(byCell[cell.Key], counted.Probability))
                .Where(l => l.Probability >= LeastShown)
                .OrderByDescending(l => l.Probability).ThenByDescending(l => l.Explanation.Weight).ThenBy(l => l.Explanation.Keys.Length)
                .ThenBy(l => string.Join(' ', l.Explanation.Keys), StringComparer.Ordinal)
                .DistinctBy(l => (l.Explanation.Kind, string.Join(' ', l.Explanation.Keys)))
                .Take(MostLeads).ToList();
            // What belongs together to the best explanation stands first together; the others follow one by one.
            var best = isCounted ? counted.Best(cell.Key).ToList() : [.. shown.Where(l => l.Probability >= 0.5).Select(l => l.Explanation)];
            var rank = 1;
            foreach (var (e, probability) in shown
                .OrderBy(l => !best.Contains(l.Explanation) ? 2 : l.Explanation.StandsAlone(cell.Key, cell.Variance!.Value) ? 0 : 1))
            {
                var first = best.Contains(e);
                leads.Add(new(cell.Key, first ? 1 : best.Count == 0 ? rank++ : ++rank, e.Kind, e.On(cell.Key), e.Keys, e.Fact, e.Effects,
                    e.Remedy, Math.Round(Math.Clamp(1 - probability, 0.0001, 0.9999), 4)));
            }
        }

        return new(leads.ToImmutable(), @case.StoppedEarly);
    }

    /// <summary>The pieces of which a terminal's cell is made. Of an open item, the swaps that the drawers speak for come off its own
    /// cause.</summary>
    private static IEnumerable<(Explanation Explanation, double Probability)> Settled(IEnumerable<Explanation> touching,
        Func<Explanation, double> probability)
    {
        var all = touching.ToList();
        var swaps = all.Where(e => e.Effects.Any(p => p.Cell.Drawer is not null)).Select(e => (Explanation: e, Probability: probability(e)))
            .ToList();
        var taken = swaps.SelectMany(s => s.Explanation.Uses.Select(u => (Use: u, s.Probability))).ToLookup(u => u.Use, u => u.Probability);
        var isSwap = swaps.Select(s => s.Explanation).ToHashSet();
        foreach (var (e, own) in swaps)
        {
            yield return (e, own);
        }

        foreach (var e in all.Where(e => !isSwap.Contains(e)))
        {
            yield return (e, e.Weight / (e.Weight + Odds.Unexplained) * (1 - Math.Min(1, e.Uses.SelectMany(u => taken[u]).Sum())));
        }
    }
}
