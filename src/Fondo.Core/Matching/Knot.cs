using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Matching;

/// <summary>Tenders and rows that agree alike and compete for each other: paired best as a whole.</summary>
internal static class Knot
{
    /// <summary>Above so many pairs within the window, a knot in which more than time decides is no longer solved as a whole:
    /// each tender takes the nearest row that is left.</summary>
    internal const long MostCandidates = 200_000;

    public static void Pair(Agreement agreement, TimeSpan? window, Item[] journal, Item[] rows, List<(Item Journal, Item Row)> into)
    {
        if (agreement.AllowsAll(journal, rows))
        {
            TimeLine.Pairs(journal, rows, window, into);
            return;
        }

        Array.Sort(journal, ByRank);
        Array.Sort(rows, ByRank);
        var candidates = Candidates(agreement, (window ?? TimeSpan.MaxValue).Ticks, journal, rows);
        if (candidates is null)
        {
            Nearest(agreement, (window ?? TimeSpan.MaxValue).Ticks, journal, rows, into);
            return;
        }

        foreach (var (left, right, _) in Assignment.Best(journal.Length, rows.Length, candidates))
        {
            into.Add((journal[left], rows[right]));
        }
    }

    private static int ByRank(Item a, Item b) => a.Rank.CompareTo(b.Rank);

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
                if (++looked > MostCandidates)
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

    private static void Nearest(Agreement agreement, long window, Item[] journal, Item[] rows, List<(Item, Item)> into)
    {
        var left = rows.OrderBy(r => r.At.UtcTicks).ThenBy(r => r.Rank).ToList();
        foreach (var tender in journal.OrderBy(j => j.At.UtcTicks).ThenBy(j => j.Rank))
        {
            var at = tender.At.UtcTicks;
            var (best, distance) = (-1, window);
            for (var n = 0; n < left.Count && left[n].At.UtcTicks - at <= distance; n++)
            {
                if (Math.Abs(left[n].At.UtcTicks - at) is var d && (d < distance || (best < 0 && d <= distance)) && agreement.Allows(tender, left[n]))
                {
                    (best, distance) = (n, d);
                }
            }

            if (best >= 0)
            {
                into.Add((tender, left[best]));
                left.RemoveAt(best);
            }
        }
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
