namespace Fondo.Core.Matching;

/// <summary>Pairs one tender with one row, by agreements of falling strength; within each, best as a whole.</summary>
internal sealed class PairRule(MatchRule rule, params Agreement[] agreements) : IMatchRule
{
    private const int IndexBits = 32;

    public MatchRule Rule => rule;

    public IEnumerable<Match> Find(IReadOnlyList<Item> journal, IReadOnlyList<Item> rows, TimeSpan window)
    {
        var pairs = new List<(Item Journal, Item Row)>(agreements.Length == 1 ? Math.Min(journal.Count, rows.Count) : 0);
        foreach (var agreement in agreements)
        {
            if (journal.Count == 0 || rows.Count == 0)
            {
                break;
            }

            var before = pairs.Count;
            Pair(agreement, journal, rows, agreement.InWindow ? window : null, pairs);
            if (agreement != agreements[^1] && pairs.Count > before)
            {
                var used = pairs.Skip(before).SelectMany(p => new[] { p.Journal, p.Row }).ToHashSet();
                journal = [.. journal.Where(j => !used.Contains(j))];
                rows = [.. rows.Where(r => !used.Contains(r))];
            }
        }

        return pairs.Select(p => new Match(p.Journal, p.Row, rule));
    }

    /// <summary>Both sides are sorted by the hash of what must agree and gone through side by side: of a million items that takes as long
    /// as a table of them, and a third of its memory.</summary>
    private static void Pair(Agreement agreement, IReadOnlyList<Item> journal, IReadOnlyList<Item> rows, TimeSpan? window,
        List<(Item, Item)> pairs)
    {
        var ofRow = agreement.OfRow ?? agreement.OfTender;
        ReadOnlySpan<ulong> tenders = ByHash(journal, agreement.OfTender), settled = ByHash(rows, ofRow);
        var onlyRow = new int[journal.Count]; // the one row of the one tender of a hash, plus one
        for (var (t, r) = (0, 0); t < tenders.Length && r < settled.Length;)
        {
            var (hash, other) = (tenders[t] >> IndexBits, settled[r] >> IndexBits);
            if (hash != other)
            {
                (t, r) = hash < other ? (t + 1, r) : (t, r + 1);
                continue;
            }

            var (fromTender, fromRow) = (t, r);
            (t, r) = (EndOf(tenders, t), EndOf(settled, r));
            if (t - fromTender == 1 && r - fromRow == 1)
            {
                onlyRow[IndexOf(tenders[fromTender])] = IndexOf(settled[fromRow]) + 1;
            }
            else
            {
                Alike(agreement, window, Listed(tenders[fromTender..t], journal), Listed(settled[fromRow..r], rows), pairs);
            }
        }

        // In the order in which the items lie in memory, not in that of their hashes.
        for (var i = 0; i < onlyRow.Length; i++)
        {
            if (onlyRow[i] > 0 && (Tender: journal[i], Row: rows[onlyRow[i] - 1]) is var only
                && agreement.OfTender(only.Tender) == ofRow(only.Row))
            {
                Only(agreement, window, only.Tender, only.Row, pairs);
            }
        }
    }

    private static int IndexOf(ulong key) => (int)(uint)key;

    /// <summary>The hash of what must agree and the index of each item that has it, in this order.</summary>
    private static Span<ulong> ByHash(IReadOnlyList<Item> items, Func<Item, Agreed?> agreed)
    {
        var (keys, count) = (new ulong[items.Count], 0);
        for (var i = 0; i < items.Count; i++)
        {
            if (agreed(items[i]) is { } parts)
            {
                keys[count++] = ((ulong)(uint)parts.GetHashCode() << IndexBits) | (uint)i;
            }
        }

        var found = keys.AsSpan(0, count);
        found.Sort();
        return found;
    }

    private static Item[] Listed(ReadOnlySpan<ulong> keys, IReadOnlyList<Item> items)
    {
        var listed = new Item[keys.Length];
        for (var i = 0; i < keys.Length; i++)
        {
            listed[i] = items[IndexOf(keys[i])];
        }

        return listed;
    }

    private static int EndOf(ReadOnlySpan<ulong> keys, int from)
    {
        var end = from + 1;
        while (end < keys.Length && keys[end] >> IndexBits == keys[from] >> IndexBits)
        {
            end++;
        }

        return end;
    }

    /// <summary>Several of one hash: those that agree compete for each other.</summary>
    private static void Alike(Agreement agreement, TimeSpan? window, Item[] tenders, Item[] rows, List<(Item, Item)> pairs)
    {
        var settled = rows.ToLookup(r => (agreement.OfRow ?? agreement.OfTender)(r)!.Value);
        foreach (var alike in tenders.GroupBy(t => agreement.OfTender(t)!.Value))
        {
            var (taken, found) = (alike.ToArray(), settled[alike.Key].ToArray());
            if (taken.Length == 1 && found.Length == 1)
            {
                Only(agreement, window, taken[0], found[0], pairs);
            }
            else if (found.Length > 0)
            {
                Knot.Pair(agreement, window, taken, found, pairs);
            }
        }
    }

    private static void Only(Agreement agreement, TimeSpan? window, Item tender, Item row, List<(Item, Item)> pairs)
    {
        if (agreement.Allows(tender, row) && (window is null || (tender.At - row.At).Duration() <= window))
        {
            pairs.Add((tender, row));
        }
    }
}
