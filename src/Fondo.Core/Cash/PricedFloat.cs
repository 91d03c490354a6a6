namespace Fondo.Core.Cash;

/// <summary>One float out of bounded pieces, where each piece has a price: as much of the target as can be made, then the least sum of
/// distances from the preferred pieces and of prices.
/// Exact, by dynamic programming over the worth; windows slide because each side of a distance is a straight line.</summary>
/// <param name="worths">Of one piece, in steps of the target; fastest where the largest come first.</param>
/// <param name="preferred">Pieces that a float should have.</param>
internal sealed class PricedFloat(int[] worths, int[] preferred, int target)
{
    private const long Never = long.MaxValue / 4;

    public int Target => target;

    /// <summary>By kind: every worth that the kinds up to it can make is a multiple of this.</summary>
    private readonly int[] _grid = [.. worths.Select((_, k) => worths.Take(k + 1).Aggregate(GreatestCommonDivisor))];
    private readonly int[][] _taken = [.. worths.Select(_ => new int[target + 1])];
    private readonly int[] _at = new int[target + 2];
    private readonly long[] _value = new long[target + 2];
    private long[] _best = new long[target + 1], _next = new long[target + 1];

    /// <param name="most">Pieces that there are, by kind.</param>
    /// <param name="distance">What one piece more or fewer than preferred costs.</param>
    /// <param name="prices">What a piece costs besides, by kind.</param>
    /// <param name="missing">What one step of the target that cannot be made costs.</param>
    /// <returns>Pieces by kind, and what they cost.</returns>
    public (int[] Pieces, long Cost) Solve(int[] most, long distance, long[] prices, long missing)
    {
        Array.Fill(_best, Never);
        _best[0] = 0;
        for (var kind = 0; kind < worths.Length; kind++)
        {
            Add(kind, Math.Min(most[kind], target / worths[kind]), distance, prices[kind]);
            (_best, _next) = (_next, _best);
        }

        var (worth, cost) = (0, Never);
        for (var w = target; w >= 0; w--)
        {
            if (_best[w] < Never && _best[w] + (missing * (target - w)) < cost)
            {
                (worth, cost) = (w, _best[w] + (missing * (target - w)));
            }
        }

        var pieces = new int[worths.Length];
        for (var kind = worths.Length - 1; kind >= 0; kind--)
        {
            pieces[kind] = _taken[kind][worth];
            worth -= pieces[kind] * worths[kind];
        }

        return (pieces, cost);
    }

    private void Add(int kind, int most, long distance, long price)
    {
        var (step, wish, taken) = (worths[kind], preferred[kind], _taken[kind]);
        Array.Fill(_next, Never);
        // Up to the preferred number each piece brings it nearer; beyond it, each takes it farther away.
        Slide(0, Math.Min(most, wish), price - distance, distance * wish);
        Slide(wish + 1, most, price + distance, -distance * wish);

        void Slide(int fewest, int atMost, long slope, long begin)
        {
            if (fewest > atMost)
            {
                return;
            }

            for (var first = 0; first < Math.Min(step, target + 1); first += _grid[kind])
            {
                var (from, to) = (0, 0);
                for (int i = 0, worth = first; worth <= target; i++, worth += step)
                {
                    if (i - fewest >= 0 && _best[first + ((i - fewest) * step)] is var before && before < Never)
                    {
                        var value = before - (slope * (i - fewest));
                        while (to > from && _value[to - 1] >= value)
                        {
                            to--;
                        }

                        (_at[to], _value[to++]) = (i - fewest, value);
                    }

                    while (from < to && _at[from] < i - atMost)
                    {
                        from++;
                    }

                    if (from < to && _value[from] + (slope * i) + begin is var cost && cost < _next[worth])
                    {
                        (_next[worth], taken[worth]) = (cost, i - _at[from]);
                    }
                }
            }
        }
    }

    private static int GreatestCommonDivisor(int a, int b) => b == 0 ? a : GreatestCommonDivisor(b, a % b);
}
