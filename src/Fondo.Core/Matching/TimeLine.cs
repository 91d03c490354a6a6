namespace Fondo.Core.Matching;

/// <summary>Pairs two sets of items that are alike in all but time, so that as many as possible are paired and the times lie nearest in sum.</summary>
internal static class TimeLine
{
    /// <summary>Every item of the smaller side gets a partner. On a line an order-keeping pairing is always among the nearest,
    /// so it is enough to choose which items of the larger side to pass over.</summary>
    public static IEnumerable<(Item Journal, Item Row)> Pair(IReadOnlyList<Item> journal, IReadOnlyList<Item> rows)
    {
        if (journal.Count == 0 || rows.Count == 0)
        {
            return [];
        }

        if (journal.Count == 1 && rows.Count == 1)
        {
            return [(journal[0], rows[0])];
        }

        var few = Sorted(journal.Count <= rows.Count ? journal : rows);
        var many = Sorted(journal.Count <= rows.Count ? rows : journal);
        var pairs = Choose(few, many);
        return journal.Count <= rows.Count ? pairs : pairs.Select(p => (p.Item2, p.Item1));
    }

    private static Item[] Sorted(IReadOnlyList<Item> items) => [.. items.OrderBy(i => i.At).ThenBy(i => i.Key, StringComparer.Ordinal)];

    private static IEnumerable<(Item, Item)> Choose(Item[] few, Item[] many)
    {
        var spare = many.Length - few.Length;
        // cost[i][s]: least distance of the first i of the few, when s of the many have been passed over before the i-th.
        var cost = new long[few.Length + 1, spare + 1];
        for (var i = 1; i <= few.Length; i++)
        {
            var best = long.MaxValue;
            for (var s = 0; s <= spare; s++)
            {
                best = Math.Min(best, cost[i - 1, s]);
                cost[i, s] = best + Distance(few[i - 1], many[i - 1 + s]);
            }
        }

        var pairs = new (Item, Item)[few.Length];
        var limit = spare;
        for (var i = few.Length; i >= 1; i--)
        {
            var pick = 0;
            for (var s = 1; s <= limit; s++)
            {
                if (cost[i, s] < cost[i, pick])
                {
                    pick = s;
                }
            }

            pairs[i - 1] = (few[i - 1], many[i - 1 + pick]);
            limit = pick;
        }

        return pairs;
    }

    private static long Distance(Item a, Item b) => Math.Abs(a.At.UtcTicks - b.At.UtcTicks);
}
