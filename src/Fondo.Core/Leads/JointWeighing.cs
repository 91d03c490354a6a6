using Fondo.Core.Cells;
using Fondo.Core.Days;

namespace Fondo.Core.Leads;

/// <summary>The counted cells weighed together: what touches two cells has to suit both, and what serves one drawer cannot serve another.</summary>
/// <remarks>Each cell tells the others how well an explanation suits it; a few rounds, until what they say agrees (belief propagation; exact where the shared
/// explanations form no ring).</remarks>
internal sealed class JointWeighing
{
    private const int Rounds = 6;

    private readonly SortedDictionary<CellKey, CellWeighing> _cells = new(Comparer<CellKey>.Create((a, b) => a.CompareTo(b)));
    private readonly Dictionary<(CellKey From, Explanation), double> _says = [];
    private readonly ILookup<string, Explanation> _rivals;

    private JointWeighing(LeadCase @case, IReadOnlyCollection<Cell> cells, IReadOnlyCollection<Explanation> explanations)
    {
        foreach (var cell in cells)
        {
            _cells.Add(cell.Key, new(@case, cell, explanations));
        }

        var counted = explanations.Where(e => CellsOf(e).Any()).ToList();
        _rivals = counted.SelectMany(e => e.Uses.Select(u => (Use: u, Explanation: e))).ToLookup(u => u.Use, u => u.Explanation);
        var shared = counted.Where(e => CellsOf(e).Skip(1).Any() || Rivals(e).Any()).ToList();
        for (var round = 0; round < (shared.Count > 0 ? Rounds : 1); round++)
        {
            foreach (var (key, cell) in _cells)
            {
                cell.Weigh(e => OddsOf(e, key));
            }

            // All cells speak at once, so that their order does not matter; and halfway only, so that two of them do not give way to each other for ever.
            var said = shared.SelectMany(e => CellsOf(e).Select(c => ((c, e), _cells[c].Says(e, OddsOf(e, c))))).ToList();
            foreach (var (what, says) in said)
            {
                _says[what] = _says.TryGetValue(what, out var before) ? Math.Sqrt(before * says) : says;
            }
        }
    }

    public static JointWeighing Of(LeadCase @case, IReadOnlyCollection<Cell> cells, IReadOnlyCollection<Explanation> explanations) => new(@case, cells, explanations);

    public IEnumerable<Explanation> Explanations(CellKey cell) => _cells[cell].Explanations;

    public ImmutableArray<Explanation> Best(CellKey cell) => _cells[cell].Best;

    /// <summary>How probable an explanation is; 1 where it touches no counted cell. Of two cells, as the more doubtful one says.</summary>
    public double Probability(Explanation e) => CellsOf(e).Select(c => _cells[c].Probability(e)).DefaultIfEmpty(1).Min();

    /// <summary>The odds of an explanation in a cell: its own, with what its other cells say, against its rivals for the same evidence in other cells.</summary>
    private double OddsOf(Explanation e, CellKey cell)
    {
        var rivals = Rivals(e).Where(r => !r.Touches(cell)).Sum(r => r.Weight * CellsOf(r).Aggregate(1.0, (odds, c) => odds * _says.GetValueOrDefault((c, r), r.HasHappenedSomewhere ? 1 : 0)));
        return CellsOf(e).Where(c => c != cell).Aggregate(e.Weight, (odds, c) => odds * _says.GetValueOrDefault((c, e), 1)) / ((e.HasHappenedSomewhere ? Odds.FactLeftOut : 1) + rivals);
    }

    private IEnumerable<CellKey> CellsOf(Explanation e) => e.Effects.Select(p => p.Cell).Where(_cells.ContainsKey).Distinct();

    private IEnumerable<Explanation> Rivals(Explanation e) => e.Uses.SelectMany(u => _rivals[u]).Where(r => !ReferenceEquals(r, e)).Distinct();
}
