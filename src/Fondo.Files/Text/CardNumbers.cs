namespace Fondo.Files.Text;

/// <summary>Finds full card numbers: 13 to 19 digits that pass the ISO/IEC 7812-1 check digit, spaces and hyphens between the digits skipped.</summary>
public static class CardNumbers
{
    internal const int Shortest = 13;

    private const int Longest = 19;

    /// <summary>Whether the text holds a full card number. A run of 20 or more digits is not one.</summary>
    public static bool Contains(ReadOnlySpan<char> text)
    {
        if (text.Length < Shortest)
        {
            return false;
        }

        Span<byte> run = stackalloc byte[Longest];
        var length = 0;
        foreach (var c in text)
        {
            if (char.IsAsciiDigit(c))
            {
                if (length < Longest)
                {
                    run[length] = (byte)(c - '0');
                }

                length++;
            }
            else if (length == 0 || c is not (' ' or '-'))
            {
                if (IsCardNumber(run, length))
                {
                    return true;
                }

                length = 0;
            }
        }

        return IsCardNumber(run, length);
    }

    /// <summary>A quick look at JSON text as written: without thirteen digits in a row (spaces and hyphens between), and without escapes, there is no card number.</summary>
    public static bool MayBeIn(ReadOnlySpan<byte> utf8)
    {
        var digits = 0;
        foreach (var b in utf8)
        {
            if ((uint)(b - '0') <= 9)
            {
                if (++digits >= Shortest)
                {
                    return true;
                }
            }
            else if (b == '\\')
            {
                return true;
            }
            else if (b is not ((byte)' ' or (byte)'-'))
            {
                digits = 0;
            }
        }

        return false;
    }

    /// <summary>The ISO/IEC 7812-1 check digit (Luhn) that belongs behind these digits.</summary>
    public static int CheckDigit(ReadOnlySpan<byte> digits)
    {
        var sum = 0;
        for (var i = 0; i < digits.Length; i++)
        {
            var doubled = digits[^(i + 1)] * (i % 2 == 0 ? 2 : 1);
            sum += doubled > 9 ? doubled - 9 : doubled;
        }

        return (10 - (sum % 10)) % 10;
    }

    private static bool IsCardNumber(ReadOnlySpan<byte> run, int length) =>
        length is >= Shortest and <= Longest && CheckDigit(run[..(length - 1)]) == run[length - 1];
}
