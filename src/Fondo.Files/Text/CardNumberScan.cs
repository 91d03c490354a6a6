namespace Fondo.Files.Text;

/// <summary>Looks for full card numbers in a file while its bytes come by, so that one that holds a number goes no further. Article numbers
/// (<c>sku</c>) look alike and are passed over;
/// what is written in escapes is found by the readers later.</summary>
public sealed class CardNumberScan
{
    private const int Kept = 24;

    private readonly byte[] _before = new byte[Kept];
    private CardNumbers.DigitGroups _groups = new();
    private long _read;
    private bool _isArticle, _isTableOfArticles;

    /// <summary>The line at which it is, from 1.</summary>
    public int Line { get; private set; } = 1;

    /// <summary>Whether one stands anywhere in what can be read of a stream; a packed one that is damaged ends there.</summary>
    public static bool IsIn(Stream stream)
    {
        var (scan, buffer, read) = (new CardNumberScan(), new byte[1 << 16], 0);
        try
        {
            while ((read = stream.Read(buffer)) > 0)
            {
                if (scan.Finds(buffer.AsSpan(0, read)))
                {
                    return true;
                }
            }
        }
        catch (InvalidDataException)
        {
            return false;
        }

        return scan.FindsAtEnd();
    }

    /// <summary>Whether a card number ends within these bytes.</summary>
    public bool Finds(ReadOnlySpan<byte> bytes)
    {
        foreach (var b in bytes)
        {
            if (Finds(b))
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>Whether one ends with the file.</summary>
    public bool FindsAtEnd() => Counts(_groups.EndsRun());

    private bool Finds(byte b)
    {
        if ((uint)(b - '0') <= 9)
        {
            _groups.Digit(b - '0');
        }
        else if (!_groups.IsEmpty && Counts(b is (byte)' ' or (byte)'-' ? _groups.EndsGroup() : _groups.EndsRun()))
        {
            return true;
        }

        switch (b)
        {
            case (byte)'"':
                _isArticle = _isArticle ? EndsWith("\\"u8) : BeginsArticle();
                break;
            case (byte)'\n':
                Line++;
                break;
            case (byte)'u' when Line == 1 && (EndsWith(",sk"u8) || _read == 2) && EndsWith("sk"u8):
                // A table with a column of article numbers is left to its reader.
                _isTableOfArticles = true;
                break;
        }

        _before[_read++ % Kept] = b;
        return false;
    }

    private bool Counts(bool isFound) => isFound && !_isArticle && !_isTableOfArticles;

    /// <summary>Whether the text that begins here is the value of a member named sku.</summary>
    private bool BeginsArticle()
    {
        Span<byte> last = stackalloc byte[(int)Math.Min(Kept, _read)];
        for (var i = 0; i < last.Length; i++)
        {
            last[i] = _before[(_read - last.Length + i) % Kept];
        }

        ReadOnlySpan<byte> text = last.TrimEnd(" \t"u8);
        return text.EndsWith(":"u8) && text[..^1].TrimEnd(" \t"u8).EndsWith("\"sku\""u8);
    }

    private bool EndsWith(ReadOnlySpan<byte> text)
    {
        for (var i = 0; i < text.Length; i++)
        {
            var at = _read - text.Length + i;
            if (at < 0 || _before[at % Kept] != text[i])
            {
                return false;
            }
        }

        return true;
    }
}
