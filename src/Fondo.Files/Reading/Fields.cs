using System.Buffers.Text;
using System.Globalization;
using System.Text;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

internal enum FieldKind
{
    Missing,
    Null,
    Text,

    /// <summary>A JSON number, boolean, object or array.</summary>
    Other,
}

/// <summary>The named fields of one record, be it a JSON object or a row of a CSV file. Faults are gathered, not thrown.</summary>
internal abstract class Fields(Currency currency)
{
    protected Currency Currency => currency;

    /// <summary>Whether any field read so far was at fault.</summary>
    public bool Faulty { get; private set; }

    /// <summary>The kind of a field, and its text in UTF-8.</summary>
    protected abstract FieldKind Find(string name, out ReadOnlySpan<byte> utf8);

    /// <summary>The kind of a field, and its text.</summary>
    /// <param name="recurs">Whether the text comes back in other records, so that it is worth keeping once.</param>
    protected abstract FieldKind Find(string name, bool recurs, out string? text);

    protected abstract void Report(string name, string? value, string expected);

    /// <summary>These fields are used again for another record.</summary>
    protected void Forget() => Faulty = false;

    /// <summary>A part of this record was at fault, and said so itself.</summary>
    public void MarkFaulty() => Faulty = true;

    public void Fault(string name, string? value, string expected)
    {
        Faulty = true;
        Report(name, value, expected);
    }

    private void FaultOf(string name, ReadOnlySpan<byte> value, string expected) => Fault(name, Encoding.UTF8.GetString(value), expected);

    /// <summary>Whether there is such a field, whatever it holds.</summary>
    public bool IsThere(string name) => Find(name, out ReadOnlySpan<byte> _) != FieldKind.Missing;

    /// <summary>An empty text and a JSON null are both nothing.</summary>
    public string? OptionalText(string name, bool recurs = true)
    {
        switch (Find(name, recurs, out var text))
        {
            case FieldKind.Text:
                return text!.Length > 0 ? text : null;
            case FieldKind.Other:
                Fault(name, text, "expected a string");
                return null;
            default:
                return null;
        }
    }

    /// <summary>A text of which hardly any comes back.</summary>
    public Code OptionalCode(string name) => OptionalText(name, recurs: false) is { } text ? Strings.CodeOf(text) : default;

    public string Text(string name, bool recurs = true)
    {
        var kind = Find(name, recurs, out var text);
        if (kind == FieldKind.Text && text!.Length > 0)
        {
            return text;
        }

        Fault(name, kind == FieldKind.Other ? text : null,
            kind == FieldKind.Other ? "expected a string" : "expected a text, but there is none");
        return "";
    }

    /// <summary>An id, within its limits; null where there is none.</summary>
    public string? OptionalId(string name, bool recurs = true)
    {
        var text = OptionalText(name, recurs);
        if (text is null || Limits.IsId(text))
        {
            return text;
        }

        Fault(name, text, $"expected {Limits.IdShape}");
        return null;
    }

    /// <summary>An id, within its limits; empty, and reported, where there is none.</summary>
    public string Id(string name, bool recurs = true)
    {
        var text = Text(name, recurs);
        if (text.Length > 0 && !Limits.IsId(text))
        {
            Fault(name, text, $"expected {Limits.IdShape}");
        }

        return text;
    }

    public Money Amount(string name)
    {
        if (OptionalAmount(name) is { } amount)
        {
            return amount;
        }

        Fault(name, null, "expected an amount, but there is none");
        return Money.Zero;
    }

    /// <summary>An amount that cannot be negative.</summary>
    public Money Size(string name)
    {
        var amount = Amount(name);
        if (amount.Sign < 0)
        {
            Fault(name, currency.Format(amount), "expected an amount that is not negative");
        }

        return amount;
    }

    public Money AmountOrZero(string name) => OptionalAmount(name) ?? Money.Zero;

    public Money? OptionalAmount(string name)
    {
        var kind = Find(name, out ReadOnlySpan<byte> text);
        if (kind is FieldKind.Missing or FieldKind.Null)
        {
            return null;
        }

        if (kind == FieldKind.Text && currency.TryParse(text, out var amount))
        {
            return amount;
        }

        FaultOf(name, text, $"expected {currency.Shape()}");
        return Money.Zero;
    }

    /// <summary>A decimal string from 0 to the largest.</summary>
    /// <param name="otherwise">What holds where the field is not there.</param>
    public decimal Number(string name, decimal most, decimal otherwise)
    {
        var kind = Find(name, out ReadOnlySpan<byte> text);
        if (kind is FieldKind.Missing or FieldKind.Null)
        {
            return otherwise;
        }

        if (kind == FieldKind.Text && TryDecimal(text, out var number) && number >= 0 && number <= most)
        {
            return number;
        }

        FaultOf(name, text, string.Create(CultureInfo.InvariantCulture, $"expected a decimal string from 0 to {most}, like \"0.030\""));
        return 0;
    }

    /// <summary>A sign, digits and one point; no exponent, no separators.</summary>
    internal static bool TryDecimal(ReadOnlySpan<byte> text, out decimal number)
    {
        const int longest = 20, longestPlain = 18;
        if (text.Length is 0 or > longestPlain || (uint)(text[0] - '0') > 9 || (uint)(text[^1] - '0') > 9)
        {
            return decimal.TryParse(text, NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture,
                out number) && text.Length <= longest;
        }

        var (mantissa, decimals) = (0L, -1);
        foreach (var c in text)
        {
            if ((uint)(c - '0') <= 9)
            {
                mantissa = (mantissa * 10) + c - '0';
                decimals += decimals < 0 ? 0 : 1;
            }
            else if (c == '.' && decimals < 0)
            {
                decimals = 0;
            }
            else
            {
                number = 0;
                return false;
            }
        }

        number = new decimal((int)mantissa, (int)(mantissa >> 32), 0, false, (byte)Math.Max(0, decimals));
        return true;
    }

    /// <summary>A whole number from 0: pieces, attempts, places, minutes, hours.</summary>
    public int Integer(string name, int? otherwise = null, int most = 1_000_000_000)
    {
        var kind = Find(name, out ReadOnlySpan<byte> text);
        if (kind is FieldKind.Missing or FieldKind.Null && otherwise is { } value)
        {
            return value;
        }

        if (kind == IntegerKind && Utf8Parser.TryParse(text, out int whole, out var used) && used == text.Length && text.Length <= 10
            && text[0] is >= (byte)'0' and <= (byte)'9' && whole <= most)
        {
            return whole;
        }

        FaultOf(name, text, $"expected a whole number from 0 to {most.ToString(CultureInfo.InvariantCulture)}");
        return 0;
    }

    /// <summary>JSON writes whole numbers as numbers, CSV as text.</summary>
    protected abstract FieldKind IntegerKind { get; }

    /// <summary>True or false, or null where it does not stand.</summary>
    public bool? OptionalFlag(string name) => Find(name, out ReadOnlySpan<byte> _) == FieldKind.Missing ? null : Flag(name);

    public bool Flag(string name)
    {
        var kind = Find(name, out ReadOnlySpan<byte> text);
        var isTrue = text.SequenceEqual("true"u8);
        if (kind == FieldKind.Other && (isTrue || text.SequenceEqual("false"u8)))
        {
            return isTrue;
        }

        Fault(name, kind is FieldKind.Missing ? null : Encoding.UTF8.GetString(text), "expected true or false");
        return false;
    }

    public DateTimeOffset Time(string name)
    {
        if (OptionalTime(name) is { } at)
        {
            return at;
        }

        Fault(name, null, "expected a time, but there is none");
        return default;
    }

    public DateTimeOffset? OptionalTime(string name)
    {
        var kind = Find(name, out ReadOnlySpan<byte> text);
        if (kind is FieldKind.Missing or FieldKind.Null)
        {
            return null;
        }

        if (kind == FieldKind.Text && IsoTime.TryParse(text, out var at))
        {
            return at;
        }

        FaultOf(name, text, "expected an ISO 8601 time with its offset, like 2026-11-21T09:14:05-05:00, of the years 2000 to 2099");
        return default(DateTimeOffset);
    }

    /// <summary>A word of a closed vocabulary, as it is written.</summary>
    /// <param name="otherwise">What holds where the field is not there; null: it has to be.</param>
    public T Choice<T>(string name, T? otherwise = null)
        where T : struct, Enum => OneOf(name, otherwise) ?? default;

    /// <summary>The same; null, and reported, where it is no such word.</summary>
    public T? OneOf<T>(string name, T? otherwise = null)
        where T : struct, Enum
    {
        var text = OptionalText(name);
        var choice = text is null ? otherwise : WrittenNames.Read<T>(text);
        if (choice is null)
        {
            Fault(name, text, "expected one of: " + string.Join(", ", WrittenNames.All<T>()));
        }

        return choice;
    }
}
