using Fondo.Core.Cells;

namespace Fondo.Core.Entries;

/// <summary>From expected over the entries to the proof: what is explained so far and what is left of a cell's variance.</summary>
/// <param name="Entries">The entries that touch the cell, in the order made; those that wait for approval included, withdrawn ones
/// not.</param>
public sealed record Bridge(Cell Cell, ImmutableArray<Entry> Entries, Money Tolerance)
{
    /// <param name="entries">All entries of the day.</param>
    /// <param name="tolerance">As the set-up says of the cell's tender.</param>
    public static Bridge Of(Cell cell, IReadOnlyCollection<Entry> entries, Money tolerance) => new(
        cell,
        [.. entries.Where(e => e.Touches(cell.Key) && !e.IsWithdrawn(entries)).OrderBy(e => e.At).ThenBy(e => e.Id)],
        tolerance);

    /// <summary>What the entries that hold explain.</summary>
    public Money Explained => Entries.Where(e => e.Holds).Sum(e => e.On(Cell.Key));

    /// <summary>The variance that no entry explains yet; null while there is no proof.</summary>
    public Money? Left => Cell.Variance - Explained;

    /// <summary>What would be explained besides, if everything that waits for approval were approved.</summary>
    public Money Pending => Entries.Where(e => !e.Holds).Sum(e => e.On(Cell.Key));

    /// <summary>What neither an entry that holds nor one that waits explains; null while there is no proof.</summary>
    public Money? ToExplain => Left - Pending;

    public bool AwaitsApproval => Entries.Any(e => !e.Holds);

    /// <summary>What entries that no second person looked at have moved in this cell, in sizes, so that slices do not hide each other
    /// (rules §11).</summary>
    /// <param name="kind">Null: of any kind.</param>
    public Money Unwitnessed(EntryKind? kind = null) =>
        Entries.Where(e => Stands(e) && !e.NeedsApproval && (kind is null || e.Kind == kind)).Sum(e => e.On(Cell.Key).Abs());

    /// <summary>Off, and entries account for it to the cent; a rest within the tolerance is accepted by an entry of its own. A difference
    /// in number alone wants an entry too, though its amount is nothing.</summary>
    public bool IsExplained =>
        Cell.State == CellState.Off && Entries.Any(Stands) && Left is { IsZero: true };

    /// <summary>Proved once, but entries now say otherwise (a transfer posted to it).</summary>
    public bool IsUpset => Cell.State == CellState.Proved && Left is { } left && left.Abs() > Tolerance;

    /// <summary>Whether somebody still has to do something about this cell's amount.</summary>
    public bool IsUnresolved => IsUpset || (Cell.State == CellState.Off && !IsExplained);

    private bool Stands(Entry entry) => entry.Stands(Entries);
}
