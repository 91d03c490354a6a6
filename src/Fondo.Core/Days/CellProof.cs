using Fondo.Core.SetUp;

namespace Fondo.Core.Days;

/// <summary>What the set-up says of a cell.</summary>
public static class CellProof
{
    /// <summary>What proves a register's takings; null for a place of the store's own money.</summary>
    public static ProofKind? ProofOf(this Setup setup, CellKey cell) =>
        cell is CellKey.Takings takings ? setup.Find(takings.Tender)?.Proof : null;

    /// <summary>By how much a cell may be off and still prove: takings as their tender says, the safe as cash, other places not at
    /// all.</summary>
    public static Money ToleranceOf(this Setup setup, CellKey cell) => cell switch
    {
        CellKey.Takings takings => setup.ToleranceOf(takings.Tender),
        CellKey.Safe => setup.Policy.CashTolerance,
        _ => Money.Zero,
    };
}
