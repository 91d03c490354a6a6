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

/// <summary>Up to four tenders of one card and terminal against one row, or one tender against up to four rows, equal in sum (rules §5).</summary>
/// <remarks>Each single item looks at its nearest <see cref="MostPartners"/> partners in time; among the groups found, the set that is best
/// as a whole is searched for by branch and bound, to the end unless a knot needs more than <see cref="MostSteps"/> steps.</remarks>
internal sealed class GroupRule : IMatchRule
{
    internal const int MostPartners = 24, MostSteps = 200_000;

    private const int Largest = 4;

    public MatchRule Rule => MatchRule.Group;

    public IEnumerable<Match> Find(IReadOnlyList<Item> journal, IReadOnlyList<Item> rows, TimeSpan window)
    {
        static (string, string, Direction)? Card(Item i) => i.Terminal is { } t && i.Card.LastFour is { } last ? (t.Value, last, i.Direction) : null;
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

        public bool Shares(Group other) => Journal.Any(other.Journal.Contains) || Rows.Any(other.Rows.Contains);

        private static long Apart(Item one, ImmutableArray<Item> many) => many.Sum(m => Math.Abs((m.At - one.At).Ticks));
    }

    internal static List<Group> Groups(Item[] journal, Item[] rows, TimeSpan window)
    {
        var groups = new List<Group>();
        foreach (var row in rows)
        {
            groups.AddRange(Subsets(row, journal, window).Select(s => new Group(s, [row])));
        }

        foreach (var tender in journal)
        {
            groups.AddRange(Subsets(tender, rows, window).Select(s => new Group([tender], s)));
        }

        return groups;
    }

    /// <summary>Two to four of the many that add up to the one, all within the window of it.</summary>
    private static List<ImmutableArray<Item>> Subsets(Item one, Item[] many, TimeSpan window)
    {
        var near = many.Where(m => (m.At - one.At).Duration() <= window && m.Amount.Abs() < one.Amount.Abs())
            .OrderBy(m => (m.At - one.At).Duration()).ThenBy(m => m.Rank).Take(MostPartners).OrderBy(m => m.Rank).ToArray();
        var found = new List<ImmutableArray<Item>>();
        var chosen = new Stack<Item>();
        Extend(0, one.Amount);
        return found;

        void Extend(int from, Money left)
        {
            if (left.IsZero && chosen.Count >= 2)
            {
                found.Add([.. chosen.Reverse()]);
                return;
            }

            for (var i = from; i < near.Length && chosen.Count < Largest; i++)
            {
                if (near[i].Amount.Abs() <= left.Abs())
                {
                    chosen.Push(near[i]);
                    Extend(i + 1, left - near[i].Amount);
                    chosen.Pop();
                }
            }
        }
    }

    /// <summary>Groups that share no item: most groups, then the least distance in sum, then the lowest keys.</summary>
    internal static IReadOnlyList<Group> Best(List<Group> groups)
    {
        groups.Sort((a, b) => a.Distance.CompareTo(b.Distance) is var d and not 0 ? d : Compare(a, b));
        var (best, bestDistance) = (new List<Group>(), 0L);
        var chosen = new List<Group>();
        var steps = 0;
        Search([.. groups], 0);
        return best;

        // The groups still open are sorted by distance, so the first few of them bound what can follow.
        void Search(Group[] open, long distance)
        {
            if (chosen.Count > best.Count || (chosen.Count == best.Count && distance < bestDistance))
            {
                (best, bestDistance) = ([.. chosen], distance);
            }

            for (var i = 0; i < open.Length && steps++ < MostSteps; i++)
            {
                var possible = chosen.Count + Math.Min(open.Length - i, Room(open, i));
                if (possible < best.Count || (possible == best.Count && distance + open[i].Distance >= bestDistance))
                {
                    return;
                }

                var pick = open[i];
                chosen.Add(pick);
                Search([.. open.Skip(i + 1).Where(g => !g.Shares(pick))], distance + pick.Distance);
                chosen.RemoveAt(chosen.Count - 1);
            }
        }
    }

    /// <summary>How many groups there is room for: each takes at least one of each side and three in all.</summary>
    private static int Room(Group[] open, int from)
    {
        var (journal, rows) = (new HashSet<Item>(), new HashSet<Item>());
        for (var i = from; i < open.Length; i++)
        {
            journal.UnionWith(open[i].Journal);
            rows.UnionWith(open[i].Rows);
        }

        return Math.Min(Math.Min(journal.Count, rows.Count), (journal.Count + rows.Count) / 3);
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
