using Fondo.Core.Cells;
using Fondo.Core.Journal;

namespace Fondo.Core.Leads;

/// <summary>All sets of explanations that add up to the variance of one counted cell, weighed against each other and against "nothing explains it".</summary>
internal sealed class CellWeighing
{
    // Sets of three, and slips on top of two, are only made of the first few candidates.
    private const int LargestSet = 3, MostCandidates = 120, FewCandidates = 24;

    private static readonly ImmutableArray<IDifferenceSearch> _differences = [new CountSlips(), new ChangeSlips(), new UnvoidedTickets(), new TurnedTickets(), new Subsets()];

    private readonly LeadCase _case;
    private readonly Cell _cell;
    private readonly Money _tolerance;
    private readonly Explanation[] _candidates;
    private readonly int _facts;

    // Slips are sought again and again for the same rest, and again in every round.
    private readonly Dictionary<Money, ImmutableArray<Explanation>> _slips = [];
    private readonly Dictionary<Explanation, Explanation> _known = new(new SameOn());

    private double[] _odds = [];
    private double _total, _most;
    private Dictionary<Explanation, double> _weights = [];

    public CellWeighing(LeadCase @case, Cell cell, IEnumerable<Explanation> explanations)
    {
        (_case, _cell) = (@case, cell);
        _tolerance = @case.Day.Setup.ToleranceOf(cell.Key.Tender);
        _candidates =
        [
            .. explanations.Where(e => e.Touches(cell.Key))
                .OrderBy(e => e.On(cell.Key) == cell.Variance ? 0 : 1).ThenByDescending(e => e.Weight).ThenBy(e => e.Keys[0], StringComparer.Ordinal).Take(MostCandidates),
        ];
        _facts = _candidates.Count(c => c.IsFact);
    }

    /// <summary>The set that weighs most; together its parts explain the cell.</summary>
    public ImmutableArray<Explanation> Best { get; private set; } = [];

    /// <summary>What occurs in any set.</summary>
    public IEnumerable<Explanation> Explanations => _weights.Keys;

    /// <summary>The share of the sets, by weight, that have this one.</summary>
    public double Probability(Explanation e) => _weights.GetValueOrDefault(e) / _total;

    /// <summary>What this cell says for or against an explanation, whatever its own odds: how much the sets with it weigh against those without.</summary>
    public double Says(Explanation e, double odds)
    {
        var with = _weights.GetValueOrDefault(e);
        // What has happened somewhere may have happened here, and something else besides that nothing explains.
        var alone = e.HasHappenedSomewhere ? Odds.Unexplained : 0;
        return odds > 0 ? ((with / odds) + alone) / Math.Max(_total - with, Odds.Unexplained) : 0;
    }

    /// <param name="odds">Of each candidate, with what other cells say of it.</param>
    public void Weigh(Func<Explanation, double> odds)
    {
        _odds = [.. _candidates.Select(odds)];
        (_total, _most, _weights, Best) = (Odds.Unexplained, 0, [], []);
        Extend([], 0, _cell.Variance!.Value, 1);
    }

    private void Extend(List<Explanation> chosen, int from, Money left, double weight)
    {
        if (chosen.Count > 0 && left.Abs() <= _tolerance)
        {
            Count(chosen, weight * (left.IsZero ? Odds.Exact : Odds.WithinTolerance), null);
        }

        var few = from <= FewCandidates;
        if (!left.IsZero && _cell.Key.Tender == TenderId.Cash && (chosen.Count == 0 || left.Abs() > _tolerance) && (few || chosen.Count < 2))
        {
            foreach (var e in Slips(left))
            {
                if (!chosen.Any(e.Shares))
                {
                    Count(chosen, weight * e.Weight * (chosen.All(c => c.IsFact) ? 1 : Odds.SlipOnTop), e);
                }
            }
        }

        if (chosen.Count == LargestSet)
        {
            return;
        }

        for (var i = from; i < Math.Min(_candidates.Length, chosen.Count < LargestSet - 1 ? MostCandidates : FewCandidates); i++)
        {
            if (_odds[i] > 0 && !chosen.Any(_candidates[i].Shares))
            {
                chosen.Add(_candidates[i]);
                Extend(chosen, i + 1, left - _candidates[i].On(_cell.Key), weight * _odds[i]);
                chosen.RemoveAt(chosen.Count - 1);
            }
        }
    }

    private void Count(List<Explanation> chosen, double weight, Explanation? last)
    {
        weight *= Math.Pow(Odds.FactLeftOut, _facts - chosen.Count(c => c.IsFact));
        _total += weight;
        foreach (var e in chosen)
        {
            _weights[e] = _weights.GetValueOrDefault(e) + weight;
        }

        if (last is not null)
        {
            _weights[last] = _weights.GetValueOrDefault(last) + weight;
        }

        if (weight > _most)
        {
            (Best, _most) = ([.. last is null ? chosen : chosen.Append(last)], weight);
        }
    }

    private ImmutableArray<Explanation> Slips(Money left)
    {
        if (!_slips.TryGetValue(left, out var slips))
        {
            slips = _slips[left] = [.. _differences.SelectMany(d => d.Search(_case, _cell, left)).Select(Known)];
        }

        return slips;
    }

    /// <summary>The same explanation may stand among the candidates, or be found for more than one rest.</summary>
    private Explanation Known(Explanation e)
    {
        if (_known.Count == 0)
        {
            foreach (var candidate in _candidates)
            {
                _known.TryAdd(candidate, candidate);
            }
        }

        if (_known.TryGetValue(e, out var known))
        {
            return known;
        }

        return _known[e] = e;
    }

    private sealed class SameOn : IEqualityComparer<Explanation>
    {
        public bool Equals(Explanation? x, Explanation? y) => x!.Kind == y!.Kind && x.Keys.SequenceEqual(y.Keys) && x.Effects.SequenceEqual(y.Effects);

        public int GetHashCode(Explanation e) => HashCode.Combine(e.Kind, e.Keys[0], e.Effects[0].Amount);
    }
}
