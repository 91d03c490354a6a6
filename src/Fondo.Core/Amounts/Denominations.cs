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

    /// <summary>US dollars, largest first. Weights: United States Mint, coin specifications; rolls and straps: Federal Reserve; both from
    /// memory.</summary>
    private static readonly ImmutableArray<Denomination> _dollars =
    [
        new(new(100_00), true, Strap, 1),
        new(new(50_00), true, Strap, 1),
        new(new(20_00), true, Strap, 1, Kept: 2),
        new(new(10_00), true, Strap, 1, Kept: 4),
        new(new(5_00), true, Strap, 1, Kept: 8), new(new(2_00), true, Strap, 1), new(new(1_00), true, Strap, 1, Kept: 40),
        new(new(50), false, 20, 11.340m), new(new(25), false, 40, 5.670m, Kept: 80), new(new(10), false, 50, 2.268m, Kept: 100),
        new(new(5), false, 40, 5.000m, Kept: 120), new(new(1), false, 50, 2.500m, Kept: 400),
    ];

    /// <summary>Canadian dollars: Royal Canadian Mint and Bank of Canada, from memory. The cent is no longer struck; where cash is rounded,
    /// nobody counts it.</summary>
    private static readonly ImmutableArray<Denomination> _canadian =
    [
        Note(100_00), Note(50_00), Note(20_00, 2), Note(10_00, 4), Note(5_00, 8),
        Coin(2_00, 25, 6.92m, 15), Coin(1_00, 25, 6.27m, 25), Coin(25, 40, 4.40m, 60), Coin(10, 50, 1.75m, 60), Coin(5, 40, 3.95m, 80),
        Coin(1, 50, 2.35m),
    ];

    /// <summary>Euro: European Central Bank, weights and rolls from memory.</summary>
    private static readonly ImmutableArray<Denomination> _euro =
    [
        Note(500_00), Note(200_00), Note(100_00), Note(50_00), Note(20_00, 2), Note(10_00, 4), Note(5_00, 8),
        Coin(2_00, 25, 8.50m, 10), Coin(1_00, 25, 7.50m, 20), Coin(50, 40, 7.80m, 40), Coin(20, 40, 5.74m, 50), Coin(10, 40, 4.10m, 60),
        Coin(5, 50, 3.92m, 40), Coin(2, 50, 3.06m, 50), Coin(1, 50, 2.30m, 100),
    ];

    /// <summary>Pounds sterling: Royal Mint and Bank of England, weights and bags from memory.</summary>
    private static readonly ImmutableArray<Denomination> _sterling =
    [
        Note(50_00), Note(20_00, 2), Note(10_00, 4), Note(5_00, 8),
        Coin(2_00, 10, 12.00m, 10), Coin(1_00, 20, 8.75m, 30), Coin(50, 20, 8.00m, 30), Coin(20, 50, 5.00m, 50), Coin(10, 50, 6.50m, 30),
        Coin(5, 100, 3.25m, 20), Coin(2, 50, 7.12m, 25), Coin(1, 100, 3.56m, 50),
    ];

    /// <summary>Yen: Japan Mint and Bank of Japan, weights and rolls from memory.</summary>
    private static readonly ImmutableArray<Denomination> _yen =
    [
        Note(10_000), Note(5_000, 1), Note(2_000), Note(1_000, 8),
        Coin(500, 50, 7.1m, 6), Coin(100, 50, 4.8m, 25), Coin(50, 50, 4.0m, 14), Coin(10, 50, 4.5m, 60), Coin(5, 50, 3.75m, 30),
        Coin(1, 50, 1.0m, 50),
    ];

    /// <summary>Kuwaiti dinars: Central Bank of Kuwait, from memory; half and quarter dinars are notes.</summary>
    private static readonly ImmutableArray<Denomination> _dinars =
    [
        Note(20_000), Note(10_000, 1), Note(5_000, 3), Note(1_000, 12), Note(500, 10), Note(250, 16),
        Coin(100, null, null, 20), Coin(50, null, null, 20), Coin(20, null, null, 25), Coin(10, null, null, 30), Coin(5, null, null, 40),
    ];

    /// <summary>What is counted in this currency, largest first. For a currency that Fondo has no list of: the 1-2-5 series.</summary>
    public static ImmutableArray<Denomination> Of(Currency currency) => currency.Code switch
    {
        "USD" => _dollars,
        "CAD" => _canadian,
        "EUR" => _euro,
        "GBP" => _sterling,
        "JPY" => _yen,
        "KWD" => _dinars,
        _ => Series(currency),
    };

    private static Denomination Note(long worth, int kept = 0) => new(new(worth), true, Strap, Kept: kept);

    private static Denomination Coin(long worth, int? roll, decimal? grams, int kept = 0) => new(new(worth), false, roll, grams, kept);

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
