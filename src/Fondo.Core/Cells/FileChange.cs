using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Cells;

/// <summary>What files change in a cell that had been judged before they came: counted or settled, and found right or off.</summary>
/// <param name="After">Null where the cell is gone.</param>
public sealed record FileChange(CellKey Cell, Cell Before, Cell? After)
{
    private Money ProofBefore => Before.Proof ?? Money.Zero;

    private Money ProofAfter => After?.Proof ?? Money.Zero;

    private Money ExpectedAfter => After?.Expected ?? Money.Zero;

    /// <summary>The largest of what changes: what should be there, what is shown to be there, or the difference of the two. Never
    /// negative.</summary>
    public Money Amount => new[]
    {
        (ExpectedAfter - Before.Expected).Abs(),
        (ProofAfter - ProofBefore).Abs(),
        (ProofAfter - ExpectedAfter - (ProofBefore - Before.Expected)).Abs()
    }.Max();

    /// <summary>The changes, largest first.</summary>
    /// <param name="sent">The registers whose journal had begun to come in before: the first journal of a register changes nothing that
    /// anybody had judged.</param>
    public static ImmutableArray<FileChange> Of(IEnumerable<Cell> before, IReadOnlyDictionary<CellKey, Cell> after,
        IReadOnlySet<RegisterId> sent) =>
    [
        .. before.Where(c => c.State is CellState.Proved or CellState.Off
            && (c.Key.IsPlace || (c.Key.Register is { } register && sent.Contains(register))))
            .Select(c => new FileChange(c.Key, c, after.GetValueOrDefault(c.Key)))
            .Where(c => !c.Amount.IsZero)
            .OrderByDescending(c => c.Amount).ThenBy(c => c.Cell),
    ];
}
