namespace Fondo.Core.Cash;

/// <summary>A note or a coin that a drawer may hold.</summary>
public sealed record Denomination(Money Worth, bool IsNote);

public static class Denominations
{
    /// <summary>US dollars, largest first.</summary>
    private static readonly ImmutableArray<Denomination> _dollars =
    [
        new(new(100_00), true), new(new(50_00), true), new(new(20_00), true), new(new(10_00), true), new(new(5_00), true), new(new(2_00), true), new(new(1_00), true),
        new(new(50), false), new(new(25), false), new(new(10), false), new(new(5), false), new(new(1), false),
    ];

    /// <summary>What is counted in this currency, largest first. For a currency that Fondo has no list of: the 1-2-5 series.</summary>
    public static ImmutableArray<Denomination> Of(Currency currency) => currency.Code == "USD" ? _dollars : Series(currency);

    private static ImmutableArray<Denomination> Series(Currency currency)
    {
        long[] steps = [500, 200, 100, 50, 20, 10, 5, 2, 1];
        var hundredth = Math.Max(1, currency.Unit / 100);
        return
        [
            .. steps.Select(s => new Denomination(new(s * currency.Unit), s >= 5)),
            .. steps.Where(s => s <= 50 && s * hundredth < currency.Unit).Select(s => new Denomination(new(s * hundredth), false)),
        ];
    }
}
