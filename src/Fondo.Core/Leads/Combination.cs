using Fondo.Core.Days;

namespace Fondo.Core.Leads;

/// <summary>Leads that belong together: what is most probable in one cell, with what is most probable in the cells that it touches. Each
/// thing that happened is there once.</summary>
/// <param name="Cells">All that the leads touch.</param>
public sealed record Combination(ImmutableArray<Lead> Leads, ImmutableArray<CellKey> Cells)
{
    /// <summary>The smallest consistent combination around a cell; the cell's own best leads alone where the rest does not add up. Empty
    /// where the cell has none.</summary>
    /// <param name="left">What is left of a cell to explain; null where nothing is asked of it.</param>
    public static Combination Around(CellKey cell, IEnumerable<Lead> leads, Func<CellKey, Money?> left)
    {
        var best = leads.Where(l => l.Rank == 1).ToLookup(l => l.Cell);
        var (found, cells, next) = (new List<Lead>(), new HashSet<CellKey> { cell }, new Queue<CellKey>([cell]));
        while (next.TryDequeue(out var at))
        {
            foreach (var lead in best[at].Where(l => !found.Any(f => IsSame(f, l))))
            {
                found.Add(lead);
                foreach (var touched in lead.Entry.Where(p => cells.Add(p.Cell)))
                {
                    next.Enqueue(touched.Cell);
                }
            }
        }

        var whole = new Combination([.. found], [.. cells.Order()]);
        return whole.Explains(left)
            ? whole
            : new Combination([.. best[cell]],
                [.. best[cell].SelectMany(l => l.Entry).Select(p => p.Cell).Append(cell).Distinct().Order()]);
    }

    /// <summary>Whether the leads together come to exactly what is left of every cell that they touch.</summary>
    public bool Explains(Func<CellKey, Money?> left) => Explained(left).Count() == Cells.Length;

    /// <summary>The cells of which the leads together come to exactly what is left.</summary>
    public IEnumerable<CellKey> Explained(Func<CellKey, Money?> left) => Cells.Where(c => left(c) is { } rest && On(c) == rest);

    public Money On(CellKey cell) => Leads.SelectMany(l => l.Entry).Where(p => p.Cell == cell).Sum(p => p.Amount);

    /// <summary>Whether two leads, each offered for a cell of its own, say the same.</summary>
    public static bool IsSame(Lead a, Lead b) => a.Kind == b.Kind && a.Keys.SequenceEqual(b.Keys) && a.Entry.ToHashSet().SetEquals(b.Entry);
}
