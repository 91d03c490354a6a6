using System.Runtime.InteropServices;
using Fondo.Core.Proof;

namespace Fondo.Core.Cash;

/// <summary>Chooses what stays in a drawer for the next day (rules §9): pieces worth exactly the float, or the nearest below it; then as
/// near as possible to the
/// pieces that a float should have; never more than was counted. Exact: the bounded integer problem is solved by dynamic programming over
/// the worth.</summary>
public static class FloatToKeep
{
    private const int Unreachable = int.MaxValue / 2;

    /// <param name="counted">What lies in the drawer.</param>
    /// <param name="float">What should stay.</param>
    /// <returns>What stays, largest first; kinds of which nothing stays are left out.</returns>
    public static ImmutableArray<Pieces> Choose(ImmutableArray<Pieces> counted, Money @float, ImmutableArray<Denomination> denominations)
    {
        var kinds = counted.Where(p => p.Number > 0).GroupBy(p => p.Denomination).Select(g => new Pieces(g.Key, g.Sum(p => p.Number)))
            .OrderByDescending(p => p.Denomination).ToList();
        var worths = CollectionsMarshal.AsSpan(kinds.ConvertAll(k => k.Denomination.Minor));
        var unit = GreatestCommonDivisor(worths);
        if (unit == 0 || @float.Sign <= 0)
        {
            return [];
        }

        var most = (int)Math.Min(@float.Minor / unit, kinds.Sum(k => k.Worth.Minor) / unit);
        // How far the best choice for each worth is from the pieces that a float should have.
        var best = new int[most + 1];
        Array.Fill(best, Unreachable, 1, most);
        var taken = new List<int[]>(kinds.Count);
        foreach (var kind in kinds)
        {
            var preferred = denominations.FirstOrDefault(d => d.Worth == kind.Denomination)?.Kept ?? 0;
            taken.Add(Add(ref best, (int)Math.Min(kind.Denomination.Minor / unit, most + 1), kind.Number, preferred));
        }

        var worth = Array.FindLastIndex(best, d => d < Unreachable);
        var kept = ImmutableArray.CreateBuilder<Pieces>();
        for (var i = kinds.Count - 1; i >= 0; i--)
        {
            var number = taken[i][worth];
            worth -= number * (int)(kinds[i].Denomination.Minor / unit);
            if (number > 0)
            {
                kept.Add(new(kinds[i].Denomination, number));
            }
        }

        kept.Reverse();
        return kept.ToImmutable();
    }

    /// <summary>Offers one more kind of piece: for each worth, how many of it are best.</summary>
    private static int[] Add(ref int[] best, int step, int available, int preferred)
    {
        var (next, numbers) = (new int[best.Length], new int[best.Length]);
        Array.Fill(next, Unreachable);
        // Worths that differ by whole pieces form a row of their own. Below and above the preferred number the distance is a straight line,
        // so that the least of each side is the least of a window that slides along the row.
        var (below, above) = (new SlidingLeast(best.Length / step + 2), new SlidingLeast(best.Length / step + 2));
        for (var first = 0; first < Math.Min(step, best.Length); first++)
        {
            below.Clear();
            above.Clear();
            for (int i = 0, worth = first; worth < best.Length; i++, worth += step)
            {
                // From row i - k one takes k pieces: at most as many as preferred…
                below.Push(i, best[worth] + i);
                below.DropBefore(i - Math.Min(available, preferred));
                // …or more of them.
                if (i - preferred - 1 >= 0)
                {
                    above.Push(i - preferred - 1, best[worth - ((preferred + 1) * step)] - (i - preferred - 1));
                }

                above.DropBefore(i - available);
                var few = below.IsEmpty ? Unreachable : below.Least + preferred - i;
                var many = above.IsEmpty ? Unreachable : above.Least + i - preferred;
                if (Math.Min(few, many) is var least && least < Unreachable / 2)
                {
                    (next[worth], numbers[worth]) = (least, i - (few <= many ? below.At : above.At));
                }
            }
        }

        best = next;
        return numbers;
    }

    private static long GreatestCommonDivisor(ReadOnlySpan<long> numbers)
    {
        long divisor = 0;
        foreach (var number in numbers)
        {
            for (var (a, b) = (divisor, number); ;)
            {
                if (b == 0)
                {
                    divisor = a;
                    break;
                }

                (a, b) = (b, a % b);
            }
        }

        return divisor;
    }

    /// <summary>The least of the last few values of a row.</summary>
    private sealed class SlidingLeast(int capacity)
    {
        private readonly (int At, int Value)[] _candidates = new (int, int)[capacity];
        private int _from, _to;

        public bool IsEmpty => _from == _to;

        public int Least => _candidates[_from].Value;

        public int At => _candidates[_from].At;

        public void Clear() => (_from, _to) = (0, 0);

        public void Push(int at, int value)
        {
            while (_to > _from && _candidates[_to - 1].Value >= value)
            {
                _to--;
            }

            _candidates[_to++] = (at, value);
        }

        public void DropBefore(int at)
        {
            while (_from < _to && _candidates[_from].At < at)
            {
                _from++;
            }
        }
    }
}
