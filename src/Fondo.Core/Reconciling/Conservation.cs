using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.SetUp;

namespace Fondo.Core.Reconciling;

/// <summary>What is never lost over the batch-proved cells (rules §5): Σ proof − Σ expected = Σ differences + Σ open rows − Σ open tenders;
/// and what is proved as totals.</summary>
public static class Conservation
{
    /// <summary>Carried items are in no cell of today: a match of a carried tender adds its amount, a match of a carried row takes it
    /// away.</summary>
    public static void Assert(Reconciliation result, IReadOnlyDictionary<TenderId, ProofKind> proofs)
    {
        var cells = result.Cells.Where(c => c.Key is CellKey.Takings taken && proofs[taken.Tender] == ProofKind.Batch)
            .Sum(c => c.Variance ?? Money.Zero);
        var items = Money.Zero;
        foreach (var match in result.Matches)
        {
            items += match.Pair is var (tender, row) ? Today(row) - Today(tender) : match.Rows.Sum(Today) - match.Journal.Sum(Today);
        }

        foreach (var open in result.OpenItems)
        {
            items += open.Side == OpenIn.Batch ? Today(open.Item) : -Today(open.Item);
        }

        // What is proved as totals has no items: the totals less the tenders that they stand for.
        var printed = new PrintedTotals(result.Day);
        items += printed.Lines.Sum(l => l.Signed);
        if (!printed.Lines.IsEmpty)
        {
            items -= Standing.Tenders(result.Day, new(result.Day))
                .Where(t => proofs[t.Tender.Type] == ProofKind.Batch && printed.Proves(t.Tender)).Sum(t => t.Tender.Amount);
        }

        if (cells != items)
        {
            throw new InvalidOperationException($"Not conserved: cells say {cells.Minor}, matches and open items say {items.Minor}.");
        }
    }

    /// <summary>What an item is worth in the cells of today: carried ones are in none.</summary>
    private static Money Today(Item item) => item.CarriedFrom is null ? item.Amount : Money.Zero;
}
