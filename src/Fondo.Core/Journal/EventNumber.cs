using System.Globalization;

namespace Fondo.Core.Journal;

/// <summary>How a register numbers its events: what stands before the last digits of an id, and these digits.</summary>
public readonly record struct EventNumber(string Prefix, long Number, int Digits)
{
    /// <summary>Null where the id does not end in a number, or in a longer one than any register counts.</summary>
    public static EventNumber? Of(Code id) =>
        id.Digits == 0 || (id.Before.Length > 0 && char.IsAsciiDigit(id.Before[^1])) ? null : new(id.Before, id.Number, id.Digits);

    /// <summary>The id with this number.</summary>
    public string At(long number) => Prefix + number.ToString(CultureInfo.InvariantCulture).PadLeft(Digits, '0');
}
