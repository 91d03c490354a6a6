using System.Runtime.InteropServices;

namespace Fondo.Core.Matching;

/// <summary>Pairs one tender with one row, by agreements of falling strength; within each, best as a whole.</summary>
internal sealed class PairRule(MatchRule rule, params Agreement[] agreements) : IMatchRule
{
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

        return pairs.Select(p => new Match([p.Journal], [p.Row], rule));
    }

    private static void Pair(Agreement agreement, IReadOnlyList<Item> journal, IReadOnlyList<Item> rows, TimeSpan? window, List<(Item, Item)> pairs)
    {
        // Chains of items that agree alike: the first of each in the table, the next of each beside it.
        var table = new Dictionary<Agreed, (int FirstRow, int FirstTender)>(rows.Count);
        var (nextRow, nextTender) = (new int[rows.Count], new int[journal.Count]);
        for (var i = rows.Count - 1; i >= 0; i--)
        {
            if ((agreement.OfRow ?? agreement.OfTender)(rows[i]) is { } agreed)
            {
                ref var chain = ref CollectionsMarshal.GetValueRefOrAddDefault(table, agreed, out var exists);
                nextRow[i] = exists ? chain.FirstRow : -1;
                chain = (i, -1);
            }
        }

        for (var i = journal.Count - 1; i >= 0; i--)
        {
            if (agreement.OfTender(journal[i]) is { } agreed)
            {
                ref var chain = ref CollectionsMarshal.GetValueRefOrNullRef(table, agreed);
                if (!System.Runtime.CompilerServices.Unsafe.IsNullRef(ref chain))
                {
                    nextTender[i] = chain.FirstTender;
                    chain.FirstTender = i;
                }
            }
        }

        foreach (var (firstRow, firstTender) in table.Values)
        {
            if (firstTender >= 0 && nextTender[firstTender] < 0 && nextRow[firstRow] < 0)
            {
                var (tender, row) = (journal[firstTender], rows[firstRow]);
                if (agreement.Allows(tender, row) && (window is null || (tender.At - row.At).Duration() <= window))
                {
                    pairs.Add((tender, row));
                }
            }
            else if (firstTender >= 0)
            {
                Knot.Pair(agreement, window, Chain(journal, nextTender, firstTender), Chain(rows, nextRow, firstRow), pairs);
            }
        }
    }

    private static Item[] Chain(IReadOnlyList<Item> items, int[] next, int first)
    {
        var chain = new List<Item>();
        for (var i = first; i >= 0; i = next[i])
        {
            chain.Add(items[i]);
        }

        return [.. chain];
    }
}
