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

/// <summary>A pair that could be made, and how far apart its two are.</summary>
/// <param name="Left">Number of the item on one side, from 0.</param>
/// <param name="Right">Number of the item on the other side, from 0.</param>
/// <param name="Distance">Not negative.</param>
public readonly record struct Candidate(int Left, int Right, long Distance);

/// <summary>The best assignment over any candidates: most pairs, then the least distance in sum, then the lowest numbers. Exact.</summary>
/// <remarks>Shortest augmenting paths with potentials (Dijkstra on reduced distances): after each path the pairs are the cheapest of
/// their number. Time: pairs × candidates × log.</remarks>
public static class Assignment
{
    /// <summary>The chosen candidates. <paramref name="lefts"/> and <paramref name="rights"/> are the sizes of the two sides.</summary>
    public static ImmutableArray<Candidate> Best(int lefts, int rights, IReadOnlyCollection<Candidate> candidates)
    {
        var edges = candidates.GroupBy(c => c.Left).ToDictionary(g => g.Key, g => g.ToArray());
        var (partnerOfRight, partnerOfLeft) = (new Candidate?[rights], new Candidate?[lefts]);
        var (leftPotential, rightPotential) = (new Int128[lefts], new Int128[rights]);
        while (Augment())
        {
        }

        return [.. partnerOfLeft.Where(c => c is not null).Select(c => c!.Value)];

        bool Augment()
        {
            var far = Int128.MaxValue;
            var (leftAt, rightAt) = (new Int128[lefts], new Int128[rights]);
            Array.Fill(leftAt, far);
            Array.Fill(rightAt, far);
            var cameBy = new Candidate[rights];
            var done = new bool[rights];
            var queue = new PriorityQueue<int, Int128>();
            void Reach(int left, Int128 at)
            {
                leftAt[left] = at;
                foreach (var edge in edges.GetValueOrDefault(left, []))
                {
                    var next = at + Cost(edge) + leftPotential[left] - rightPotential[edge.Right];
                    if (next < rightAt[edge.Right])
                    {
                        (rightAt[edge.Right], cameBy[edge.Right]) = (next, edge);
                        queue.Enqueue(edge.Right, next);
                    }
                }
            }

            // A free left's real distance is 0; its reduced distance differs by its potential.
            foreach (var left in edges.Keys.Order().Where(l => partnerOfLeft[l] is null))
            {
                Reach(left, -leftPotential[left]);
            }

            var (end, ends) = (-1, far);
            while (queue.TryDequeue(out var right, out var at))
            {
                if (done[right] || at > rightAt[right])
                {
                    continue;
                }

                done[right] = true;
                if (partnerOfRight[right] is { } pair)
                {
                    Reach(pair.Left, at);
                }
                else if (at + rightPotential[right] < ends)
                {
                    (end, ends) = (right, at + rightPotential[right]);
                }
            }

            if (end < 0)
            {
                return false;
            }

            for (var left = 0; left < lefts; left++)
            {
                leftPotential[left] += leftAt[left] == far ? 0 : leftAt[left];
            }

            for (var right = 0; right < rights; right++)
            {
                rightPotential[right] += rightAt[right] == far ? 0 : rightAt[right];
            }

            for (var right = end; ;)
            {
                var edge = cameBy[right];
                var before = partnerOfLeft[edge.Left];
                (partnerOfLeft[edge.Left], partnerOfRight[right]) = (edge, edge);
                if (before is not { } given)
                {
                    return true;
                }

                right = given.Right;
            }
        }
    }

    /// <summary>The distance first; then low numbers, and like numbers together.</summary>
    private static Int128 Cost(Candidate c)
    {
        var apart = (Int128)(c.Left - c.Right);
        return ((Int128)c.Distance << 48) + (apart * apart) + c.Left + c.Right;
    }
}
