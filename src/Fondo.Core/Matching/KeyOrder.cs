namespace Fondo.Core.Matching;

/// <summary>Ranks a million items of one side by their keys: rows by terminal, tickets of registers that number them alike by these
/// numbers; others by the first sixteen
/// characters as one number, and by the whole key only where these are alike.</summary>
internal static class KeyOrder
{
    private const int Characters = 16;

    /// <summary>Gives each item its place in the order of the keys; the array keeps its order.</summary>
    public static void Rank(Item[] items)
    {
        var sorted = IsSorted(items) ? items : NearlySorted(items) ?? Grouped(items) ?? Sorted(items);
        for (var i = 0; i < sorted.Length; i++)
        {
            sorted[i].Rank = i;
        }
    }

    /// <summary>A long sorted beginning, as settled rows have it, joined with what comes after it; null where there is none.</summary>
    private static Item[]? NearlySorted(Item[] items)
    {
        var end = 1;
        while (items[end - 1].CompareTo(items[end]) <= 0)
        {
            end++;
        }

        if (end < items.Length / 2)
        {
            return null;
        }

        var (sorted, rest, next) = (new Item[items.Length], items[end..], 0);
        Array.Sort(rest);
        for (var (i, r) = (0, 0); next < sorted.Length;)
        {
            sorted[next++] = r == rest.Length || (i < end && items[i].CompareTo(rest[r]) <= 0) ? items[i++] : rest[r++];
        }

        return sorted;
    }

    /// <summary>Rows by their terminal, tickets by what stands before their number, and each group by itself; null where that is another
    /// order than that of the keys.</summary>
    private static Item[]? Grouped(Item[] items)
    {
        var (groups, groupOf) = (new Dictionary<string, (int Group, int Digits)>(StringComparer.Ordinal), new int[items.Length]);
        for (var i = 0; i < items.Length; i++)
        {
            var (text, digits) = items[i].KeyGroup;
            if (!groups.TryGetValue(text, out var group))
            {
                groups[text] = group = (groups.Count, digits);
            }

            if (group.Digits != digits)
            {
                return null;
            }

            groupOf[i] = group.Group;
        }

        var befores = groups.Keys.Order(StringComparer.Ordinal).ToArray();
        if (items[0].Row is null && befores.Zip(befores.Skip(1))
            .Any(b => b.Second.StartsWith(b.First, StringComparison.Ordinal) && b.Second[b.First.Length] <= '9'))
        {
            return null; // what follows stands before digits, or among them
        }

        var counts = new int[befores.Length];
        foreach (var group in groupOf)
        {
            counts[group]++;
        }

        var (next, at) = (new int[befores.Length], 0);
        foreach (var before in befores)
        {
            next[groups[before].Group] = at;
            at += counts[groups[before].Group];
        }

        var sorted = new Item[items.Length];
        for (var i = 0; i < items.Length; i++)
        {
            sorted[next[groupOf[i]]++] = items[i];
        }

        for (var group = 0; group < next.Length; group++)
        {
            var own = sorted.AsSpan(next[group] - counts[group], counts[group]);
            if (!IsSorted(own))
            {
                own.Sort();
            }
        }

        return sorted;
    }

    private static Item[] Sorted(Item[] items)
    {
        var sorted = items.ToArray();
        Span<char> room = stackalloc char[2 * Characters];
        var beginnings = new UInt128[sorted.Length];
        for (var i = 0; i < sorted.Length; i++)
        {
            beginnings[i] = BeginningOf(sorted[i].KeyStart(room));
        }

        Array.Sort(beginnings, sorted);
        for (var from = 0; from < sorted.Length;)
        {
            var to = from + 1;
            while (to < sorted.Length && beginnings[to] == beginnings[from])
            {
                to++;
            }

            if (to - from > 1)
            {
                Array.Sort(sorted, from, to - from);
            }

            from = to;
        }

        return sorted;
    }

    private static bool IsSorted(ReadOnlySpan<Item> items)
    {
        for (var i = 1; i < items.Length; i++)
        {
            if (items[i - 1].CompareTo(items[i]) > 0)
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>Numbers in the order of the texts; texts that differ only in characters beyond Latin-1, or beyond the sixteenth, get the
    /// same.</summary>
    private static UInt128 BeginningOf(ReadOnlySpan<char> text)
    {
        UInt128 number = 0;
        for (var i = 0; i < Characters; i++)
        {
            number = (number << 8) | (i < text.Length ? (byte)Math.Min(text[i], byte.MaxValue) : (byte)0);
            if (i < text.Length && text[i] >= byte.MaxValue)
            {
                return number << (8 * (Characters - 1 - i)); // what follows does not order these any more
            }
        }

        return number;
    }
}
