using Fondo.Core.Journal;

namespace Fondo.Core.Days;

/// <summary>One tender of one register; for count-proved tenders, of one drawer session.</summary>
/// <param name="Register">Null only for rows of a terminal that stood nowhere.</param>
/// <param name="Drawer">Null unless the tender is proved by a count.</param>
public readonly record struct CellKey(RegisterId? Register, DrawerId? Drawer, TenderId Tender) : IComparable<CellKey>
{
    public int CompareTo(CellKey other) =>
        Ordinal(Register?.Value, other.Register?.Value) is var r and not 0 ? r
        : Ordinal(Drawer?.Value, other.Drawer?.Value) is var d and not 0 ? d
        : Ordinal(Tender.Value, other.Tender.Value);

    private static int Ordinal(string? a, string? b) => string.CompareOrdinal(a, b);

    public override string ToString() => $"{Register?.Value ?? "-"}/{Drawer?.Value ?? "-"}/{Tender.Value}";
}

public enum CellState
{
    /// <summary>The proof is still to come.</summary>
    Waiting,
    Proved,
    Off,

    /// <summary>The store's own books were not taken in: nothing to prove it against.</summary>
    JournalOnly,
}

/// <summary>What should be there, what is shown to be there, and whether the two agree (rules §1).</summary>
/// <param name="Proof">Null while there is none.</param>
/// <param name="ExpectedCount">How many tenders are behind the amount.</param>
/// <param name="ProofCount">How many rows, checks or book lines; null for cash, coupons and vouchers.</param>
public sealed record Cell(CellKey Key, Money Expected, int ExpectedCount, Money? Proof, int? ProofCount, CellState State)
{
    /// <summary>Proof less expected: negative is short, positive is over; null while there is no proof.</summary>
    public Money? Variance => Proof - Expected;
}
