using System.Globalization;
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

    protected abstract (FieldKind Kind, string? Text) Get(string name);

    protected abstract void Report(string name, string? value, string expected);

    /// <summary>A part of this record was at fault, and said so itself.</summary>
    public void MarkFaulty() => Faulty = true;

    public void Fault(string name, string? value, string expected)
    {
        Faulty = true;
        Report(name, value, expected);
    }

    /// <summary>An empty CSV field and a JSON null are both nothing.</summary>
    public string? OptionalText(string name)
    {
        var (kind, text) = Get(name);
        if (kind == FieldKind.Other)
        {
            Fault(name, text, "expected a string");
        }

        return kind == FieldKind.Text ? text : null;
    }

    public string Text(string name)
    {
        var text = OptionalText(name);
        if (string.IsNullOrEmpty(text))
        {
            if (Get(name).Kind != FieldKind.Other)
            {
                Fault(name, null, "expected a text, and there is none");
            }

            return "";
        }

        return text;
    }

    public Money Amount(string name) => RequiredAmount(name, OptionalAmount(name));

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
        var (kind, text) = Get(name);
        if (kind is FieldKind.Missing or FieldKind.Null)
        {
            return null;
        }

        if (kind == FieldKind.Text && currency.TryParse(text, out var amount))
        {
            return amount;
        }

        Fault(name, text, $"expected {currency.AmountShape}");
        return Money.Zero;
    }

    private Money RequiredAmount(string name, Money? amount)
    {
        if (amount is null)
        {
            Fault(name, null, "expected an amount, and there is none");
        }

        return amount ?? Money.Zero;
    }

    public decimal Number(string name, decimal? otherwise = null)
    {
        var (kind, text) = Get(name);
        if (kind is FieldKind.Missing or FieldKind.Null && otherwise is { } value)
        {
            return value;
        }

        if (kind == FieldKind.Text && text!.Length is > 0 and <= 20
            && decimal.TryParse(text, NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number))
        {
            return number;
        }

        Fault(name, text, "expected a decimal string, like \"0.030\"");
        return 0;
    }

    /// <summary>A whole number from 0: pieces, attempts, places, minutes, hours.</summary>
    public int Integer(string name, int? otherwise = null, int most = 1_000_000_000)
    {
        var (kind, text) = Get(name);
        if (kind is FieldKind.Missing or FieldKind.Null && otherwise is { } value)
        {
            return value;
        }

        if (kind == IntegerKind && text!.Length is > 0 and <= 10 && text.All(char.IsAsciiDigit)
            && long.Parse(text, CultureInfo.InvariantCulture) is var whole && whole <= most)
        {
            return (int)whole;
        }

        Fault(name, text, $"expected a whole number from 0 to {most.ToString(CultureInfo.InvariantCulture)}");
        return 0;
    }

    /// <summary>JSON writes whole numbers as numbers, CSV as text.</summary>
    protected abstract FieldKind IntegerKind { get; }

    public bool Flag(string name)
    {
        var (kind, text) = Get(name);
        if (kind == FieldKind.Other && text is "true" or "false")
        {
            return text == "true";
        }

        Fault(name, text, "expected true or false");
        return false;
    }

    public DateTimeOffset Time(string name) => OptionalTime(name) ?? MissingTime(name);

    private DateTimeOffset MissingTime(string name)
    {
        Fault(name, null, "expected a time, and there is none");
        return default;
    }

    public DateTimeOffset? OptionalTime(string name)
    {
        var (kind, text) = Get(name);
        if (kind is FieldKind.Missing or FieldKind.Null)
        {
            return null;
        }

        if (kind == FieldKind.Text && IsoTime.TryParse(text, out var at))
        {
            return at;
        }

        Fault(name, text, "expected an ISO 8601 time with its offset, like 2026-11-21T09:14:05-05:00");
        return default(DateTimeOffset);
    }

    public T Choice<T>(string name, IReadOnlyDictionary<string, T> choices, string? otherwise = null)
    {
        var text = OptionalText(name) ?? otherwise;
        if (text is not null && choices.TryGetValue(text, out var choice))
        {
            return choice;
        }

        Fault(name, text, "expected one of: " + string.Join(", ", choices.Keys));
        return choices.Values.First();
    }
}
