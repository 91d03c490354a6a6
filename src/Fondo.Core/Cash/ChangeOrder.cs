using Fondo.Core.Proof;

namespace Fondo.Core.Cash;

/// <summary>What is missing of one denomination, and how it is bought.</summary>
/// <param name="There">Pieces that there are, in the safe and in the floats.</param>
/// <param name="Wanted">Pieces that the floats of the days ahead should have.</param>
/// <param name="Packs">Straps or rolls to buy.</param>
/// <param name="Pack">Pieces to one of them.</param>
public sealed record ChangeLine(Money Denomination, bool IsNote, int There, int Wanted, int Packs, int Pack)
{
    public Money Worth => Denomination * ((long)Packs * Pack);
}

/// <summary>What to buy from the bank, in whole straps and rolls, so that floats reach the pieces that they should have (rules
/// §9).</summary>
public static class ChangeOrder
{
    /// <param name="there">What there is for floats and for change.</param>
    /// <param name="floats">So many floats have to be made before the change comes, and used up since.</param>
    public static ImmutableArray<ChangeLine> Of(ImmutableArray<Pieces> there, int floats, ImmutableArray<Denomination> denominations) =>
    [
        .. denominations.Where(d => d is { Pack: not null, Kept: > 0 })
            .Select(d => (Kind: d, There: there.Where(p => p.Denomination == d.Worth).Sum(p => p.Number), Wanted: d.Kept * floats))
            .Where(d => d.There < d.Wanted)
            .Select(d => new ChangeLine(d.Kind.Worth, d.Kind.IsNote, d.There, d.Wanted,
                (d.Wanted - d.There + d.Kind.Pack!.Value - 1) / d.Kind.Pack.Value, d.Kind.Pack.Value)),
    ];
}
