using Fondo.Core.Proof;

namespace Fondo.Core.Cash;

/// <summary>Pieces for a float of a given worth, before anything was counted: exactly that worth where its pieces allow, in the mix that
/// the store's floats should have, larger or smaller in proportion. Where no mix is known, small notes and coins in equal shares.</summary>
public static class FloatProposal
{
    /// <summary>Nobody keeps more of one kind in a drawer (common practice).</summary>
    private const int MostOfOneKind = 400;

    /// <summary>Nobody begins a day with more: it would be the vault of a bank.</summary>
    private const int MostSteps = 1_000_000;

    /// <returns>Largest first; kinds of which there are none are left out.</returns>
    public static ImmutableArray<Pieces> For(Money worth, ImmutableArray<Denomination> denominations)
    {
        if (worth.Sign <= 0 || denominations.IsEmpty || worth.Minor / denominations.Min(d => d.Worth.Minor) > MostSteps)
        {
            return [];
        }

        var mix = Mix(worth, denominations);
        var usual = mix.Sum(d => d.Worth.Minor * d.Kept);
        ImmutableArray<Denomination> wanted =
            [.. mix.Select(d => d with { Kept = (int)Math.Round(d.Kept * (decimal)worth.Minor / usual, MidpointRounding.AwayFromZero) })];
        ImmutableArray<Pieces> unlimited = [.. wanted.Where(d => d.Worth <= worth)
            .Select(d => new Pieces(d.Worth, (int)Math.Min(worth.Minor / d.Worth.Minor, Math.Max(MostOfOneKind, d.Kept * 2L))))];
        return FloatToKeep.Choose(unlimited, worth, wanted);
    }

    private static ImmutableArray<Denomination> Mix(Money worth, ImmutableArray<Denomination> denominations)
    {
        if (denominations.Any(d => d.Kept > 0 && d.Worth <= worth))
        {
            return denominations;
        }

        // A tenth of the float in each kind that is at most a tenth of it.
        var small = worth.Minor / 10;
        ImmutableArray<Denomination> mix = [.. denominations.Select(d => d with
        {
            Kept = d.Worth.Minor <= small ? (int)Math.Min(MostOfOneKind, Math.Max(1, small / d.Worth.Minor)) : 0,
        })];
        return mix.Any(d => d.Kept > 0) ? mix : [.. mix.SkipLast(1), mix[^1] with { Kept = 1 }];
    }
}
