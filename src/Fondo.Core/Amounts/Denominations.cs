namespace Fondo.Core.Amounts;

/// <summary>A note or a coin that a drawer may hold.</summary>
/// <param name="Pack">Pieces to a strap of notes or a roll of coins; null where there are none.</param>
/// <param name="Grams">What one piece weighs; null where it is not known.</param>
/// <param name="Kept">How many pieces a float should have, where it can.</param>
public sealed record Denomination(Money Worth, bool IsNote, int? Pack = null, decimal? Grams = null, int Kept = 0);

public static class Denominations
{
    /// <summary>Federal Reserve, from memory.</summary>
    private const int Strap = 100;

    /// <summary>US dollars, largest first. Weights: United States Mint, coin specifications; rolls and straps: Federal Reserve; both from memory.</summary>
    private static readonly ImmutableArray<Denomination> _dollars =
    [
        new(new(100_00), true, Strap, 1), new(new(50_00), true, Strap, 1), new(new(20_00), true, Strap, 1, Kept: 2), new(new(10_00), true, Strap, 1, Kept: 4),
        new(new(5_00), true, Strap, 1, Kept: 8), new(new(2_00), true, Strap, 1), new(new(1_00), true, Strap, 1, Kept: 40),
        new(new(50), false, 20, 11.340m), new(new(25), false, 40, 5.670m, Kept: 80), new(new(10), false, 50, 2.268m, Kept: 100),
        new(new(5), false, 40, 5.000m, Kept: 120), new(new(1), false, 50, 2.500m, Kept: 400),
    ];

    /// <summary>What is counted in this currency, largest first. For a currency that Fondo has no list of: the 1-2-5 series.</summary>
    public static ImmutableArray<Denomination> Of(Currency currency) => currency.Code == "USD" ? _dollars : Series(currency);

    private static ImmutableArray<Denomination> Series(Currency currency)
    {
        long[] steps = [500, 200, 100, 50, 20, 10, 5, 2, 1];
        var hundredth = Math.Max(1, currency.Unit / 100);
        return
        [
            .. steps.Select(s => new Denomination(new(s * currency.Unit), s >= 5, s >= 5 ? Strap : null)),
            .. steps.Where(s => s <= 50 && s * hundredth < currency.Unit).Select(s => new Denomination(new(s * hundredth), false)),
        ];
    }
}
