using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Proof;

namespace Fondo.Core.Leads;

/// <summary>An explanation offered for a cell that is off (rules §6).</summary>
/// <param name="Rank">1 for what belongs to the most probable explanation of its cell: several leads, where only together they explain
/// it.</param>
/// <param name="Explains">What it would explain of the cell's variance.</param>
/// <param name="Keys">The evidence.</param>
/// <param name="Says">A sentence for people.</param>
/// <param name="Entry">The postings of an entry that would explain it; over all cells that it touches.</param>
/// <param name="Chance">How probable it is that the lead is wrong, 0 to 1.</param>
public sealed record Lead(CellKey Cell, int Rank, LeadKind Kind, Money Explains, ImmutableArray<string> Keys, string Says,
    ImmutableArray<Posting> Entry, double Chance)
{
    /// <summary>Of a slip of the count: what really lies there more, or less, than was counted, by denomination; empty where it cannot be
    /// said in whole pieces.</summary>
    public ImmutableArray<Pieces> Found { get; init; } = [];
}
