using Fondo.Core.Proof;

namespace Fondo.Core.Matching;

/// <summary>Up to four tenders of one card and terminal against one row, or one tender against up to four rows, equal in sum (rules
/// §5).</summary>
/// <remarks>Each single item looks at its nearest <see cref="MostPartners"/> partners in time; among the groups found, the set that is best
/// as a whole is searched for by branch and bound, to the end unless a card needs more than <see cref="MostSteps"/> steps.</remarks>
internal sealed class GroupRule : IMatchRule
{
    internal const int MostPartners = 24, MostSteps = 50_000;

    // More groups of one card than this, or more items in them, are chosen from by distance alone.
    private const int MostGroups = 400, MostItems = 128;

    // So many sets of one card are looked at.
    private const int MostSets = 400_000;

    private const int Largest = 4;

    public MatchRule Rule => MatchRule.Group;

    public IEnumerable<Match> Find(IReadOnlyList<Item> journal, IReadOnlyList<Item> rows, TimeSpan window)
    {
        static (string, string, Direction)? Card(Item i) =>
            i.Terminal is { } t && i.Card.LastFour is { } last ? (t.Value, last, i.Direction) : null;
        var rowsByCard = rows.Where(r => Card(r) is not null).ToLookup(r => Card(r)!.Value);
        foreach (var tenders in journal.Where(j => Card(j) is not null).GroupBy(j => Card(j)!.Value))
        {
            var settled = rowsByCard[tenders.Key].ToArray();
            if (settled.Length == 0 || (settled.Length == 1 && !tenders.Skip(1).Any()))
            {
                continue;
            }

            foreach (var group in Best(Groups([.. tenders], settled, window)))
            {
                yield return new(group.Journal, group.Rows, Rule);
            }
        }
    }

    /// <summary>A possible match: one item of one side, two to four of the other.</summary>
    internal sealed record Group(ImmutableArray<Item> Journal, ImmutableArray<Item> Rows)
    {
        public long Distance { get; } = Journal.Length == 1 ? Apart(Journal[0], Rows) : Apart(Rows[0], Journal);

        private static long Apart(Item one, ImmutableArray<Item> many) => many.Sum(m => Math.Abs((m.At - one.At).Ticks));
    }

    internal static List<Group> Groups(Item[] journal, Item[] rows, TimeSpan window)
    {
        var (groups, steps) = (new List<Group>(), 0);
        foreach (var row in rows.OrderBy(r => r.Rank))
        {
            groups.AddRange(Subsets(row, journal, window, ref steps).Select(s => new Group(s, [row])));
        }

        foreach (var tender in journal.OrderBy(j => j.Rank))
        {
            groups.AddRange(Subsets(tender, rows, window, ref steps).Select(s => new Group([tender], s)));
        }

        return groups;
    }

    /// <summary>Two to four of the many that add up to the one, all within the window of it.</summary>
    private static List<ImmutableArray<Item>> Subsets(Item one, Item[] many, TimeSpan window, ref int steps)
    {
        if (steps > MostSets)
        {
            return [];
        }

        var near = many.Where(m => (m.At - one.At).Duration() <= window && m.Amount.Abs() < one.Amount.Abs())
            .OrderBy(m => (m.At - one.At).Duration()).ThenBy(m => m.Rank).Take(MostPartners).OrderBy(m => m.Rank).ToArray();
        var (found, chosen) = (new List<ImmutableArray<Item>>(), new Stack<Item>());
        Extend(0, one.Amount, ref steps);
        return found;

        void Extend(int from, Money left, ref int steps)
        {
            if (left.IsZero && chosen.Count >= 2)
            {
                found.Add([.. chosen.Reverse()]);
                return;
            }

            for (var i = from; i < near.Length && chosen.Count < Largest; i++)
            {
                steps++;
                if (near[i].Amount.Abs() <= left.Abs())
                {
                    chosen.Push(near[i]);
                    Extend(i + 1, left - near[i].Amount, ref steps);
                    chosen.Pop();
                }
            }
        }
    }

    /// <summary>Groups that share no item: most groups, then the least distance in sum, then the lowest keys.</summary>
    internal static IReadOnlyList<Group> Best(List<Group> groups)
    {
        groups.Sort((a, b) => a.Distance.CompareTo(b.Distance) is var d and not 0 ? d : Compare(a, b));
        var nearest = Greedy(groups);
        return new BestGroups(groups.Count > MostGroups ? [.. groups.Take(MostGroups)] : groups, nearest).Found;
    }

    /// <summary>The nearest group, then the nearest of those that share nothing with it, and so on.</summary>
    private static List<Group> Greedy(List<Group> groups)
    {
        var (chosen, used) = (new List<Group>(), new HashSet<Item>(ReferenceEqualityComparer.Instance));
        foreach (var group in groups.Where(g => !g.Journal.Any(used.Contains) && !g.Rows.Any(used.Contains)))
        {
            chosen.Add(group);
            used.UnionWith(group.Journal);
            used.UnionWith(group.Rows);
        }

        return chosen;
    }

    /// <summary>Branch and bound over groups sorted by distance; the items that a group takes are bits.</summary>
    private sealed class BestGroups
    {
        private readonly List<Group> _groups;
        private readonly (UInt128 Journal, UInt128 Rows)[] _items;
        private readonly List<Group> _chosen = [];
        private long _distance;
        private int _steps;

        public BestGroups(List<Group> groups, List<Group> nearest)
        {
            (_groups, Found, _distance) = (groups, nearest, nearest.Sum(g => g.Distance));
            var (journal, rows) = (Numbered(groups.SelectMany(g => g.Journal)), Numbered(groups.SelectMany(g => g.Rows)));
            _items = [.. groups.Select(g => (Bits(g.Journal, journal), Bits(g.Rows, rows)))];
            if (groups.Count > 0 && journal.Count <= MostItems && rows.Count <= MostItems)
            {
                Search(0, Below(journal.Count), Below(rows.Count), 0);
            }
        }

        public List<Group> Found { get; private set; }

        private static Dictionary<Item, int> Numbered(IEnumerable<Item> items) =>
            items.Distinct().Select((item, i) => (item, i)).ToDictionary(x => x.item, x => x.i);

        private static UInt128 Below(int bits) => bits >= MostItems ? UInt128.MaxValue : (UInt128.One << bits) - 1;

        private static UInt128 Bits(ImmutableArray<Item> items, Dictionary<Item, int> number)
        {
            UInt128 bits = 0;
            foreach (var item in items)
            {
                bits |= UInt128.One << number[item];
            }

            return bits;
        }

        private void Search(int from, UInt128 journal, UInt128 rows, long distance)
        {
            if (IsBetter(distance))
            {
                (Found, _distance) = ([.. _chosen], distance);
            }

            // Each further group takes at least one of each side and three in all.
            var (j, r) = ((int)UInt128.PopCount(journal), (int)UInt128.PopCount(rows));
            var room = _chosen.Count + Math.Min(Math.Min(j, r), (j + r) / 3);
            for (var i = from; i < _groups.Count && _steps++ < MostSteps; i++)
            {
                var possible = Math.Min(room, _chosen.Count + _groups.Count - i);
                if (possible < Found.Count || (possible == Found.Count && distance + _groups[i].Distance > _distance))
                {
                    return;
                }

                if ((_items[i].Journal & ~journal) == 0 && (_items[i].Rows & ~rows) == 0)
                {
                    _chosen.Add(_groups[i]);
                    Search(i + 1, journal & ~_items[i].Journal, rows & ~_items[i].Rows, distance + _groups[i].Distance);
                    _chosen.RemoveAt(_chosen.Count - 1);
                }
            }
        }

        private bool IsBetter(long distance) =>
            _chosen.Count != Found.Count ? _chosen.Count > Found.Count
            : distance != _distance ? distance < _distance
            : Order(_chosen, Found) < 0;

        /// <summary>By the keys of their groups, the lowest first.</summary>
        private static int Order(List<Group> a, List<Group> b)
        {
            var (x, y) = (a.ToList(), b.ToList());
            x.Sort(Compare);
            y.Sort(Compare);
            return x.Zip(y).Select(p => Compare(p.First, p.Second)).FirstOrDefault(c => c != 0);
        }
    }

    private static int Compare(Group a, Group b)
    {
        foreach (var (x, y) in a.Journal.Zip(b.Journal).Concat(a.Rows.Zip(b.Rows)))
        {
            if (x.Rank != y.Rank)
            {
                return x.Rank.CompareTo(y.Rank);
            }
        }

        return a.Journal.Length - b.Journal.Length;
    }
}
