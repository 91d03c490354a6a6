namespace Fondo.Core.Matching;

/// <summary>Pairs two sets of items any of which could belong together: as many as possible within the window, then with the least
/// distance in sum, then the lowest keys. Exact.</summary>
/// <remarks>On a line of time two crossing pairs can always be uncrossed without loss, so it is enough to look at pairings that keep the
/// order: dynamic programming over the items within reach of each other. Time and memory grow with the number of pairs within the
/// window, two bits a pair; <see cref="MostCells"/> bounds them.</remarks>
internal static class TimeLine
{
    /// <summary>Above so many pairs within the window, the line is cut in the middle and each half is paired on its own.</summary>
    internal const long MostCells = 1L << 30;

    private const int SkipRow = 0, SkipJournal = 1, Pair = 2;

    /// <summary>The pairs. The lists need not be sorted.</summary>
    public static void Pairs(Item[] journal, Item[] rows, TimeSpan? window, List<(Item Journal, Item Row)> into)
    {
        if (journal.Length == 1 && rows.Length == 1)
        {
            if (window is null || (journal[0].At - rows[0].At).Duration() <= window)
            {
                into.Add((journal[0], rows[0]));
            }

            return;
        }

        Array.Sort(journal, ByTime);
        Array.Sort(rows, ByTime);
        Sorted(journal, rows, (window ?? TimeSpan.MaxValue).Ticks, into);
    }

    private static int ByTime(Item a, Item b) => a.At.UtcTicks.CompareTo(b.At.UtcTicks) is var t and not 0 ? t : a.Rank.CompareTo(b.Rank);

    private static void Sorted(ReadOnlySpan<Item> journal, ReadOnlySpan<Item> rows, long window, List<(Item, Item)> into)
    {
        var reach = new Reach(journal, rows, window);
        if (reach.Cells > MostCells)
        {
            var middle = journal.Length / 2;
            var at = journal[middle].At.UtcTicks;
            var cut = 0;
            while (cut < rows.Length && rows[cut].At.UtcTicks < at)
            {
                cut++;
            }

            Sorted(journal[..middle], rows[..cut], window, into);
            Sorted(journal[middle..], rows[cut..], window, into);
        }
        else if (reach.Cells > 0)
        {
            Choose(journal, rows, reach, into);
        }
    }

    /// <summary>Which rows each tender can reach: from <see cref="From"/> to before <see cref="To"/>; both grow along the line.</summary>
    private readonly ref struct Reach
    {
        public readonly int[] From, To;
        public readonly long[] Offset;
        public readonly long Cells;

        public Reach(ReadOnlySpan<Item> journal, ReadOnlySpan<Item> rows, long window)
        {
            (From, To, Offset) = (new int[journal.Length], new int[journal.Length], new long[journal.Length]);
            var (from, to) = (0, 0);
            for (var i = 0; i < journal.Length; i++)
            {
                var at = journal[i].At.UtcTicks;
                while (from < rows.Length && at - rows[from].At.UtcTicks > window)
                {
                    from++;
                }

                to = Math.Max(to, from);
                while (to < rows.Length && rows[to].At.UtcTicks - at <= window)
                {
                    to++;
                }

                (From[i], To[i], Offset[i]) = (from, to, Cells);
                Cells += to - from;
            }
        }
    }

    private static void Choose(ReadOnlySpan<Item> journal, ReadOnlySpan<Item> rows, Reach reach, List<(Item, Item)> into)
    {
        // After i tenders: pairs[j] and cost[j] are the best for the first j rows; beyond `filled` all is as at `filled`.
        var pairs = new int[rows.Length + 1];
        var cost = new long[rows.Length + 1];
        var steps = new byte[(reach.Cells / 4) + 1];
        var filled = 0;
        for (var i = 0; i < journal.Length; i++)
        {
            var (from, to) = (reach.From[i], reach.To[i]);
            for (; filled < to; filled++)
            {
                (pairs[filled + 1], cost[filled + 1]) = (pairs[filled], cost[filled]);
            }

            var at = journal[i].At.UtcTicks;
            var (beforePairs, beforeCost) = (pairs[from], cost[from]);
            for (var j = from + 1; j <= to; j++)
            {
                var step = SkipRow;
                var (bestPairs, bestCost) = (pairs[j - 1], cost[j - 1]);
                if (pairs[j] > bestPairs || (pairs[j] == bestPairs && cost[j] < bestCost))
                {
                    (step, bestPairs, bestCost) = (SkipJournal, pairs[j], cost[j]);
                }

                var paired = beforeCost + Math.Abs(at - rows[j - 1].At.UtcTicks);
                if (beforePairs + 1 > bestPairs || (beforePairs + 1 == bestPairs && paired < bestCost))
                {
                    (step, bestPairs, bestCost) = (Pair, beforePairs + 1, paired);
                }

                (beforePairs, beforeCost) = (pairs[j], cost[j]);
                (pairs[j], cost[j]) = (bestPairs, bestCost);
                var cell = reach.Offset[i] + j - from - 1;
                steps[cell >> 2] |= (byte)(step << (int)((cell & 3) * 2));
            }
        }

        var row = filled;
        for (var i = journal.Length - 1; i >= 0; i--)
        {
            row = Math.Min(row, reach.To[i]);
            while (row > reach.From[i])
            {
                var cell = reach.Offset[i] + row - reach.From[i] - 1;
                var step = (steps[cell >> 2] >> (int)((cell & 3) * 2)) & 3;
                if (step == SkipJournal)
                {
                    break;
                }

                row--;
                if (step == Pair)
                {
                    into.Add((journal[i], rows[row]));
                    break;
                }
            }
        }
    }
}
