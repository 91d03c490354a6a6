using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Sheets;

/// <summary>A bag on its way to the safe: as the journal has it, and as it was opened.</summary>
/// <param name="Drops">What was put into it, by time; empty where no drop of it was recorded.</param>
/// <param name="Counts">Attempt by attempt.</param>
public sealed record Bag(string Name, ImmutableArray<CashMovement> Drops, ImmutableArray<Count> Counts)
{
    /// <summary>Null where the journal does not know the bag.</summary>
    public Money? Recorded => Drops.IsEmpty ? null : Drops.Sum(d => d.Amount);

    public Money? Counted => Counts.IsEmpty ? null : Counts[^1].Cash;

    /// <summary>Whether it holds another amount than was recorded.</summary>
    public bool IsOff => Recorded is { } recorded && Counted is { } counted && recorded != counted;

    /// <summary>All bags of a day, those first that wait to be opened; then by time and name.</summary>
    public static ImmutableArray<Bag> In(Day day)
    {
        var drops = day.Journal.OfType<CashMovement>().Where(m => m is { Kind: EventKind.Drop, Bag: not null }).ToLookup(m => m.Bag!);
        var counts = day.Counts.Where(c => c is { Kind: CountKind.Drop, Bag: not null }).ToLookup(c => c.Bag!);
        return
        [
            .. drops.Select(d => d.Key).Union(counts.Select(c => c.Key))
                .Select(b => new Bag(b, [.. drops[b].OrderBy(d => d.At)],
                    [.. counts[b].OrderBy(c => (c.Attempt, c.At.UtcTicks)).ThenBy(c => c.Id, StringComparer.Ordinal)]))
                .OrderBy(b => !b.Counts.IsEmpty).ThenBy(b => b.Drops.IsEmpty ? b.Counts[0].At : b.Drops[0].At)
                .ThenBy(b => b.Name, StringComparer.Ordinal),
        ];
    }

    public static Bag Of(Day day, string name) => In(day).FirstOrDefault(b => b.Name == name) ?? new(name, [], []);
}
