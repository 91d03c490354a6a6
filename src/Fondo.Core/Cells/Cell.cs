using Fondo.Core.Days;

namespace Fondo.Core.Cells;

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
