using Fondo.Core.Days;
using Fondo.Core.Proof;

namespace Fondo.Core.Checks;

/// <summary>A batch whose rows do not add up to what its host says it settled: it is incomplete.</summary>
/// <param name="SalesAmount">What the rows add up to.</param>
public sealed record BatchTotalDifference(BatchTotal Total, int SalesCount, Money SalesAmount, int RefundsCount, Money RefundsAmount)
{
    /// <summary>The key that names the batch: terminal/batch.</summary>
    public string Key => $"{Total.Terminal.Value}/{Total.Batch}";

    public static ImmutableArray<BatchTotalDifference> In(Day day)
    {
        if (day.Rows is not { } rows || day.Totals.IsEmpty)
        {
            return [];
        }

        var batches = rows.ToLookup(r => (r.Key.Terminal, r.Key.Batch));
        return
        [
            .. day.Totals.Select(t =>
            {
                var sales = batches[(t.Terminal, t.Batch)].Where(r => r.Direction == Direction.Sale).ToList();
                var refunds = batches[(t.Terminal, t.Batch)].Where(r => r.Direction == Direction.Refund).ToList();
                return new BatchTotalDifference(t, sales.Count, sales.Sum(r => r.Amount), refunds.Count, refunds.Sum(r => r.Amount));
            })
            .Where(d => d.SalesCount != d.Total.SalesCount || d.SalesAmount != d.Total.SalesAmount
                || d.RefundsCount != d.Total.RefundsCount || d.RefundsAmount != d.Total.RefundsAmount)
            .OrderBy(d => d.Key, StringComparer.Ordinal),
        ];
    }
}
