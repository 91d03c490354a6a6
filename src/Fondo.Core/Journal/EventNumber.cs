using System.Globalization;

namespace Fondo.Core.Journal;

/// <summary>How a register numbers its events: what stands before the last digits of an id, and these digits.</summary>
public readonly record struct EventNumber(string Prefix, long Number, int Digits)
{
    private const int MostDigits = 15;

    /// <summary>Null where the id does not end in a number.</summary>
    public static EventNumber? Of(string id)
    {
        var from = id.Length;
        while (from > 0 && char.IsAsciiDigit(id[from - 1]))
        {
            from--;
        }

        var digits = id.Length - from;
        return digits is 0 or > MostDigits ? null : new(id[..from], long.Parse(id.AsSpan(from), CultureInfo.InvariantCulture), digits);
    }

    /// <summary>The id with this number.</summary>
    public string At(long number) => Prefix + number.ToString(CultureInfo.InvariantCulture).PadLeft(Digits, '0');
}
