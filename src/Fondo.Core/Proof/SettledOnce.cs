using Fondo.Core.Journal;

namespace Fondo.Core.Proof;

/// <summary>One transaction, once (rules §5): a settled transaction that arrives twice, over the wire and in a file or in two files, is
/// known already, whatever its batch or sequence number.</summary>
/// <remarks>Two rows are the same transaction when terminal, direction and amount agree and either the reference does, or, where one of
/// them has none, the time to the second, the last four digits and the approval code.</remarks>
public static class SettledOnce
{
    /// <summary>Bits a row of the first look, in which few rows meet by chance.</summary>
    private const int BitsARow = 16, FewestBits = 1 << 10, MostBits = 1 << 26;

    /// <summary>The rows, each transaction once, and those that say again what another says. Of several, one of a batch that has totals
    /// stands, else the one with the lowest key: the order in which they came has no meaning.</summary>
    public static (ImmutableArray<BatchRow> Once, ImmutableArray<BatchRow> Again) Of(ImmutableArray<BatchRow> rows,
        IEnumerable<BatchTotal> totals)
    {
        if (Meeting(rows) is not { Count: > 0 } meeting)
        {
            return (rows, []);
        }

        var told = totals.Select(t => (t.Terminal, t.Batch)).ToHashSet();
        var again = new HashSet<BatchRow>(ReferenceEqualityComparer.Instance);
        foreach (var group in Groups([.. meeting.Order().Select(i => rows[i])]))
        {
            again.UnionWith(group.OrderByDescending(r => told.Contains((r.Key.Terminal, r.Key.Batch))).ThenBy(r => r.Key).Skip(1));
        }

        return again.Count == 0
            ? (rows, [])
            : ([.. rows.Where(r => !again.Contains(r))], [.. rows.Where(again.Contains).OrderBy(r => r.Key)]);
    }

    /// <summary>The places of the rows that may be like another.</summary>
    private static HashSet<int> Meeting(ImmutableArray<BatchRow> rows)
    {
        var meeting = new HashSet<int>();
        Look(ByReference);
        if (rows.Any(r => !HasReference(r)))
        {
            Look(ByMoment);
        }

        return meeting;

        void Look(Func<BatchRow, int> hashOf)
        {
            var room = Math.Clamp(rows.Length * (long)BitsARow, FewestBits, MostBits);
            var bits = (int)System.Numerics.BitOperations.RoundUpToPowerOf2((uint)room);
            var (seen, twice) = (new System.Collections.BitArray(bits), new HashSet<int>());
            foreach (var row in rows)
            {
                if (hashOf(row) is not 0 and var hash)
                {
                    var bit = hash & (bits - 1);
                    if (seen[bit])
                    {
                        twice.Add(bit);
                    }

                    seen[bit] = true;
                }
            }

            for (var i = 0; twice.Count > 0 && i < rows.Length; i++)
            {
                if (hashOf(rows[i]) is not 0 and var hash && twice.Contains(hash & (bits - 1)))
                {
                    meeting.Add(i);
                }
            }
        }
    }

    private static IEnumerable<List<BatchRow>> Groups(List<BatchRow> rows)
    {
        var groups = new Dictionary<BatchRow, List<BatchRow>>(ReferenceEqualityComparer.Instance);
        foreach (var alike in rows.Where(HasReference).GroupBy(r => (Key(r), r.Card.Reference))
            .Concat(Loose(rows)).Select(g => g.ToList()).Where(g => g.Count > 1))
        {
            var joined = alike.SelectMany(r => groups.GetValueOrDefault(r) ?? [r]).Distinct(ReferenceEqualityComparer.Instance)
                .Cast<BatchRow>().ToList();
            joined.ForEach(r => groups[r] = joined);
        }

        return groups.Values.Distinct();
    }

    /// <summary>Rows of one moment of which some have no reference: those, and one that has.</summary>
    private static IEnumerable<IEnumerable<BatchRow>> Loose(List<BatchRow> rows) => rows.Where(HasMoment)
        .GroupBy(r => (Key(r), Second(r), r.Card.LastFour, r.Card.ApprovalCode)).Where(g => g.Any(r => !HasReference(r)))
        .Select(g => g.Where(r => !HasReference(r)).Concat(g.Where(HasReference).OrderBy(r => r.Key).Take(1)));

    private static (TerminalId, Direction, Money) Key(BatchRow row) => (row.Key.Terminal, row.Direction, row.Amount);

    private static bool HasReference(BatchRow row) => row.Card.Reference.Length > 0;

    private static bool HasMoment(BatchRow row) => !string.IsNullOrEmpty(row.Card.LastFour) && row.Card.ApprovalCode.Length > 0;

    private static long Second(BatchRow row) => row.At.UtcTicks / TimeSpan.TicksPerSecond;

    /// <summary>Never 0, which stands for a row that cannot be told by it.</summary>
    private static int ByReference(BatchRow row) =>
        HasReference(row) ? HashCode.Combine(row.Key.Terminal, row.Direction, row.Amount, row.Card.Reference) | 1 : 0;

    private static int ByMoment(BatchRow row) => HasMoment(row)
        ? HashCode.Combine(row.Key.Terminal, row.Direction, row.Amount, Second(row), row.Card.LastFour, row.Card.ApprovalCode) | 1
        : 0;
}
