using Fondo.Core.Days;

namespace Fondo.Core.Matching;

/// <summary>What persons paired and parted, laid over the items of a day: what is left is for the rules (rules §5).</summary>
/// <param name="Matches">The pairs and groups that hold.</param>
/// <param name="Parted">Items that no rule may use.</param>
/// <param name="Lapsed">Pairs of which something is not there any more, or was said otherwise of later: the rest is left to the
/// rules.</param>
public sealed record ByHand(ImmutableArray<Match> Matches, ImmutableArray<Item> Parted, ImmutableArray<Pairing> Lapsed)
{
    public static readonly ByHand Nothing = new([], [], []);

    public static ByHand Of(ImmutableArray<Pairing> said, IEnumerable<Item> tenders, IEnumerable<Item> rows)
    {
        if (said.IsEmpty)
        {
            return Nothing;
        }

        var items = new Dictionary<string, Item>(StringComparer.Ordinal);
        var named = said.SelectMany(p => p.Keys).ToHashSet(StringComparer.Ordinal);
        foreach (var item in tenders.Concat(rows))
        {
            if (named.Contains(item.Key))
            {
                // A carried item and one of today of the same key are the same thing taken in twice: today's stands.
                items[item.Key] = items.TryGetValue(item.Key, out var there) && there.CarriedFrom is null ? there : item;
            }
        }

        var last = new Dictionary<string, Pairing>(StringComparer.Ordinal);
        foreach (var pairing in said)
        {
            foreach (var key in pairing.Keys)
            {
                last[key] = pairing;
            }
        }

        var (matches, parted, lapsed) = (new List<Match>(), new List<Item>(), new List<Pairing>());
        foreach (var pairing in said.Where(p => p.Keys.Any(k => last[k] == p)))
        {
            switch (pairing.Kind)
            {
                case PairingKind.Pair when pairing.Keys.All(k => last[k] == pairing && items.ContainsKey(k))
                    && Sides(pairing, items) is { } match:
                    matches.Add(match);
                    break;
                case PairingKind.Pair:
                    lapsed.Add(pairing);
                    break;
                case PairingKind.Part:
                    parted.AddRange(pairing.Keys.Where(k => last[k] == pairing && items.ContainsKey(k)).Select(k => items[k]));
                    break;
            }
        }

        return new([.. matches], [.. parted], [.. lapsed]);
    }

    /// <summary>Null where one side is empty.</summary>
    private static Match? Sides(Pairing pairing, Dictionary<string, Item> items)
    {
        var (journal, rows) = (pairing.Keys.Select(k => items[k]).Where(i => i.Row is null).Order().ToImmutableArray(),
            pairing.Keys.Select(k => items[k]).Where(i => i.Row is not null).Order().ToImmutableArray());
        return journal.IsEmpty || rows.IsEmpty ? null : new(journal, rows, MatchRule.ByHand);
    }
}
