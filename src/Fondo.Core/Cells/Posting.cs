using Fondo.Core.Days;

namespace Fondo.Core.Cells;

/// <summary>What an entry explains of one cell's variance.</summary>
/// <param name="Amount">Signed like the variance: −300.00 explains 300.00 short.</param>
public readonly record struct Posting(CellKey Cell, Money Amount);
