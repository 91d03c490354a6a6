using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Matching;

/// <summary>What must be equal on both sides. Parts that do not matter are left at their defaults.</summary>
internal readonly record struct Agreed(Code First, string? Second, Direction Direction, Money Amount)
{
    public override int GetHashCode() => QuickHash.Of(Second, null, First.GetHashCode() ^ ((Amount.Minor << 1) | (long)Direction));
}

/// <summary>One way in which a tender and a row agree.</summary>
/// <param name="OfTender">What must agree; null for an item that lacks it.</param>
/// <param name="OfRow">The same for a row; as for a tender where null.</param>
/// <param name="InWindow">Whether the two must lie within the matching window.</param>
/// <param name="HeedsCard">Whether the last four must agree where both have them.</param>
/// <param name="Fits">What else must hold for the two; null for nothing.</param>
internal sealed record Agreement(Func<Item, Agreed?> OfTender, Func<Item, Agreed?>? OfRow = null, bool InWindow = false,
    bool HeedsCard = false, Func<Item, Item, bool>? Fits = null)
{
    /// <summary>Whether two items whose agreed parts are equal may be paired, time apart.</summary>
    public bool Allows(Item tender, Item row) =>
        (!HeedsCard || tender.Card.LastFour is not { } a || row.Card.LastFour is not { } b || a == b)
            && (Fits is null || Fits(tender, row));

    /// <summary>Whether any two of these could be paired, time apart, so that time alone decides.</summary>
    public bool AllowsAll(Item[] journal, Item[] rows) =>
        Fits is null && (!HeedsCard || journal.All(j => j.Card.LastFour is null) || rows.All(r => r.Card.LastFour is null)
            || journal.Concat(rows).Select(i => i.Card.LastFour).OfType<string>().Distinct().Count() == 1);
}
