using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Cash;

/// <summary>The float of one register.</summary>
/// <param name="Pieces">Largest first.</param>
public sealed record PlannedFloat(RegisterId Register, Money Target, ImmutableArray<Pieces> Pieces)
{
    public Money Worth => Pieces.Sum(p => p.Worth);
}

/// <summary>The floats of all registers out of what there is (rules §9): together as near to what they should be worth as can be, then as
/// near as can be to the preferred pieces.</summary>
/// <param name="IsProved">Whether nothing better exists; else the best that was found, and none is better by more than
/// <paramref name="Slack"/> pieces.</param>
public sealed record FloatPlan(ImmutableArray<PlannedFloat> Floats, int Distance, bool IsProved, int Slack);

/// <summary>Makes the floats of all registers at once. Pieces that are scarce get a price; at the right prices each register by itself
/// takes what is best for all (Lagrange),
/// which also bounds how good any solution can be. Where the bound meets what was found, nothing better exists.</summary>
public static class FloatsTogether
{
    /// <summary>Prices are whole numbers of this part of a piece.</summary>
    private const long Fine = 256;

    private const int Rounds = 120, Tries = 120, Patience = 36;

    private sealed record Problem(int[] Worths, int[] Preferred, int[] Available, PricedFloat[] Registers, long Missing);

    /// <param name="there">What there is.</param>
    /// <param name="targets">What each float should be worth.</param>
    public static FloatPlan Of(ImmutableArray<Pieces> there, ImmutableArray<(RegisterId Register, Money Float)> targets,
        ImmutableArray<Denomination> denominations)
    {
        var kinds = there.Where(p => p.Number > 0 && p.Denomination.Sign > 0).GroupBy(p => p.Denomination)
            .Select(g => new Pieces(g.Key, g.Sum(p => p.Number))).OrderByDescending(p => p.Denomination).ToList();
        var unit = kinds.Select(k => k.Denomination.Minor).Aggregate(0L, GreatestCommonDivisor);
        var wished = denominations.Where(d => d.Kept > 0 && kinds.All(k => k.Denomination != d.Worth)).Sum(d => d.Kept) * targets.Length;
        if (unit == 0 || targets.IsEmpty)
        {
            return new([.. targets.Select(t => new PlannedFloat(t.Register, t.Float, []))], wished, true, 0);
        }

        int[] preferred = [.. kinds.Select(k => denominations.FirstOrDefault(d => d.Worth == k.Denomination)?.Kept ?? 0)];
        int[] worths = [.. kinds.Select(k => (int)(k.Denomination.Minor / unit))], available = [.. kinds.Select(k => k.Number)];
        int[] steps = [.. targets.Select(t => (int)Math.Clamp(t.Float.Minor / unit, 0, 5_000_000))];
        // Registers with one target share one problem.
        var solvers = steps.Distinct().ToDictionary(s => s, s => new PricedFloat(worths, preferred, s));
        var most = (preferred.Sum() + available.Sum() + 1L) * targets.Length;
        var problem = new Problem(worths, preferred, available, [.. steps.Select(s => solvers[s])], (most + 1) * Fine);
        var (best, cost, bound) = Search(problem);

        var missing = steps.Select((s, r) => s - best[r].Select((n, k) => n * worths[k]).Sum()).Sum();
        var distance = best.Sum(taken => taken.Select((n, k) => Math.Abs(n - preferred[k])).Sum());
        var slack = (int)Math.Max(0, Math.Ceiling((cost - bound) / (double)Fine - 1e-9) - 1);
        return new(
            [.. targets.Select((t, r) => new PlannedFloat(t.Register, t.Float,
                [.. best[r].Select((n, k) => new Pieces(kinds[k].Denomination, n)).Where(p => p.Number > 0)]))],
            distance + wished, slack == 0, missing > 0 ? Math.Min(slack, distance) : slack);
    }

    private static (int[][] Best, long Cost, long Bound) Search(Problem problem)
    {
        var kinds = problem.Worths.Length;
        var (prices, best, cost, bound) = (new double[kinds], Array.Empty<int[]>(), long.MaxValue, long.MinValue);
        var (pace, since) = (1.6, 0);
        var (bestPrices, better) = (new long[kinds], 0);
        for (var round = 0; round < Rounds; round++)
        {
            long[] whole = [.. prices.Select(p => (long)Math.Round(p))];
            var (taken, sum) = Relaxed(problem, whole);
            var low = sum - whole.Select((p, k) => p * problem.Available[k]).Sum();
            (bound, since, better) = low > bound ? (low, 0, low > bound + 8 ? round : better) : (bound, since + 1, better);
            int[] used = [.. Enumerable.Range(0, kinds).Select(k => taken.Sum(t => t[k]))];
            if (round % 4 == 0 || round < 8)
            {
                var (found, itsCost) = Improved(problem, InTurn(problem, whole));
                (best, cost, bestPrices, better) = itsCost < cost ? (found, itsCost, whole, round) : (best, cost, bestPrices, better);
            }

            // Costs are whole pieces: a bound less than a piece below is reached.
            if (cost - bound < Fine || round - better > Patience)
            {
                break;
            }

            var excess = used.Select((u, k) => (double)(u - problem.Available[k])).ToArray();
            var length = excess.Select((e, k) => e < 0 && prices[k] <= 0 ? 0 : e * e).Sum();
            if (length == 0)
            {
                break;
            }

            if (since > 8)
            {
                (pace, since) = (pace / 1.7, 0);
            }

            var step = pace * Math.Max(Fine / 4.0, Math.Min(cost - low, problem.Missing * 4.0)) / length;
            for (var k = 0; k < kinds; k++)
            {
                prices[k] = Math.Clamp(prices[k] + (step * excess[k]), 0, problem.Missing * (double)problem.Worths[k] * 2);
            }
        }

        // What a price decides for two registers alike, they may still share better between them.
        var drawn = 1u;
        for (var (tries, last) = (0, 0); tries < Tries && tries - last <= Patience && cost - bound >= Fine && best.Length > 1; tries++)
        {
            var (found, itsCost) = Shared(problem, best, bestPrices, ref drawn);
            (best, cost, last) = itsCost <= cost ? (found, itsCost, itsCost < cost ? tries : last) : (best, cost, last);
        }

        return (best, cost, bound);
    }

    /// <summary>Two registers again out of what both have and nobody has, the first one at prices a little off.</summary>
    private static (int[][] Taken, long Cost) Shared(Problem problem, int[][] taken, long[] prices, ref uint drawn)
    {
        var one = Draw(ref drawn, taken.Length);
        var other = (one + 1 + Draw(ref drawn, taken.Length - 1)) % taken.Length;
        int[] left = [.. problem.Available.Select((a, k) => a - taken.Where((_, r) => r != one && r != other).Sum(t => t[k]))];
        long[] off = [.. prices];
        for (var k = 0; k < off.Length; k++)
        {
            off[k] = Math.Max(0, off[k] + Draw(ref drawn, (int)Fine * 2) - Fine);
        }

        var again = taken.ToArray();
        again[one] = problem.Registers[one].Solve(left, Fine, off, problem.Missing).Pieces;
        again[other] = problem.Registers[other].Solve([.. left.Select((l, k) => l - again[one][k])], Fine, new long[left.Length],
            problem.Missing).Pieces;
        return (again, again.Select((t, r) => CostOf(problem, r, t)).Sum());
    }

    /// <summary>The next number of a fixed sequence, below a limit: the same each time.</summary>
    private static int Draw(ref uint drawn, int below)
    {
        drawn = (drawn * 1_664_525) + 1_013_904_223;
        return (int)((drawn >> 8) % (uint)below);
    }

    /// <summary>Each register by itself, as if the prices were all that holds it back.</summary>
    private static (int[][] Taken, long Cost) Relaxed(Problem problem, long[] prices)
    {
        var known = new Dictionary<PricedFloat, (int[] Pieces, long Cost)>();
        var (taken, sum) = (new int[problem.Registers.Length][], 0L);
        for (var r = 0; r < taken.Length; r++)
        {
            if (!known.TryGetValue(problem.Registers[r], out var own))
            {
                own = known[problem.Registers[r]] = problem.Registers[r].Solve(problem.Available, Fine, prices, problem.Missing);
            }

            (taken[r], sum) = (own.Pieces, sum + own.Cost);
        }

        return (taken, sum);
    }

    /// <summary>One register after the other out of what is left.</summary>
    private static int[][] InTurn(Problem problem, long[] prices)
    {
        int[] left = [.. problem.Available];
        var taken = new int[problem.Registers.Length][];
        for (var r = 0; r < taken.Length; r++)
        {
            // So much of each is this one's share; what is scarce beyond it costs its price.
            taken[r] = problem.Registers[r].Solve(left, Fine, prices, problem.Missing).Pieces;
            for (var k = 0; k < left.Length; k++)
            {
                left[k] -= taken[r][k];
            }
        }

        return taken;
    }

    /// <summary>Each register again out of its own pieces and what nobody has, until none gets better.</summary>
    private static (int[][] Taken, long Cost) Improved(Problem problem, int[][] taken)
    {
        var free = new long[problem.Worths.Length];
        int[] left = [.. problem.Available.Select((a, k) => a - taken.Sum(t => t[k]))];
        // By register: how many changes it knew when it was last looked at. Without another one since, it finds nothing new.
        var (known, changes) = (new int[taken.Length], 0);
        Array.Fill(known, -1);
        for (var (isBetter, turns) = (true, 0); isBetter && turns < 4; turns++)
        {
            isBetter = false;
            for (var r = 0; r < taken.Length; r++)
            {
                if (known[r] == changes)
                {
                    continue;
                }

                var before = CostOf(problem, r, taken[r]);
                var (again, cost) = problem.Registers[r].Solve([.. left.Select((l, k) => l + taken[r][k])], Fine, free, problem.Missing);
                if (cost < before)
                {
                    left = [.. left.Select((l, k) => l + taken[r][k] - again[k])];
                    (taken[r], isBetter, changes) = (again, true, changes + 1);
                }

                known[r] = changes;
            }
        }

        return (taken, taken.Select((t, r) => CostOf(problem, r, t)).Sum());
    }

    private static long CostOf(Problem problem, int register, int[] taken) =>
        (problem.Missing * (problem.Registers[register].Target - taken.Select((n, k) => n * problem.Worths[k]).Sum()))
            + (Fine * taken.Select((n, k) => (long)Math.Abs(n - problem.Preferred[k])).Sum());

    private static long GreatestCommonDivisor(long a, long b) => b == 0 ? a : GreatestCommonDivisor(b, a % b);
}
