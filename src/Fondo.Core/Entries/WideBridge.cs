namespace Fondo.Core.Entries;

/// <summary>One step of a bridge over several cells: all entries of a kind.</summary>
/// <param name="Pending">What waits for a second person.</param>
public readonly record struct WideStep(EntryKind Kind, Money Held, Money Pending);

/// <summary>The bridge over a register or the day: what should be there, what entries of each kind explain, what proves, and what is left.
/// Cells without a proof are left out, on both sides: expected + steps + left = proof.</summary>
/// <param name="Waiting">How many cells have no proof yet.</param>
/// <param name="Within">What is over or short within the tolerance of proved cells, and asks for nothing.</param>
public sealed record WideBridge(Money Expected, ImmutableArray<WideStep> Steps, Money Proof, Money Left, Money Within, int Waiting)
{
    public static WideBridge Of(IEnumerable<Bridge> bridges)
    {
        var all = bridges.ToList();
        var proved = all.Where(b => b.Left is not null).ToList();
        var steps = Enum.GetValues<EntryKind>()
            .Select(k => new WideStep(k, proved.Sum(b => Of(b, k, holds: true)), proved.Sum(b => Of(b, k, holds: false))))
            .Where(s => !s.Held.IsZero || !s.Pending.IsZero);
        var within = proved.Where(b => !b.IsUnresolved).Sum(b => b.Left!.Value);
        return new(proved.Sum(b => b.Cell.Expected), [.. steps], proved.Sum(b => b.Cell.Proof!.Value), proved.Sum(b => b.Left!.Value),
            within, all.Count - proved.Count);
    }

    private static Money Of(Bridge bridge, EntryKind kind, bool holds) =>
        bridge.Entries.Where(e => e.Kind == kind && e.Holds == holds).Sum(e => e.On(bridge.Cell.Key));
}
