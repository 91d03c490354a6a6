using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Reconciling;

namespace Fondo.Core.Leads;

/// <summary>Takes off what entries explain, approved or waiting, before leads are looked for (rules §11): a lead that was taken is not
/// offered again, and the best for what is left comes first.</summary>
public static class Explained
{
    /// <summary>The leads for what is left.</summary>
    public static LeadsFound Leads(Reconciliation result, IReadOnlyCollection<Entry> entries)
    {
        var counted = Counted(entries);
        var left = Without(result, counted);
        var taken = counted.Where(e => !e.Evidence.IsEmpty).Select(e => Key(e.Evidence)).ToHashSet(StringComparer.Ordinal);
        var bags = counted.Select(e => (e.Detail as EntryDetail.Moved)?.Bag).OfType<string>().ToHashSet(StringComparer.Ordinal);
        return LeadGround.Of(left.Day, left.Cells) is { } ground ? LeadFinder.Of(left, ground, IsTaken) : LeadsFound.Nothing;

        // One bag was dropped once, out of whichever drawer it was.
        bool IsTaken(Explanation e) => (!e.Keys.IsEmpty && taken.Contains(Key(e.Keys)))
            || (e.Remedy is LeadRemedy.Record { Bag: { } bag } && bags.Contains(bag));
    }

    /// <summary>The entries that explain something, or will once they are approved.</summary>
    public static IReadOnlyList<Entry> Counted(IReadOnlyCollection<Entry> entries) =>
        [.. entries.Where(e => e.Kind != EntryKind.Reverse && (e.Holds ? e.Stands(entries) : !e.IsWithdrawn(entries)))];

    private static string Key(IEnumerable<string> evidence) => string.Join('\n', evidence.Order(StringComparer.Ordinal));

    /// <summary>The day as if what was explained were in order: its cells less what was explained, its items less those that were
    /// named.</summary>
    private static Reconciliation Without(Reconciliation result, IReadOnlyList<Entry> entries)
    {
        var amounts = entries.SelectMany(e => e.Postings).GroupBy(p => p.Cell).ToDictionary(g => g.Key, g => g.Sum(p => p.Amount));
        var used = entries.SelectMany(e => e.Evidence).ToHashSet(StringComparer.Ordinal);
        return result with
        {
            Cells = [.. result.Cells.Select(c => amounts.TryGetValue(c.Key, out var amount)
                ? Less(c, amount, result.Day.Setup.ToleranceOf(c.Key))
                : c)],
            OpenItems = [.. result.OpenItems.Where(o => !used.Contains(o.Item.Key))],
            Matches = [.. result.Matches.Where(m => m.IsPlain || !m.Journal.Concat(m.Rows).Any(i => used.Contains(i.Key)))],
        };
    }

    private static Cell Less(Cell cell, Money explained, Money tolerance)
    {
        var left = cell with { Expected = cell.Expected + explained };
        return left.Variance is not { } variance
            ? left
            : left with { State = variance.Abs() <= tolerance ? CellState.Proved : CellState.Off };
    }
}
