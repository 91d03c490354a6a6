namespace Fondo.Files.Text;

/// <summary>ISO 8601 times with an offset: <c>2026-11-21T09:14:05-05:00</c>; seconds may have decimals, <c>Z</c> is UTC; the years 2000 to
/// 2099.</summary>
public static class IsoTime
{
    private const int Longest = 33;

    public static bool TryParse(ReadOnlySpan<char> text, out DateTimeOffset at)
    {
        Span<byte> utf8 = stackalloc byte[Longest];
        at = default;
        return text.Length <= Longest && System.Text.Ascii.FromUtf16(text, utf8, out var length) == System.Buffers.OperationStatus.Done
            && TryParse(utf8[..length], out at);
    }

    public static bool TryParse(ReadOnlySpan<byte> text, out DateTimeOffset at)
    {
        at = default;
        if (text.Length is < 20 or > Longest || text[4] != '-' || text[7] != '-' || text[10] != 'T' || text[13] != ':' || text[16] != ':'
            || !Digits(text, 0, 4, out var year) || !Digits(text, 5, 2, out var month) || !Digits(text, 8, 2, out var day)
            || !Digits(text, 11, 2, out var hour) || !Digits(text, 14, 2, out var minute) || !Digits(text, 17, 2, out var second))
        {
            return false;
        }

        var rest = text[19..];
        long ticks = 0;
        if (rest[0] == '.')
        {
            var unit = TimeSpan.TicksPerSecond;
            var i = 1;
            for (; i < rest.Length && (uint)(rest[i] - '0') <= 9; i++)
            {
                unit /= 10;
                ticks += unit * (rest[i] - '0');
            }

            if (i == 1)
            {
                return false;
            }

            rest = rest[i..];
        }

        if (!Offset(rest, out var offset)
            || year is < Limits.FirstYear or > Limits.LastYear || month is < 1 or > 12 || day < 1 || day > DateTime.DaysInMonth(year, month)
            || hour > 23 || minute > 59 || second > 59)
        {
            return false;
        }

        at = new DateTimeOffset(new DateTime(year, month, day, hour, minute, second).AddTicks(ticks), offset);
        return true;
    }

    /// <summary>The time as the open files write it.</summary>
    public static string Format(DateTimeOffset at) =>
        at.ToString("yyyy-MM-dd'T'HH:mm:sszzz", System.Globalization.CultureInfo.InvariantCulture);

    private static bool Offset(ReadOnlySpan<byte> text, out TimeSpan offset)
    {
        offset = TimeSpan.Zero;
        if (text is [(byte)'Z'])
        {
            return true;
        }

        if (text.Length != 6 || text[0] is not ((byte)'+' or (byte)'-') || text[3] != ':' || !Digits(text, 1, 2, out var hours)
            || !Digits(text, 4, 2, out var minutes)
            || minutes > 59 || (hours * 60) + minutes > 14 * 60)
        {
            return false;
        }

        offset = new TimeSpan(hours, minutes, 0) * (text[0] == '-' ? -1 : 1);
        return true;
    }

    private static bool Digits(ReadOnlySpan<byte> text, int from, int length, out int value)
    {
        value = 0;
        foreach (var c in text.Slice(from, length))
        {
            if ((uint)(c - '0') > 9)
            {
                return false;
            }

            value = (value * 10) + (c - '0');
        }

        return true;
    }
}
