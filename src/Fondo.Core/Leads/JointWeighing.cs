using Fondo.Core.Cells;
using Fondo.Core.Days;

namespace Fondo.Core.Leads;

/// <summary>The counted cells weighed together: what touches two cells has to suit both, and what serves one drawer cannot serve
/// another.</summary>
/// <remarks>Each cell tells the others how well an explanation suits it; a few rounds, until what they say agrees (belief propagation;
/// exact where the shared
/// explanations form no ring).</remarks>
internal sealed class JointWeighing
{
    private const int Rounds = 6, MostCandidates = 120;

    /// <summary>About so many sets are weighed in all, whatever the day: a second on one core for the largest.</summary>
    private const double MostSets = 1_500_000;

    private readonly Dictionary<CellKey, CellWeighing> _cells = [];
    private readonly Dictionary<Explanation, Shared> _shared = [];

    /// <summary>What is shared between cells, or rivals something elsewhere.</summary>
    private sealed class Shared(Explanation explanation)
    {
        public Explanation Explanation => explanation;

        /// <summary>The counted cells that it touches, with its place among their candidates and what they said of it last.</summary>
        public List<(CellWeighing Cell, int Place, double Says)> Cells { get; } = [];

        /// <summary>Its odds in all its cells together; while no cell has spoken, something that is not known to have happened rivals
        /// nothing.</summary>
        public double Value(bool hasSpoken) =>
            hasSpoken ? Cells.Aggregate(explanation.Weight, (odds, c) => odds * c.Says)
            : explanation.HasHappenedSomewhere ? explanation.Weight
            : 0;

        /// <summary>Its odds by what all cells but this one say.</summary>
        public double Elsewhere(CellWeighing cell, bool hasSpoken) =>
            hasSpoken
                ? Cells.Aggregate(explanation.Weight, (odds, c) => ReferenceEquals(c.Cell, cell) ? odds : odds * c.Says)
                : explanation.Weight;
    }

    private JointWeighing(LeadCase @case, IReadOnlyCollection<Cell> cells, ByCell explanations)
    {
        var most = (int)Math.Clamp(Math.Sqrt(2 * MostSets / (Rounds * Math.Max(cells.Count, 1))), 16, MostCandidates);
        foreach (var cell in cells.OrderBy(c => c.Key))
        {
            _cells.Add(cell.Key, new(@case, cell, explanations[cell.Key], most));
        }

        Share(explanations);
        for (var round = 0; round < (_shared.Count > 0 ? Rounds : 1); round++)
        {
            var rivals = new Rivals(_shared.Values, round > 0);
            foreach (var cell in _cells.Values)
            {
                cell.Weigh([.. cell.Candidates.Select(e => _shared.TryGetValue(e, out var shared)
                    ? Of(shared, cell, rivals, round > 0)
                    : e.Weight)]);
            }

            // All cells speak at once, so that their order does not matter; and halfway only, so that two of them do not give way to each
            // other for ever.
            foreach (var shared in _shared.Values)
            {
                for (var i = 0; i < shared.Cells.Count; i++)
                {
                    var (cell, place, before) = shared.Cells[i];
                    var says = place < 0 ? shared.Explanation.HasHappenedSomewhere ? 1 : 0 : cell.Says(place);
                    shared.Cells[i] = (cell, place, round > 0 ? Math.Sqrt(before * says) : says);
                }
            }
        }
    }

    public static JointWeighing Of(LeadCase @case, IReadOnlyCollection<Cell> cells, ByCell explanations) => new(@case, cells, explanations);

    public IEnumerable<Explanation> Best(CellKey cell) => _cells[cell].Best;

    /// <summary>What may have happened to a cell, and how probable it is: of two cells, as the more doubtful one says.</summary>
    public IEnumerable<(Explanation Explanation, double Probability)> Weighed(CellKey cell) =>
        _cells[cell].Weighed.Select(w => (w.Explanation, _shared.ContainsKey(w.Explanation) ? Probability(w.Explanation) : w.Probability));

    /// <summary>How probable an explanation is; 1 where it touches no counted cell.</summary>
    public double Probability(Explanation e) =>
        _shared.TryGetValue(e, out var shared) ? shared.Cells.Min(c => c.Place < 0 ? 0 : c.Cell.Probability(c.Place))
        : ByCell.CellsOf(e).Where(_cells.ContainsKey).Select(c => Alone(e, _cells[c])).DefaultIfEmpty(1).Min();

    private static double Alone(Explanation e, CellWeighing cell)
    {
        for (var i = 0; i < cell.Candidates.Count; i++)
        {
            if (ReferenceEquals(cell.Candidates[i], e))
            {
                return cell.Probability(i);
            }
        }

        return 0;
    }

    private void Share(ByCell explanations)
    {
        var counted = explanations.All.Where(e => ByCell.CellsOf(e).Any(_cells.ContainsKey)).ToList();
        var used = counted.SelectMany(e => e.Uses).CountBy(u => u).ToDictionary();
        var places = _cells.Values.ToDictionary(c => c, c => c.Candidates.Select((e, i) => (e, i)).ToDictionary(p => p.e, p => p.i));
        foreach (var e in counted)
        {
            var cells = ByCell.CellsOf(e).Where(_cells.ContainsKey).Select(c => _cells[c]).ToList();
            if (cells.Count > 1 || e.Uses.Any(u => used[u] > 1))
            {
                var shared = _shared[e] = new(e);
                shared.Cells.AddRange(cells.Select(c => (c, places[c].GetValueOrDefault(e, -1), 1.0)));
            }
        }
    }

    /// <summary>The odds of an explanation in a cell: its own, with what its other cells say, against its rivals for the same evidence in
    /// other cells.</summary>
    private static double Of(Shared shared, CellWeighing cell, Rivals rivals, bool hasSpoken) =>
        shared.Elsewhere(cell, hasSpoken) / ((shared.Explanation.HasHappenedSomewhere ? Odds.FactLeftOut : 1)
            + rivals.Elsewhere(shared.Explanation, cell));

    /// <summary>For each piece of evidence, the odds of all that lean on it, and of those that touch a cell.</summary>
    private sealed class Rivals
    {
        private readonly Dictionary<string, double> _all = [];
        private readonly Dictionary<(string, CellWeighing), double> _here = [];

        public Rivals(IEnumerable<Shared> all, bool hasSpoken)
        {
            foreach (var shared in all)
            {
                var value = shared.Value(hasSpoken);
                foreach (var use in shared.Explanation.Uses)
                {
                    _all[use] = _all.GetValueOrDefault(use) + value;
                    foreach (var (cell, _, _) in shared.Cells)
                    {
                        _here[(use, cell)] = _here.GetValueOrDefault((use, cell)) + value;
                    }
                }
            }
        }

        /// <summary>The odds of what leans on the same evidence and does not touch the cell.</summary>
        public double Elsewhere(Explanation e, CellWeighing cell)
        {
            var sum = 0.0;
            foreach (var use in e.Uses)
            {
                sum += Math.Max(0, _all[use] - _here.GetValueOrDefault((use, cell)));
            }

            return sum;
        }
    }
}
