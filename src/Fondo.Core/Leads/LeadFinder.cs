using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Leads;

/// <summary>Why cells are off: what may have happened, weighed against each other (rules §6).</summary>
/// <remarks>A terminal's cell is the sum of its unlike pairs and open items, so these are its leads. A drawer's difference is explained by the sets of
/// explanations that add up to it; each set weighs the product of its parts' odds, once more when it is exact, less when it leaves out what is known to have
/// happened. A lead's chance is the share of the sets that do without it.</remarks>
public static class LeadFinder
{
    private const int MostLeads = 8, LargestSet = 3, MostCandidates = 40;

    private const double LeastShown = 0.03;

    private static readonly ImmutableArray<ILeadSearch> _searches = [new SettledPairs(), new OpenItems(), new Swaps(), new Drops(), new Floats()];

    private static readonly ImmutableArray<IDifferenceSearch> _differences = [new CountSlips(), new ChangeSlips(), new UnvoidedTickets(), new TurnedTickets(), new Subsets()];

    /// <summary>The leads of every cell that is off, by cell and rank. A cell that proves has none.</summary>
    public static ImmutableArray<Lead> Of(Reconciliation result)
    {
        if (result.Cells.All(c => c.State != CellState.Off))
        {
            return [];
        }

        var @case = new LeadCase(result);
        var explanations = _searches.SelectMany(s => s.Search(@case)).ToList();
        explanations.AddRange(OtherDrawers.Search(@case, explanations));
        var proofs = result.Day.Setup.Tenders.ToDictionary(t => t.Id, t => t.Proof);
        var off = result.Cells.Where(c => c.State == CellState.Off).ToList();
        var counted = off.Where(c => proofs[c.Key.Tender] == ProofKind.Count).ToDictionary(c => c.Key, c => Weigh(@case, c, explanations));

        // What touches two drawers' cells is as probable as the less probable of the two says.
        double Probability(Explanation e) => e.Effects.Where(p => counted.ContainsKey(p.Cell)).Select(p => counted[p.Cell].Probability.GetValueOrDefault(e)).DefaultIfEmpty(1).Min();

        var leads = ImmutableArray.CreateBuilder<Lead>();
        foreach (var cell in off)
        {
            var shown = (proofs[cell.Key.Tender] == ProofKind.Count
                    ? counted[cell.Key].Probability.Keys.Select(e => (Explanation: e, Probability: Probability(e)))
                    : Settled(cell, explanations, Probability))
                .Where(l => l.Probability >= LeastShown)
                .OrderByDescending(l => l.Probability).ThenByDescending(l => l.Explanation.Weight).ThenBy(l => l.Explanation.Keys.Length).ThenBy(l => string.Join(' ', l.Explanation.Keys), StringComparer.Ordinal)
                .DistinctBy(l => (l.Explanation.Kind, string.Join(' ', l.Explanation.Keys)))
                .Take(MostLeads).ToList();
            // What belongs together to the best explanation stands first together; the others follow one by one.
            var best = proofs[cell.Key.Tender] == ProofKind.Count ? counted[cell.Key].Best : [.. shown.Where(l => l.Probability >= 0.5).Select(l => l.Explanation)];
            var rank = 1;
            foreach (var (e, probability) in shown.OrderBy(l => best.Contains(l.Explanation) ? 0 : 1))
            {
                var first = best.Contains(e);
                leads.Add(new(cell.Key, first ? 1 : best.IsEmpty ? rank++ : ++rank, e.Kind, e.On(cell.Key), e.Keys, e.Says, e.Effects, Math.Round(Math.Clamp(1 - probability, 0.0001, 0.9999), 4)));
            }
        }

        return leads.ToImmutable();
    }

    /// <summary>The pieces of which a terminal's cell is made. Of an open item, the swaps that the drawers speak for come off its own cause.</summary>
    private static IEnumerable<(Explanation Explanation, double Probability)> Settled(Cell cell, List<Explanation> explanations, Func<Explanation, double> probability)
    {
        var touching = explanations.Where(e => e.Touches(cell.Key)).ToList();
        var swaps = touching.Where(e => e.Effects.Any(p => p.Cell.Drawer is not null)).ToList();
        foreach (var e in touching)
        {
            var alone = e.Weight / (e.Weight + Weights.Unexplained);
            yield return swaps.Contains(e)
                ? (e, probability(e) * alone)
                : (e, alone * (1 - Math.Min(1, swaps.Where(s => s.Shares(e)).Sum(probability))));
        }
    }

    /// <param name="Best">The set of explanations that weighs most; together they explain the cell.</param>
    private sealed record Weighed(Dictionary<Explanation, double> Probability, ImmutableArray<Explanation> Best);

    /// <summary>How probable each explanation of a counted cell is: over all sets that add up to its variance.</summary>
    private static Weighed Weigh(LeadCase @case, Cell cell, List<Explanation> explanations)
    {
        var variance = cell.Variance!.Value;
        var tolerance = cell.Key.Tender == TenderId.Cash ? @case.Day.Setup.Policy.CashTolerance : Money.Zero;
        var candidates = explanations.Where(e => e.Touches(cell.Key)).OrderByDescending(e => e.Weight).ThenBy(e => e.Keys[0], StringComparer.Ordinal).Take(MostCandidates).ToArray();
        var (total, weights) = (Weights.Unexplained, new Dictionary<Explanation, double>());
        var facts = candidates.Count(c => c.IsFact);
        var (chosen, best, most) = (new List<Explanation>(), ImmutableArray<Explanation>.Empty, 0.0);
        Extend(0, variance, 1);
        return new(weights.ToDictionary(w => w.Key, w => w.Value / total), best);

        void Extend(int from, Money left, double weight)
        {
            if (chosen.Count > 0 && left.Abs() <= tolerance)
            {
                Count(weight * (left.IsZero ? Weights.Exact : Weights.WithinTolerance), null);
            }

            if (!left.IsZero && cell.Key.Tender == TenderId.Cash && (chosen.Count == 0 || left.Abs() > tolerance))
            {
                foreach (var e in _differences.SelectMany(d => d.Search(@case, cell, left)))
                {
                    Count(weight * e.Weight * (chosen.All(c => c.IsFact) ? 1 : Weights.SlipOnTop), e);
                }
            }

            if (chosen.Count == LargestSet)
            {
                return;
            }

            for (var i = from; i < candidates.Length; i++)
            {
                if (!chosen.Any(candidates[i].Shares))
                {
                    chosen.Add(candidates[i]);
                    Extend(i + 1, left - candidates[i].On(cell.Key), weight * candidates[i].Weight);
                    chosen.RemoveAt(chosen.Count - 1);
                }
            }
        }

        void Count(double weight, Explanation? last)
        {
            weight *= Math.Pow(Weights.FactLeftOut, facts - chosen.Count(c => c.IsFact));
            total += weight;
            ImmutableArray<Explanation> set = [.. (last is null ? chosen : chosen.Append(last)).Select(Known)];
            foreach (var e in set)
            {
                weights[e] = weights.GetValueOrDefault(e) + weight;
            }

            if (weight > most)
            {
                (best, most) = (set, weight);
            }
        }

        // The same explanation may be found again for what other sets leave.
        Explanation Known(Explanation e) =>
            weights.Keys.FirstOrDefault(k => k.Kind == e.Kind && k.Keys.SequenceEqual(e.Keys) && k.On(cell.Key) == e.On(cell.Key)) ?? e;
    }
}
