namespace Fondo.Core.Amounts;

/// <summary>An amount of money in whole minor units (cents for US dollars). Never a fraction, never binary floating point.</summary>
/// <param name="Minor">The amount in minor units; negative for money going out.</param>
/// <remarks>Arithmetic is checked: an overflow throws <see cref="OverflowException"/>, because a wrapped sum of money is a bug.</remarks>
public readonly record struct Money(long Minor) : IComparable<Money>
{
    public static readonly Money Zero;

    public bool IsZero => Minor == 0;

    /// <summary>−1, 0 or 1.</summary>
    public int Sign => Math.Sign(Minor);

    public Money Abs() => Minor < 0 ? -this : this;

    public int CompareTo(Money other) => Minor.CompareTo(other.Minor);

    public static Money operator +(Money a, Money b) => new(checked(a.Minor + b.Minor));

    public static Money operator -(Money a, Money b) => new(checked(a.Minor - b.Minor));

    public static Money operator -(Money a) => new(checked(-a.Minor));

    /// <summary>So many pieces of this amount.</summary>
    public static Money operator *(Money a, long pieces) => new(checked(a.Minor * pieces));

    /// <summary>The amount times a rate, rounded to the minor unit half away from zero.</summary>
    public Money Times(decimal rate) => new((long)decimal.Round(Minor * rate, MidpointRounding.AwayFromZero));

    /// <summary>The nearest amount that can be paid when <paramref name="coin"/> is the smallest coin; half away from zero.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The coin is not worth anything.</exception>
    public Money ToNearest(Money coin)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(coin.Minor, nameof(coin));
        return coin * (long)decimal.Round((decimal)Minor / coin.Minor, MidpointRounding.AwayFromZero);
    }

    public static bool operator <(Money a, Money b) => a.Minor < b.Minor;

    public static bool operator >(Money a, Money b) => a.Minor > b.Minor;

    public static bool operator <=(Money a, Money b) => a.Minor <= b.Minor;

    public static bool operator >=(Money a, Money b) => a.Minor >= b.Minor;
}

public static class MoneySums
{
    public static Money Sum(this IEnumerable<Money> amounts)
    {
        var sum = Money.Zero;
        foreach (var amount in amounts)
        {
            sum += amount;
        }

        return sum;
    }

    public static Money Sum<T>(this IEnumerable<T> items, Func<T, Money> amount) => items.Select(amount).Sum();
}
