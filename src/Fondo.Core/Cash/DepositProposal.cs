using Fondo.Core.Proof;

namespace Fondo.Core.Cash;

/// <summary>What goes to the bank out of what lies in the safe (rules §9): so much stays for change, in the proportions of a float, and the
/// rest goes.</summary>
public static class DepositProposal
{
    /// <param name="there">What lies in the safe.</param>
    /// <param name="stays">What should stay: exactly, or the nearest below it that these pieces make.</param>
    /// <returns>What goes, largest first.</returns>
    public static ImmutableArray<Pieces> Of(ImmutableArray<Pieces> there, Money stays, ImmutableArray<Denomination> denominations)
    {
        // Change is what floats are made of: so many of each as stand in so many floats.
        var worth = denominations.Sum(d => d.Worth * d.Kept).Minor;
        var wanted = denominations.Select(d =>
            d with { Kept = worth == 0 ? 0 : (int)Math.Min(int.MaxValue / 4, (decimal)d.Kept * stays.Minor / worth) });
        var kept = FloatToKeep.Choose(there, stays, [.. wanted]).ToDictionary(p => p.Denomination, p => p.Number);
        return
        [
            .. there.GroupBy(p => p.Denomination).Select(g => new Pieces(g.Key, g.Sum(p => p.Number) - kept.GetValueOrDefault(g.Key)))
                .Where(p => p.Number > 0).OrderByDescending(p => p.Denomination),
        ];
    }
}

/// <summary>One line of a deposit slip: so many straps or rolls, and so many loose.</summary>
/// <param name="Pack">Pieces to a strap or a roll; null where there are none.</param>
public sealed record SlipRow(Money Denomination, bool IsNote, int Packs, int Loose, int? Pack)
{
    public Money Worth => Denomination * ((Packs * (long)(Pack ?? 0)) + Loose);

    /// <summary>Notes in straps and coin in rolls as far as they go, the rest loose; largest first.</summary>
    public static ImmutableArray<SlipRow> Of(ImmutableArray<Pieces> pieces, ImmutableArray<Denomination> denominations) =>
    [
        .. pieces.OrderByDescending(p => p.Denomination)
            .Select(p => (Pieces: p, Kind: denominations.FirstOrDefault(d => d.Worth == p.Denomination)))
            .Select(p => p.Kind?.Pack is { } pack
                ? new SlipRow(p.Pieces.Denomination, p.Kind.IsNote, p.Pieces.Number / pack, p.Pieces.Number % pack, pack)
                : new SlipRow(p.Pieces.Denomination, p.Kind?.IsNote ?? true, 0, p.Pieces.Number, null)),
    ];
}
