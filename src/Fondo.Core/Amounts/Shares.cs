namespace Fondo.Core.Amounts;

/// <summary>Divides an amount so that the parts add up to the cent: largest remainder (Hamilton), ties by order (rules §10).</summary>
public static class Shares
{
    /// <summary>Shares <paramref name="amount"/> in proportion to <paramref name="weights"/>; one part a weight, in their order.</summary>
    /// <exception cref="ArgumentException">A weight is negative, or an amount is to be shared and no weight is positive.</exception>
    public static ImmutableArray<Money> Of(Money amount, IReadOnlyList<long> weights)
    {
        if (weights.Any(w => w < 0))
        {
            throw new ArgumentException("A weight cannot be negative.", nameof(weights));
        }

        var total = weights.Aggregate((Int128)0, (sum, w) => sum + w);
        if (total == 0)
        {
            return amount.IsZero ? [.. weights.Select(_ => Money.Zero)] : throw new ArgumentException("Nothing to share by.", nameof(weights));
        }

        var size = Int128.Abs(amount.Minor);
        var parts = new long[weights.Count];
        var remainders = new (Int128 Over, int Place)[weights.Count];
        long given = 0;
        for (var i = 0; i < parts.Length; i++)
        {
            var (quotient, rest) = Int128.DivRem(size * weights[i], total);
            parts[i] = (long)quotient;
            given += parts[i];
            remainders[i] = (rest, i);
        }

        foreach (var (_, place) in remainders.OrderByDescending(r => r.Over).ThenBy(r => r.Place).Take((int)((long)size - given)))
        {
            parts[place]++;
        }

        return [.. parts.Select(p => new Money(amount.Minor < 0 ? -p : p))];
    }
}
