using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Leads;

/// <summary>All sets of explanations that add up to the variance of one counted cell, weighed against each other and against "nothing
/// explains it".</summary>
internal sealed class CellWeighing
{
    private const int LargestSet = 3;

    private readonly LeadCase _case;
    private readonly Cell _cell;
    private readonly Money _variance, _tolerance;
    private readonly Explanation[] _candidates;
    private readonly Money[] _on;
    private readonly bool[] _shares;
    private readonly int _facts, _few;
    private readonly bool _isCash;

    // What explains a rest is sought once for each rest, and found again in every round. A slip is known by its place in the list.
    private readonly Dictionary<(Money, bool), int[]> _slips = [];
    private readonly List<Explanation> _slipList = [];

    private readonly int[] _chosen = new int[LargestSet];
    private double[] _odds = [];
    private readonly double[] _weights;
    private readonly List<double> _slipWeights = [];
    private double _total, _most;
    private (int[] Chosen, int Slip) _best = ([], -1);

    /// <param name="touching">What may have happened to this cell.</param>
    /// <param name="most">So many of them are put together in twos; of the first fifth also in threes, and slips on top of two.</param>
    public CellWeighing(LeadCase @case, Cell cell, IEnumerable<Explanation> touching, int most)
    {
        (_case, _cell, _variance) = (@case, cell, cell.Variance!.Value);
        (_tolerance, _isCash, _few) =
            (@case.Day.Setup.ToleranceOf(cell.Key), cell.Key.OfTender == TenderId.Cash, Math.Max(most / 5, 8));
        var sorted = touching.OrderBy(e => e.On(cell.Key) == _variance ? 0 : 1).ThenByDescending(e => e.Weight)
            .ThenBy(e => e.Keys[0], StringComparer.Ordinal).ToArray();
        _candidates = sorted.Length > most ? sorted[..most] : sorted;
        @case.StoppedEarly |= sorted.Length > most;
        _on = Array.ConvertAll(_candidates, e => e.On(cell.Key));
        _facts = _candidates.Count(c => c.IsFact);
        _weights = new double[_candidates.Length];
        _shares = new bool[_candidates.Length * _candidates.Length];
        for (var i = 0; i < _candidates.Length; i++)
        {
            for (var j = 0; j < i; j++)
            {
                _shares[(i * _candidates.Length) + j] = _shares[(j * _candidates.Length) + i] = _candidates[i].Shares(_candidates[j]);
            }
        }
    }

    public CellKey Key => _cell.Key;

    /// <summary>What is weighed here, the most likely beforehand first.</summary>
    public IReadOnlyList<Explanation> Candidates => _candidates;

    /// <summary>The set that weighs most; together its parts explain the cell.</summary>
    public IEnumerable<Explanation> Best => _best.Chosen.Select(i => _candidates[i]).Concat(_best.Slip < 0 ? [] : [_slipList[_best.Slip]]);

    /// <summary>What occurs in any set, and the share of the sets, by weight, that have it.</summary>
    public IEnumerable<(Explanation Explanation, double Probability)> Weighed =>
        _candidates.Select((e, i) => (e, _weights[i] / _total)).Concat(_slipList.Select((e, i) => (e, _slipWeights[i] / _total)))
            .Where(w => w.Item2 > 0);

    public double Probability(int candidate) => _weights[candidate] / _total;

    /// <summary>What this cell says for or against a candidate, whatever its own odds: how much the sets with it weigh against those
    /// without.</summary>
    public double Says(int candidate)
    {
        var (with, odds) = (_weights[candidate], _odds[candidate]);
        // What has happened somewhere may have happened here, and something else besides that nothing explains.
        var alone = _candidates[candidate].HasHappenedSomewhere ? Odds.Unexplained : 0;
        return odds > 0 ? ((with / odds) + alone) / Math.Max(_total - with, Odds.Unexplained) : 0;
    }

    /// <param name="odds">Of each candidate, with what other cells say of it.</param>
    public void Weigh(double[] odds)
    {
        _odds = odds;
        (_total, _most, _best) = (Odds.Unexplained, 0, ([], -1));
        Array.Clear(_weights);
        for (var i = 0; i < _slipWeights.Count; i++)
        {
            _slipWeights[i] = 0;
        }

        Extend(0, 0, _variance, 1, 0);
    }

    private void Extend(int count, int from, Money left, double weight, int facts)
    {
        if (count > 0 && left.Abs() <= _tolerance)
        {
            Count(count, weight * (left.IsZero ? Odds.Exact : Odds.WithinTolerance), facts, -1);
        }

        if (!left.IsZero && _isCash && (count == 0 || left.Abs() > _tolerance) && (count < 2 || from <= _few))
        {
            foreach (var slip in Slips(left, count == facts))
            {
                if (!IsShared(_slipList[slip], count))
                {
                    Count(count, weight * _slipList[slip].Weight * (count == facts ? 1 : Odds.SlipOnTop), facts, slip);
                }
            }
        }

        if (count == LargestSet)
        {
            return;
        }

        var end = count < LargestSet - 1 ? _candidates.Length : Math.Min(_candidates.Length, _few);
        for (var i = from; i < end; i++)
        {
            if (_odds[i] > 0 && !IsShared(i, count))
            {
                _chosen[count] = i;
                Extend(count + 1, i + 1, left - _on[i], weight * _odds[i], facts + (_candidates[i].IsFact ? 1 : 0));
            }
        }
    }

    private bool IsShared(int candidate, int count)
    {
        for (var i = 0; i < count; i++)
        {
            if (_shares[(candidate * _candidates.Length) + _chosen[i]])
            {
                return true;
            }
        }

        return false;
    }

    private bool IsShared(Explanation slip, int count)
    {
        for (var i = 0; i < count; i++)
        {
            if (slip.Shares(_candidates[_chosen[i]]))
            {
                return true;
            }
        }

        return false;
    }

    private void Count(int count, double weight, int facts, int slip)
    {
        weight *= Math.Pow(Odds.FactLeftOut, _facts - facts);
        _total += weight;
        for (var i = 0; i < count; i++)
        {
            _weights[_chosen[i]] += weight;
        }

        if (slip >= 0)
        {
            _slipWeights[slip] += weight;
        }

        if (weight > _most)
        {
            (_best, _most) = ((_chosen[..count], slip), weight);
        }
    }

    /// <param name="isWhole">Whether only what is known to have happened was taken off the difference.</param>
    private int[] Slips(Money left, bool isWhole)
    {
        if (!_slips.TryGetValue((left, isWhole), out var slips))
        {
            _slips[(left, isWhole)] = slips = [.. LeadFinder.Searches.Where(s => isWhole || s.LooksAtRests)
                .SelectMany(s => s.SearchFor(_case, _cell, left)).Select(Known).Where(i => i >= 0).Distinct()];
        }

        return slips;
    }

    /// <summary>The same explanation may be found for more than one rest. One that stands among the candidates is weighed there;
    /// −1.</summary>
    private int Known(Explanation e)
    {
        var known = _slipList.FindIndex(s => s.IsLike(e));
        if (known >= 0 || _candidates.Any(c => c.IsLike(e)))
        {
            return known;
        }

        _slipList.Add(e);
        _slipWeights.Add(0);
        return _slipList.Count - 1;
    }
}
