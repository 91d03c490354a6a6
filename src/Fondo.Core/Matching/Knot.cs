namespace Fondo.Core.Matching;

/// <summary>Tenders and rows that agree alike and compete for each other: paired best as a whole.</summary>
internal static class Knot
{
    /// <summary>So many possible pairs are looked at; and so much work is done on what hangs together, pairs times candidates. Above
    /// either, each tender takes
    /// the nearest row that is left.</summary>
    internal const long MostLooks = 1_000_000, MostWork = 4_000_000;

    // So many rows are looked at for one tender, where a knot is not solved as a whole.
    private const int MostNear = 500;

    public static void Pair(Agreement agreement, TimeSpan? window, Item[] journal, Item[] rows, List<(Item Journal, Item Row)> into)
    {
        // Where time alone decides, a long knot is paired along the line of time.
        if ((long)journal.Length * rows.Length > Assignment.MostWeighedForNumbers && agreement.AllowsAll(journal, rows))
        {
            TimeLine.Pairs(journal, rows, window, into);
            return;
        }

        Array.Sort(journal, ByRank);
        Array.Sort(rows, ByRank);
        var within = (window ?? TimeSpan.MaxValue).Ticks;
        if (Candidates(agreement, within, journal, rows) is not { } candidates)
        {
            Nearest(agreement, within, journal, rows, into);
            return;
        }

        foreach (var part in Parts(candidates, journal.Length))
        {
            var (lefts, rights) = (Numbered(part.Select(c => c.Left)), Numbered(part.Select(c => c.Right)));
            if ((long)part.Count * Math.Min(lefts.Length, rights.Length) > MostWork)
            {
                Nearest(agreement, within, [.. lefts.Select(i => journal[i])], [.. rights.Select(i => rows[i])], into);
                continue;
            }

            var renumbered =
                part.ConvertAll(c => new Candidate(Array.BinarySearch(lefts, c.Left), Array.BinarySearch(rights, c.Right), c.Distance));
            foreach (var (left, right, _) in Assignment.Lowest(lefts.Length, rights.Length, renumbered))
            {
                into.Add((journal[lefts[left]], rows[rights[right]]));
            }
        }
    }

    private static int ByRank(Item a, Item b) => a.Rank.CompareTo(b.Rank);

    private static int[] Numbered(IEnumerable<int> numbers) => [.. numbers.Distinct().Order()];

    private static List<Candidate>? Candidates(Agreement agreement, long window, Item[] journal, Item[] rows)
    {
        var byTime = Enumerable.Range(0, rows.Length).OrderBy(i => rows[i].At.UtcTicks).ToArray();
        var times = byTime.Select(i => rows[i].At.UtcTicks).ToArray();
        var candidates = new List<Candidate>();
        long looked = 0;
        for (var i = 0; i < journal.Length; i++)
        {
            var at = journal[i].At.UtcTicks;
            for (var n = FirstWithin(times, at, window); n < times.Length && times[n] - at <= window; n++)
            {
                if (++looked > MostLooks)
                {
                    return null;
                }

                if (agreement.Allows(journal[i], rows[byTime[n]]))
                {
                    candidates.Add(new(i, byTime[n], Math.Abs(at - times[n])));
                }
            }
        }

        return candidates;
    }

    /// <summary>The candidates apart, as far as they share neither a tender nor a row, however far round.</summary>
    private static IEnumerable<List<Candidate>> Parts(List<Candidate> candidates, int lefts)
    {
        var parent = new Dictionary<int, int>();
        foreach (var c in candidates)
        {
            parent[Root(c.Left)] = Root(lefts + c.Right);
        }

        return candidates.GroupBy(c => Root(c.Left)).Select(g => g.ToList());

        int Root(int node)
        {
            while (parent.TryGetValue(node, out var up) && up != node)
            {
                node = parent.TryGetValue(up, out var further) ? parent[node] = further : up;
            }

            return node;
        }
    }

    private static void Nearest(Agreement agreement, long window, Item[] journal, Item[] rows, List<(Item, Item)> into)
    {
        var sorted = rows.OrderBy(r => r.At.UtcTicks).ThenBy(r => r.Rank).ToArray();
        var times = Array.ConvertAll(sorted, r => r.At.UtcTicks);
        // For each row, the next one up and down that may still be free.
        var (up, down) = (new int[sorted.Length + 1], new int[sorted.Length + 1]);
        for (var i = 0; i <= sorted.Length; i++)
        {
            (up[i], down[i]) = (i, i);
        }

        foreach (var tender in journal.OrderBy(j => j.At.UtcTicks).ThenBy(j => j.Rank))
        {
            var at = tender.At.UtcTicks;
            var middle = FirstWithin(times, at, 0);
            // Places are one higher downwards, so that 0 is before the first.
            var (above, below) = (Free(up, middle), Free(down, middle));
            for (var looked = 0; looked < MostNear; looked++)
            {
                var (toAbove, toBelow) =
                    (above < sorted.Length ? times[above] - at : long.MaxValue, below > 0 ? at - times[below - 1] : long.MaxValue);
                if (Math.Min(toAbove, toBelow) > window)
                {
                    break;
                }

                var place = toBelow <= toAbove ? below - 1 : above;
                if (agreement.Allows(tender, sorted[place]))
                {
                    into.Add((tender, sorted[place]));
                    (up[place], down[place + 1]) = (place + 1, place);
                    break;
                }

                (above, below) = toBelow <= toAbove ? (above, Free(down, below - 1)) : (Free(up, above + 1), below);
            }
        }
    }

    /// <summary>The first place from here that is free; paths are shortened on the way.</summary>
    private static int Free(int[] next, int from)
    {
        var end = from;
        while (next[end] != end)
        {
            end = next[end];
        }

        while (next[from] != from)
        {
            (next[from], from) = (end, next[from]);
        }

        return end;
    }

    private static int FirstWithin(long[] times, long at, long window)
    {
        var (low, high) = (0, times.Length);
        while (low < high)
        {
            var middle = (low + high) / 2;
            (low, high) = at - times[middle] > window ? (middle + 1, high) : (low, middle);
        }

        return low;
    }
}
