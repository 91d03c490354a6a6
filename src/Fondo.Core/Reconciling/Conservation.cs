using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.SetUp;

namespace Fondo.Core.Reconciling;

/// <summary>What is never lost over the batch-proved cells (rules §5): Σ proof − Σ expected = Σ differences + Σ open rows − Σ open tenders; and what is proved as totals.</summary>
public static class Conservation
{
    /// <summary>Carried items are in no cell of today: a match of a carried tender adds its amount, a match of a carried row takes it away.</summary>
    public static void Assert(Reconciliation result, IReadOnlyDictionary<TenderId, ProofKind> proofs)
    {
        var cells = result.Cells.Where(c => proofs[c.Key.Tender] == ProofKind.Batch).Sum(c => c.Variance ?? Money.Zero);
        var items = Money.Zero;
        foreach (var match in result.Matches)
        {
            items += Today(match.Rows) - Today(match.Journal);
        }

        foreach (var open in result.OpenItems)
        {
            var amount = open.Item.CarriedFrom is null ? open.Item.Amount : Money.Zero;
            items += open.Side == OpenIn.Batch ? amount : -amount;
        }

        // What is proved as totals has no items: the totals less the tenders that they stand for.
        var printed = new PrintedTotals(result.Day);
        items += printed.Lines.Sum(l => l.Signed);
        if (!printed.Lines.IsEmpty)
        {
            items -= Standing.Tenders(result.Day, new(result.Day)).Where(t => proofs[t.Tender.Type] == ProofKind.Batch && printed.Proves(t.Tender)).Sum(t => t.Tender.Amount);
        }

        if (cells != items)
        {
            throw new InvalidOperationException($"Not conserved: cells say {cells.Minor}, matches and open items say {items.Minor}.");
        }
    }

    /// <summary>What today's items add up to: the difference of a match, with its carried tenders added and its carried rows taken away.</summary>
    private static Money Today(ImmutableArray<Item> items)
    {
        var sum = Money.Zero;
        foreach (var item in items)
        {
            sum += item.CarriedFrom is null ? item.Amount : Money.Zero;
        }

        return sum;
    }
}
