namespace Fondo.Core.Leads;

/// <summary>The smallest set of amounts that adds up exactly (rules §6, <c>subset</c>).</summary>
/// <remarks>Meet in the middle: a set of up to six is two halves of up to three. Only halves are kept whose other half may exist, by a bit
/// for each sum;
/// these few are sorted and met. Time grows with the cube of the number of amounts.</remarks>
public static class SmallestSubset
{
    /// <summary>No set is larger than this.</summary>
    public const int Largest = 6;

    private const int PlaceBits = 10, None = (1 << PlaceBits) - 1;

    /// <summary>The places of the fewest amounts, two to <see cref="Largest"/>, whose sum is the target; of several such sets, the same
    /// each time. Null where there is none.</summary>
    /// <exception cref="ArgumentException">There are more than a thousand amounts.</exception>
    public static ImmutableArray<int>? Of(ReadOnlySpan<long> amounts, long target)
    {
        if (amounts.Length >= None)
        {
            throw new ArgumentException("Too many amounts.", nameof(amounts));
        }

        for (var size = 2; size <= Math.Min(Largest, amounts.Length); size++)
        {
            var (small, large) = (size / 2, size - (size / 2));
            var smallSums = new SumBits(amounts, small);
            var kept = Halves(amounts, large, smallSums, target);
            var largeSums = new SumBits(kept.Sums);
            if (Meet(Halves(amounts, small, largeSums, target), kept, target) is { } found)
            {
                return found;
            }
        }

        return null;
    }

    /// <summary>A bit for each sum that occurs; some bits stand for others as well.</summary>
    private readonly struct SumBits
    {
        private const int FewestBits = 10, MostBits = 24;

        private readonly ulong[] _bits;
        private readonly int _shift;

        public SumBits(ReadOnlySpan<long> amounts, int size)
            : this(Math.Pow(amounts.Length, size))
        {
            var (bits, shift) = (_bits, _shift);
            ForEach(amounts, size, (sum, _) => Set(bits, shift, sum));
        }

        public SumBits(long[] sums)
            : this(sums.Length)
        {
            foreach (var sum in sums)
            {
                Set(_bits, _shift, sum);
            }
        }

        /// <summary>About sixteen bits for each sum.</summary>
        private SumBits(double sums)
        {
            var bits = Math.Clamp((int)Math.Log2(sums + 1) + 4, FewestBits, MostBits);
            (_bits, _shift) = (new ulong[1 << (bits - 6)], 64 - bits);
        }

        public bool MayHold(long sum) => (_bits[Slot(sum, _shift) >> 6] >> (Slot(sum, _shift) & 63) & 1) != 0;

        private static void Set(ulong[] bits, int shift, long sum) => bits[Slot(sum, shift) >> 6] |= 1UL << (Slot(sum, shift) & 63);

        private static int Slot(long sum, int shift) => (int)((ulong)sum * 0x9E3779B97F4A7C15 >> shift);
    }

    private static (long[] Sums, int[] Places) Halves(ReadOnlySpan<long> amounts, int size, SumBits others, long target)
    {
        var (sums, places) = (new List<long>(), new List<int>());
        ForEach(amounts, size, (sum, at) =>
        {
            if (others.MayHold(target - sum))
            {
                sums.Add(sum);
                places.Add(at);
            }
        });
        var (keys, values) = (sums.ToArray(), places.ToArray());
        Array.Sort(keys, values);
        return (keys, values);
    }

    /// <summary>Every sum of so many amounts, one to three, with their places.</summary>
    private static void ForEach(ReadOnlySpan<long> amounts, int size, Action<long, int> take)
    {
        for (var a = 0; a < amounts.Length; a++)
        {
            if (size == 1)
            {
                take(amounts[a], a | (None << PlaceBits) | (None << (2 * PlaceBits)));
                continue;
            }

            for (var b = a + 1; b < amounts.Length; b++)
            {
                var two = amounts[a] + amounts[b];
                var places = a | (b << PlaceBits);
                if (size == 2)
                {
                    take(two, places | (None << (2 * PlaceBits)));
                    continue;
                }

                for (var c = b + 1; c < amounts.Length; c++)
                {
                    take(two + amounts[c], places | (c << (2 * PlaceBits)));
                }
            }
        }
    }

    private static ImmutableArray<int>? Meet((long[] Sums, int[] Places) small, (long[] Sums, int[] Places) large, long target)
    {
        var up = 0;
        for (var down = large.Sums.Length - 1; down >= 0; down--)
        {
            var lacks = target - large.Sums[down];
            while (up < small.Sums.Length && small.Sums[up] < lacks)
            {
                up++;
            }

            for (var i = up; i < small.Sums.Length && small.Sums[i] == lacks; i++)
            {
                if (Joined(small.Places[i], large.Places[down]) is { } set)
                {
                    return set;
                }
            }
        }

        return null;
    }

    /// <summary>The places of both halves; null where one is in both.</summary>
    private static ImmutableArray<int>? Joined(int first, int second)
    {
        Span<int> places = stackalloc int[Largest];
        var count = 0;
        foreach (var half in (ReadOnlySpan<int>)[first, second])
        {
            for (var part = 0; part < 3; part++)
            {
                var place = (half >> (part * PlaceBits)) & None;
                if (place == None)
                {
                    continue;
                }

                if (places[..count].Contains(place))
                {
                    return null;
                }

                places[count++] = place;
            }
        }

        places[..count].Sort();
        return [.. places[..count]];
    }
}
