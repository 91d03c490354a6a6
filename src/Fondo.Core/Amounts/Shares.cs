using System.Runtime.InteropServices;

namespace Fondo.Core.Amounts;

/// <summary>Divides an amount so that the parts add up to the cent: largest remainder (Hamilton), ties by order (rules §10).</summary>
public static class Shares
{
    private const int OnStack = 32;

    /// <summary>Shares <paramref name="amount"/> in proportion to <paramref name="weights"/>; one part a weight, in their order.</summary>
    /// <exception cref="ArgumentException">A weight is negative, or an amount is to be shared and no weight is positive.</exception>
    public static ImmutableArray<Money> Of(Money amount, ReadOnlySpan<long> weights)
    {
        Int128 total = 0;
        foreach (var weight in weights)
        {
            total += weight >= 0 ? weight : throw new ArgumentException("A weight cannot be negative.", nameof(weights));
        }

        if (total == 0 && !amount.IsZero)
        {
            throw new ArgumentException("Nothing to share by.", nameof(weights));
        }

        var (size, given) = (Int128.Abs(amount.Minor), (Int128)0);
        var parts = new Money[weights.Length];
        Span<Remainder> remainders = parts.Length <= OnStack ? stackalloc Remainder[parts.Length] : new Remainder[parts.Length];
        for (var i = 0; i < parts.Length; i++)
        {
            var (quotient, rest) = total == 0 ? (0, 0) : Int128.DivRem(size * weights[i], total);
            parts[i] = new((long)quotient * (amount.Minor < 0 ? -1 : 1));
            given += quotient;
            remainders[i] = new(rest, i);
        }

        remainders.Sort();
        foreach (var (_, place) in remainders[..(int)(size - given)])
        {
            parts[place] += new Money(amount.Sign);
        }

        return ImmutableCollectionsMarshal.AsImmutableArray(parts);
    }

    /// <summary>What the division left of a part; the largest first, of equal ones the earlier.</summary>
    private readonly record struct Remainder(Int128 Over, int Place) : IComparable<Remainder>
    {
        public int CompareTo(Remainder other) => other.Over.CompareTo(Over) is var over and not 0 ? over : Place.CompareTo(other.Place);
    }
}
