namespace Fondo.Files.Text;

/// <summary>Finds full card numbers: 13 to 19 digits that pass the ISO/IEC 7812-1 check digit, spaces and hyphens between the digits
/// skipped, and points, tabs and line ends between groups of three digits or more (two decimals behind a point are an amount).
/// They are found where further groups of digits stand before or behind them, too. A group of 20 or more digits is not one, and a date
/// with its time is none.</summary>
public static class CardNumbers
{
    internal const int Shortest = 13;

    private const int Longest = 19;

    /// <summary>Whether the text holds a full card number, in digits of any script and with whatever kind of space or hyphen
    /// between.</summary>
    public static bool Contains(ReadOnlySpan<char> text)
    {
        if (text.Length < Shortest)
        {
            return false;
        }

        var groups = new DigitGroups();
        for (var i = 0; i < text.Length; i++)
        {
            var c = text[i];
            if (char.IsDigit(c))
            {
                groups.Digit((int)char.GetNumericValue(c));
            }
            else if (IsBetween(c) || (c is '.' or '\t' or '\r' or '\n' && IsWithin(text, i)) ? groups.EndsGroup() : groups.EndsRun())
            {
                return true;
            }
        }

        return groups.EndsRun();
    }

    private static bool IsBetween(char c) => c is ' ' or '-' || (c > 127 && (char.IsWhiteSpace(c)
        || char.GetUnicodeCategory(c) is System.Globalization.UnicodeCategory.DashPunctuation
            or System.Globalization.UnicodeCategory.Format));

    /// <summary>Whether three digits or more stand on both sides of a point, a tab or a line end.</summary>
    private static bool IsWithin(ReadOnlySpan<char> text, int at)
    {
        var (from, to) = (at, at + 1);
        while (from > 0 && text[from - 1] is ('\r' or '\n'))
        {
            from--;
        }

        while (to < text.Length && text[to] is ('\r' or '\n'))
        {
            to++;
        }

        return from >= 3 && to + 3 <= text.Length && AreDigits(text[(from - 3)..from]) && AreDigits(text[to..(to + 3)]);
    }

    private static bool AreDigits(ReadOnlySpan<char> text)
    {
        foreach (var c in text)
        {
            if (!char.IsDigit(c))
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>Groups of digits as they come, one run of them at a time. Whole groups one behind the other are looked at, wherever the run
    /// begins and ends.</summary>
    internal struct DigitGroups
    {
        /// <summary>The last digits, and how far each group reaches back from here.</summary>
        private Last _digits;
        private Starts _starts;
        private int _total, _groups;
        private bool _isInGroup;

        public DigitGroups()
        {
        }

        /// <summary>Whether no run has begun.</summary>
        public readonly bool IsEmpty => _total == 0;

        public void Digit(int digit)
        {
            if (!_isInGroup)
            {
                _starts[_groups % Longest] = _total;
                (_groups, _isInGroup) = (_groups + 1, true);
            }

            _digits[_total % Longest] = (byte)digit;
            _total++;
        }

        /// <summary>A space or a hyphen: the next digit begins another group of the same run. Whether a card number ends here.</summary>
        public bool EndsGroup()
        {
            if (!_isInGroup)
            {
                return false;
            }

            _isInGroup = false;
            for (var group = _groups - 1; group >= 0 && group > _groups - 1 - Longest; group--)
            {
                var length = _total - _starts[group % Longest];
                if (length > Longest)
                {
                    return false;
                }

                if (length >= Shortest && Passes(length))
                {
                    return true;
                }
            }

            return false;
        }

        /// <summary>Something else: what comes begins afresh. Whether a card number ends here.</summary>
        public bool EndsRun()
        {
            var found = EndsGroup();
            (_total, _groups) = (0, 0);
            return found;
        }

        private readonly bool Passes(int length)
        {
            Span<byte> digits = stackalloc byte[length];
            for (var i = 0; i < length; i++)
            {
                digits[i] = _digits[(_total - length + i) % Longest];
            }

            return CheckDigit(digits[..^1]) == digits[^1] && !IsMoment(digits);
        }

        /// <summary>A date and a time without signs, <c>20261121 081620</c>, are as long as a card number, and none: no number of
        /// fourteen digits is issued that begins with 20.</summary>
        private static bool IsMoment(ReadOnlySpan<byte> d)
        {
            int Two(ReadOnlySpan<byte> digits, int at) => (digits[at] * 10) + digits[at + 1];
            return d.Length == 14 && Two(d, 0) == 20 && Two(d, 4) is >= 1 and <= 12 && Two(d, 6) is >= 1 and <= 31
                && Two(d, 8) <= 23 && Two(d, 10) <= 59 && Two(d, 12) <= 59;
        }

        [System.Runtime.CompilerServices.InlineArray(Longest)]
        private struct Last
        {
            private byte _first;
        }

        [System.Runtime.CompilerServices.InlineArray(Longest)]
        private struct Starts
        {
            private int _first;
        }
    }

    /// <summary>A quick look at JSON text as written: without thirteen digits in a row (spaces, hyphens, points and line ends between), and
    /// without escapes, there is no card number.</summary>
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
            else if (b >= 0xC0)
            {
                // The first byte of a letter, a space or a digit of another script: it may be one.
                if (++digits >= Shortest)
                {
                    return true;
                }
            }
            else if (b < 0x80 && b is not ((byte)' ' or (byte)'-' or (byte)'.' or (byte)'\t' or (byte)'\r' or (byte)'\n'))
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
}
