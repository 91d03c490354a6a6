using System.Runtime.InteropServices;
using Fondo.Core.Days;
using Fondo.Core.Journal;
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

        var sums = new Dictionary<(TerminalId, string, Direction), (int Number, Money Amount)>();
        foreach (var row in rows.Concat(day.RowsAgain))
        {
            ref var sum = ref CollectionsMarshal.GetValueRefOrAddDefault(sums, (row.Key.Terminal, row.Key.Batch, row.Direction), out _);
            sum = (sum.Number + 1, sum.Amount + row.Amount);
        }

        return
        [
            .. day.Totals.Select(t =>
            {
                var (sales, refunds) = (sums.GetValueOrDefault((t.Terminal, t.Batch, Direction.Sale)),
                    sums.GetValueOrDefault((t.Terminal, t.Batch, Direction.Refund)));
                return new BatchTotalDifference(t, sales.Number, sales.Amount, refunds.Number, refunds.Amount);
            })
            .Where(d => d.SalesCount != d.Total.SalesCount || d.SalesAmount != d.Total.SalesAmount
                || d.RefundsCount != d.Total.RefundsCount || d.RefundsAmount != d.Total.RefundsAmount)
            .OrderBy(d => d.Key, StringComparer.Ordinal),
        ];
    }
}
