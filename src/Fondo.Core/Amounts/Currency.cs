namespace Fondo.Core.Amounts;

/// <summary>An ISO 4217 currency: its code and how many digits its minor unit has. Reads and writes amounts as decimal text.</summary>
/// <param name="Code">Three capital letters.</param>
/// <param name="MinorDigits">0 to 4 (ISO 4217, <em>from memory</em>).</param>
public sealed record Currency(string Code, int MinorDigits)
{
    /// <summary>How the store writes amounts: <c>1,284.15</c> with a point before the decimals, or <c>1.284,15</c> with a comma. Files
    /// have a point whatever the store writes.</summary>
    public char DecimalMark { get; init; } = Point;

    public const char Point = '.', Comma = ',';

    private static readonly System.Globalization.NumberFormatInfo
        _withPoint = System.Globalization.CultureInfo.InvariantCulture.NumberFormat,
        _withComma = new() { NumberDecimalSeparator = ",", NumberGroupSeparator = "." };

    private static readonly string[] _noMinorUnit =
        ["BIF", "CLP", "DJF", "GNF", "ISK", "JPY", "KMF", "KRW", "PYG", "RWF", "UGX", "UYI", "VND", "VUV", "XAF", "XOF", "XPF"];

    private static readonly string[] _threeDigits = ["BHD", "IQD", "JOD", "KWD", "LYD", "OMR", "TND"];

    public static Currency Of(string code)
    {
        return new(code, Array.IndexOf(_noMinorUnit, code) >= 0 ? 0
            : Array.IndexOf(_threeDigits, code) >= 0 ? 3
            : code is "CLF" or "UYW" ? 4
            : 2);
    }

    /// <summary>Whether the text could be a currency code: three capital letters.</summary>
    public static bool IsCode(string text) => text is { Length: 3 } && text.All(char.IsAsciiLetterUpper);

    /// <summary>Reads <c>12.93</c> or <c>-4.00</c>: digits, a point, exactly the minor digits; no sign but minus, no separators, no
    /// exponent.</summary>
    public bool TryParse(ReadOnlySpan<char> text, out Money amount)
    {
        Span<byte> utf8 = stackalloc byte[Longest];
        amount = Money.Zero;
        return text.Length <= Longest && System.Text.Ascii.FromUtf16(text, utf8, out var length) == System.Buffers.OperationStatus.Done
            && TryParse(utf8[..length], out amount);
    }

    /// <summary>The same for UTF-8 text.</summary>
    public bool TryParse(ReadOnlySpan<byte> utf8, out Money amount)
    {
        amount = Money.Zero;
        var negative = utf8.Length > 0 && utf8[0] == '-';
        var digits = negative ? utf8[1..] : utf8;
        var whole = MinorDigits == 0 ? digits.Length : digits.Length - MinorDigits - 1;
        if (whole < 1 || (MinorDigits > 0 && digits[whole] != '.'))
        {
            return false;
        }

        var most = Limits.WholeUnits * Unit;
        long minor = 0;
        for (var i = 0; i < digits.Length; i++)
        {
            if (i == whole)
            {
                continue;
            }

            var digit = digits[i] - '0';
            if ((uint)digit > 9 || minor >= most)
            {
                return false;
            }

            minor = (minor * 10) + digit;
        }

        amount = new(negative ? -minor : minor);
        return minor < most;
    }

    /// <summary>The amount as the open files write it: <c>-4.00</c>.</summary>
    public string Format(Money amount)
    {
        Span<char> text = stackalloc char[Longest];
        return new(text[Write(amount, text)..]);
    }

    /// <summary>The amount as people read it: <c>1,284.15</c> and <c>−300.00</c>, thousands set apart, with a real minus.</summary>
    public string Say(Money amount)
    {
        var value = amount.Minor / (decimal)Unit;
        return (value < 0 ? "−" : "") + Math.Abs(value)
            .ToString("N" + MinorDigits.ToString(System.Globalization.CultureInfo.InvariantCulture),
                DecimalMark == Comma ? _withComma : _withPoint);
    }

    /// <summary>The amount as people type it: <c>1284.15</c> or <c>1284,15</c>, nothing between thousands.</summary>
    public string Typed(Money amount) => Format(amount).Replace(Point, DecimalMark);

    /// <summary>Writes the amount at the end of the span, which holds at least <see cref="Longest"/>; says where it begins.</summary>
    public int Write(Money amount, Span<char> text)
    {
        var left = amount.Minor < 0 ? (ulong)-(amount.Minor + 1) + 1 : (ulong)amount.Minor;
        var at = text.Length;
        for (var digit = 0; left > 0 || digit <= MinorDigits; digit++)
        {
            if (digit == MinorDigits && digit > 0)
            {
                text[--at] = '.';
            }

            (left, var last) = Math.DivRem(left, 10);
            text[--at] = (char)('0' + last);
        }

        if (amount.Minor < 0)
        {
            text[--at] = '-';
        }

        return at;
    }

    /// <summary>No amount takes more characters than this.</summary>
    public const int Longest = 32;

    /// <summary>Whether an amount is within the stated range, to either side.</summary>
    public bool Holds(Money amount) => Math.Abs(amount.Minor) < Limits.WholeUnits * Unit;

    /// <summary>Minor units in one major unit: 100 for dollars.</summary>
    public long Unit => MinorDigits switch { 0 => 1, 2 => 100, 3 => 1000, _ => 10_000 };
}
