using Fondo.Core.Journal;
using Fondo.Core.Matching;

namespace Fondo.Core.Days;

/// <summary>What is never lost over the batch-proved cells (rules §5): Σ proof − Σ expected = Σ differences + Σ open rows − Σ open tenders.</summary>
public static class Conservation
{
    /// <summary>Carried items are in no cell of today: a match of a carried tender adds its amount, a match of a carried row takes it away.</summary>
    public static void Assert(Reconciliation result, IReadOnlyDictionary<TenderId, ProofKind> proofs)
    {
        var cells = result.Cells.Where(c => proofs[c.Key.Tender] == ProofKind.Batch).Sum(c => c.Variance ?? Money.Zero);
        var items = result.Matches.Sum(m => m.Difference + Carried(m.Journal) - Carried(m.Rows))
            + result.OpenItems.Where(o => o.Item.CarriedFrom is null).Sum(o => o.Side == Side.Batch ? o.Item.Amount : -o.Item.Amount);
        if (cells != items)
        {
            throw new InvalidOperationException($"Not conserved: cells say {cells.Minor}, matches and open items say {items.Minor}.");
        }

        static Money Carried(IEnumerable<Item> items) => items.Where(i => i.CarriedFrom is not null).Sum(i => i.Amount);
    }
}
