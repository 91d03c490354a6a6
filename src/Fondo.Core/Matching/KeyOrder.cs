namespace Fondo.Core.Matching;

/// <summary>Ranks a million items by their keys: by the first sixteen characters as one number, and by the whole key only where these are alike.</summary>
internal static class KeyOrder
{
    private const int Characters = 16;

    /// <summary>Gives each item its place in the order of the keys; the array keeps its order.</summary>
    public static void Rank(Item[] items)
    {
        var sorted = IsSorted(items) ? items : Sorted(items);
        for (var i = 0; i < sorted.Length; i++)
        {
            sorted[i].Rank = i;
        }
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

    private static bool IsSorted(Item[] items)
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

    /// <summary>Numbers in the order of the texts; texts that differ only in characters beyond Latin-1, or beyond the sixteenth, get the same.</summary>
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
