namespace Fondo.Core.Amounts;

/// <summary>What is paid in cash where the smallest coin is larger than the minor unit (rules §1).</summary>
public static class CashRounding
{
    /// <summary>The nearest multiple of the smallest coin, half up; of what is given back the same as of what is taken.</summary>
    /// <param name="due">What would be paid to the cent.</param>
    /// <param name="smallestCoin">One minor unit or less: nothing is rounded.</param>
    public static Money Of(Money due, Money smallestCoin)
    {
        if (smallestCoin.Minor <= 1)
        {
            return due;
        }

        var size = due.Abs().Minor;
        var rest = size % smallestCoin.Minor;
        var rounded = size - rest + (rest * 2 >= smallestCoin.Minor ? smallestCoin.Minor : 0);
        return due.Sign < 0 ? new(-rounded) : new(rounded);
    }
}
