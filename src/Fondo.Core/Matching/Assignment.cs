namespace Fondo.Core.Matching;

/// <summary>A pair that could be made, and how far apart its two are.</summary>
/// <param name="Left">Number of the item on one side, from 0.</param>
/// <param name="Right">Number of the item on the other side, from 0.</param>
/// <param name="Distance">Not negative.</param>
public readonly record struct Candidate(int Left, int Right, long Distance);

/// <summary>The best assignment over any candidates: most pairs, then the least distance in sum; exact. Of several that are as good,
/// <see cref="Lowest"/> takes the
/// one with the lowest numbers: of the first left the lowest right, then of the second, and so on.</summary>
/// <remarks>Shortest augmenting paths with potentials (Dijkstra on reduced distances): after each path the pairs are the cheapest of
/// their number. Time: pairs × candidates × log.</remarks>
public static class Assignment
{
    /// <summary>Above so many candidates, low numbers are preferred pair by pair, and not looked for through all that is as good.</summary>
    internal const int MostWeighedForNumbers = 64;

    /// <summary>The best assignment, and of several as good the one with the lowest numbers: its pairs in order of the lefts compare
    /// lowest, a left that goes without last.</summary>
    public static ImmutableArray<Candidate> Lowest(int lefts, int rights, IReadOnlyCollection<Candidate> candidates)
    {
        var best = Best(lefts, rights, candidates);
        if (best.Length == 0 || candidates.Count > MostWeighedForNumbers)
        {
            return best;
        }

        var (pairs, distance) = (best.Length, best.Sum(c => c.Distance));
        var (chosen, left) = (new List<Candidate>(pairs), candidates.ToList());
        foreach (var ofOne in candidates.GroupBy(c => c.Left).OrderBy(g => g.Key).Select(g => g.OrderBy(c => c.Right).ToList()))
        {
            foreach (var candidate in ofOne.Where(left.Contains))
            {
                // Is there something as good with this pair?
                var others = left.Where(c => c.Left != candidate.Left && c.Right != candidate.Right).ToList();
                var rest = Best(lefts, rights, others);
                if (rest.Length + 1 == pairs && rest.Sum(c => c.Distance) + candidate.Distance == distance)
                {
                    chosen.Add(candidate);
                    (left, pairs, distance) = (others, pairs - 1, distance - candidate.Distance);
                    break;
                }
            }

            left.RemoveAll(c => c.Left == ofOne[0].Left);
        }

        return [.. chosen];
    }

    /// <summary>The chosen candidates. <paramref name="lefts"/> and <paramref name="rights"/> are the sizes of the two sides.</summary>
    public static ImmutableArray<Candidate> Best(int lefts, int rights, IReadOnlyCollection<Candidate> candidates)
    {
        var growing = new Growing(lefts, rights, candidates);
        while (growing.Augment())
        {
        }

        return growing.Chosen;
    }

    /// <summary>A matching that grows by a pair at a time, along the shortest augmenting path by potentials.</summary>
    private sealed class Growing(int lefts, int rights, IReadOnlyCollection<Candidate> candidates)
    {
        private static readonly Int128 _far = Int128.MaxValue;

        private readonly Dictionary<int, Candidate[]> _edges = candidates.GroupBy(c => c.Left).ToDictionary(g => g.Key, g => g.ToArray());
        private readonly Candidate?[] _partnerOfRight = new Candidate?[rights], _partnerOfLeft = new Candidate?[lefts];
        private readonly Int128[] _leftPotential = new Int128[lefts], _rightPotential = new Int128[rights];

        public ImmutableArray<Candidate> Chosen => [.. _partnerOfLeft.Where(c => c is not null).Select(c => c!.Value)];

        /// <summary>Adds a pair; false where none can be added.</summary>
        public bool Augment()
        {
            var (leftAt, rightAt, cameBy) = (new Int128[lefts], new Int128[rights], new Candidate[rights]);
            var end = Shortest(leftAt, rightAt, cameBy);
            if (end < 0)
            {
                return false;
            }

            for (var left = 0; left < lefts; left++)
            {
                _leftPotential[left] += leftAt[left] == _far ? 0 : leftAt[left];
            }

            for (var right = 0; right < rights; right++)
            {
                _rightPotential[right] += rightAt[right] == _far ? 0 : rightAt[right];
            }

            Turn(end, cameBy);
            return true;
        }

        /// <summary>The free right side that the shortest path from a free left one ends at; below 0 where there is none.</summary>
        private int Shortest(Int128[] leftAt, Int128[] rightAt, Candidate[] cameBy)
        {
            Array.Fill(leftAt, _far);
            Array.Fill(rightAt, _far);
            var (done, queue) = (new bool[rights], new PriorityQueue<int, Int128>());
            void Reach(int left, Int128 at)
            {
                leftAt[left] = at;
                foreach (var edge in _edges.GetValueOrDefault(left, []))
                {
                    var next = at + Cost(edge) + _leftPotential[left] - _rightPotential[edge.Right];
                    if (next < rightAt[edge.Right])
                    {
                        (rightAt[edge.Right], cameBy[edge.Right]) = (next, edge);
                        queue.Enqueue(edge.Right, next);
                    }
                }
            }

            // A free left's real distance is 0; its reduced distance differs by its potential.
            foreach (var left in _edges.Keys.Order().Where(l => _partnerOfLeft[l] is null))
            {
                Reach(left, -_leftPotential[left]);
            }

            var (end, ends) = (-1, _far);
            while (queue.TryDequeue(out var right, out var at))
            {
                if (done[right] || at > rightAt[right])
                {
                    continue;
                }

                done[right] = true;
                if (_partnerOfRight[right] is { } pair)
                {
                    Reach(pair.Left, at);
                }
                else if (at + _rightPotential[right] < ends)
                {
                    (end, ends) = (right, at + _rightPotential[right]);
                }
            }

            return end;
        }

        /// <summary>The pairs along the path change partners.</summary>
        private void Turn(int end, Candidate[] cameBy)
        {
            for (var right = end; ;)
            {
                var edge = cameBy[right];
                var before = _partnerOfLeft[edge.Left];
                (_partnerOfLeft[edge.Left], _partnerOfRight[right]) = (edge, edge);
                if (before is not { } given)
                {
                    return;
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
