namespace Fondo.Standins.Terminals;

/// <summary>A transaction that a terminal holds until it settles. Amounts in minor units, positive on sales and refunds alike.</summary>
/// <param name="Benefit">food, cash, or nothing.</param>
public sealed record HeldRow(DateTimeOffset At, bool IsRefund, long Amount, long Tip, long Cashback, string? Brand, string? Card,
    string? Auth, string? Rrn, string? Entry, string? Benefit);

/// <summary>A batch that a terminal closed. What the host says it settled may be more than the rows that it gives out.</summary>
public sealed record ClosedBatch(string Terminal, string Batch, DateTimeOffset Closed, BatchTotals Totals, IReadOnlyList<HeldRow> Rows);

/// <summary>Number and amount.</summary>
public readonly record struct Sum(int Number, long Amount);

/// <summary>The reconciliation elements of ISO 8583 (74 to 89 and 97, from memory), for the holder of the card: sales are debits, refunds
/// credits.</summary>
/// <param name="Reversals">What was taken back before it settled.</param>
public sealed record BatchTotals(Sum Debits, Sum Credits, Sum Reversals, IReadOnlyList<BrandTotals> Brands)
{
    public long Net => Debits.Amount - Credits.Amount;

    public static BatchTotals Of(IReadOnlyCollection<HeldRow> rows, Sum reversals) => new(
        Of(rows.Where(r => !r.IsRefund)), Of(rows.Where(r => r.IsRefund)), reversals,
        [.. rows.GroupBy(r => (Brand: r.Brand ?? "", r.Benefit)).OrderBy(g => g.Key)
            .Select(g => new BrandTotals(g.Key.Brand, g.Key.Benefit, Of(g.Where(r => !r.IsRefund)), Of(g.Where(r => r.IsRefund))))]);

    private static Sum Of(IEnumerable<HeldRow> rows) => rows.Aggregate(new Sum(), (sum, r) => new(sum.Number + 1, sum.Amount + r.Amount));
}

/// <summary>The totals of one brand, benefits by their kind.</summary>
public sealed record BrandTotals(string Brand, string? Benefit, Sum Debits, Sum Credits);

/// <summary>What a host does otherwise than it should, when told to.</summary>
public enum HostFault
{
    None,

    /// <summary>Answers after some seconds.</summary>
    Slow,

    /// <summary>Refuses to settle.</summary>
    Refuses,

    /// <summary>Settles, and the answer never arrives.</summary>
    TimesOut,

    /// <summary>Does not answer at all, and does nothing.</summary>
    Silent,

    /// <summary>What it is told to settle never arrives; it answers everything else.</summary>
    LosesOrders,

    /// <summary>Tells of every batch twice.</summary>
    SendsTwice,

    /// <summary>Gives out fewer rows than it says it settled.</summary>
    RowsMissing,

    /// <summary>Leaves the last rows behind, for the next batch.</summary>
    LeavesBehind,

    /// <summary>Voids and reversals never arrive.</summary>
    LosesVoids,
}
