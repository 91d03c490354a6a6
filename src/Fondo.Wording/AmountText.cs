namespace Fondo.Wording;

/// <summary>How amounts are written.</summary>
public static class AmountText
{
    /// <summary>What the files expect where an amount stands, for a sentence.</summary>
    public static string Shape(this Currency currency) => currency.MinorDigits == 0
        ? "a decimal string without decimals, like \"12\""
        : $"a decimal string with {currency.MinorDigits} decimals, like \"{currency.Format(new(1293))}\"";
}
