using System.Globalization;

namespace Fondo.Core.Amounts;

/// <summary>The ordinary slips of a hand that types an amount (rules §7).</summary>
public enum Slip
{
    /// <summary>The same amount with its sign turned.</summary>
    Sign,

    /// <summary>One amount is twice the other.</summary>
    Double,

    /// <summary>The decimal point slipped by one or two places.</summary>
    Decimal,

    /// <summary>Two neighbouring digits exchanged; the difference in minor units is then divisible by 9.</summary>
    Transposition,

    /// <summary>A digit typed twice.</summary>
    DoubledDigit,

    /// <summary>A digit left out.</summary>
    DroppedDigit,

    /// <summary>One digit differs.</summary>
    OneDigit,

    /// <summary>The second amount holds a tip of up to 30 %.</summary>
    Tip,
}

public static class Slips
{
    private const decimal MostTip = 0.30m;

    /// <summary>The slip that makes one amount of the other, the most particular one first; null where no ordinary slip does.</summary>
    /// <param name="first">What was recorded.</param>
    /// <param name="second">What was charged: only this one can hold a tip.</param>
    public static Slip? Between(Money first, Money second)
    {
        if (first == second || first.IsZero || second.IsZero)
        {
            return null;
        }

        if (first.Sign != second.Sign)
        {
            return first == -second ? Slip.Sign : null;
        }

        var (a, b) = (first.Abs().Minor, second.Abs().Minor);
        var (small, large) = (Math.Min(a, b), Math.Max(a, b));
        return large == 2 * small ? Slip.Double
            : large == 10 * small || large == 100 * small ? Slip.Decimal
            : OfDigits(small, large) is { } slip ? slip
            : b > a && b - a <= a * MostTip ? Slip.Tip
            : null;
    }

    private static Slip? OfDigits(long small, long large)
    {
        var longer = large.ToString(CultureInfo.InvariantCulture);
        var shorter = small.ToString(CultureInfo.InvariantCulture);
        var padded = shorter.PadLeft(longer.Length, '0');
        var differing = Enumerable.Range(0, longer.Length).Where(i => longer[i] != padded[i]).ToArray();
        if (differing is [var p, var q] && q == p + 1 && longer[p] == padded[q] && longer[q] == padded[p])
        {
            return Slip.Transposition;
        }

        if (longer.Length == shorter.Length + 1)
        {
            var without = Enumerable.Range(0, longer.Length).Where(i => longer.Remove(i, 1) == shorter).ToArray();
            if (without.Length > 0)
            {
                return without.Length > 1 ? Slip.DoubledDigit : Slip.DroppedDigit;
            }
        }

        return longer.Length == shorter.Length && differing.Length == 1 ? Slip.OneDigit : null;
    }
}
