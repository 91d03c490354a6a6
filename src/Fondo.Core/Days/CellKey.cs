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

    public override int GetHashCode() => QuickHash.Of(Register?.Value, Drawer?.Value, Tender.Value);

    public override string ToString() => $"{Register?.Value ?? "-"}/{Drawer?.Value ?? "-"}/{Tender.Value}";
}
