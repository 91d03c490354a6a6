using System.Numerics;

namespace Fondo.Core.Journal;

/// <summary>A short text of which a day has millions (an event's id, a sequence, an approval), kept as what stands before its last digits
/// and these digits.
/// What stands before is shared by most (<c>L23-</c>, or nothing), so that a code takes 16 bytes and no text of its own. Equal and in the
/// same order as the texts.</summary>
public readonly struct Code : IEquatable<Code>, IComparable<Code>
{
    /// <summary>So many digits at most are kept as a number: all of them fit.</summary>
    public const int MostDigits = 15;

    private const int DigitsAt = 56;
    private const ulong NumberBits = (1UL << DigitsAt) - 1;

    private static readonly ulong[] _powers = [.. Enumerable.Range(0, MostDigits + 1).Select(n => (ulong)Math.Pow(10, n))];

    private readonly string? _before;
    private readonly ulong _digits;

    private Code(string before, ulong number, int digits) => (_before, _digits) = (before, number | ((ulong)digits << DigitsAt));

    /// <summary>The code that is this text; none for null.</summary>
    public static implicit operator Code(string? text) => text is null ? default : Of(text);

    /// <summary>Of a text in UTF-8; of no bytes it is the empty text.</summary>
    /// <param name="shared">Gives the text of what stands before the digits: the same one for the same bytes, if it can.</param>
    public static Code OfUtf8(ReadOnlySpan<byte> utf8, Shared shared)
    {
        var (number, at) = LastDigits(utf8);
        return new(at == 0 ? "" : shared(utf8[..at]), number, utf8.Length - at);
    }

    /// <summary>The text of bytes of which many are alike.</summary>
    public delegate string Shared(ReadOnlySpan<byte> utf8);

    private static Code Of(string text)
    {
        var (number, at) = LastDigits<char>(text);
        return new(text[..at], number, text.Length - at);
    }

    /// <summary>The number that the last digits are, and where they begin.</summary>
    private static (ulong Number, int At) LastDigits<T>(ReadOnlySpan<T> text)
        where T : unmanaged, IBinaryInteger<T>
    {
        var (number, at) = (0UL, text.Length);
        while (at > 0 && text.Length - at < MostDigits && uint.CreateTruncating(text[at - 1]) - '0' is <= 9 and var digit)
        {
            number += digit * _powers[text.Length - at];
            at--;
        }

        return (number, at);
    }

    /// <summary>Whether there is a text at all.</summary>
    public bool IsThere => _before is not null;

    /// <summary>What stands before the last digits; empty where there is no code.</summary>
    public string Before => _before ?? "";

    /// <summary>The number that the last digits are; 0 without any.</summary>
    public long Number => (long)(_digits & NumberBits);

    /// <summary>How many digits the number was written with.</summary>
    public int Digits => (int)(_digits >> DigitsAt);

    public int Length => Before.Length + Digits;

    /// <summary>The text, made anew; null where there is none.</summary>
    public string? Text => _before is null ? null : string.Create(Length, this, static (to, code) => code.Write(to));

    /// <summary>The text, written where there is room, made anew where there is not; empty where there is none.</summary>
    public ReadOnlySpan<char> TextIn(Span<char> room)
    {
        if (Length > room.Length)
        {
            return Text;
        }

        Write(room[..Length]);
        return room[..Length];
    }

    public bool Equals(Code other) => _digits == other._digits
        && (ReferenceEquals(_before, other._before) || string.Equals(_before, other._before, StringComparison.Ordinal));

    public override bool Equals(object? obj) => obj is Code other && Equals(other);

    public override int GetHashCode() => QuickHash.Of(_before, null, (long)_digits);

    public static bool operator ==(Code left, Code right) => left.Equals(right);

    public static bool operator !=(Code left, Code right) => !left.Equals(right);

    public static bool operator <(Code left, Code right) => left.CompareTo(right) < 0;

    public static bool operator >(Code left, Code right) => left.CompareTo(right) > 0;

    public static bool operator <=(Code left, Code right) => left.CompareTo(right) <= 0;

    public static bool operator >=(Code left, Code right) => left.CompareTo(right) >= 0;

    /// <summary>As the texts compare, character by character; no code comes first.</summary>
    public int CompareTo(Code other)
    {
        if (Digits == other.Digits && (ReferenceEquals(_before, other._before)
            || string.Equals(_before, other._before, StringComparison.Ordinal)))
        {
            return Number.CompareTo(other.Number);
        }

        if (_before is null || other._before is null)
        {
            return (_before is null ? 0 : 1) - (other._before is null ? 0 : 1);
        }

        const int onStack = 128;
        Span<char> left = Length <= onStack ? stackalloc char[Length] : new char[Length],
            right = other.Length <= onStack ? stackalloc char[other.Length] : new char[other.Length];
        Write(left);
        other.Write(right);
        return left.SequenceCompareTo(right);
    }

    /// <summary>Writes the code where all of it is ASCII and there is room.</summary>
    public bool TryWrite(Span<byte> ascii, out int length)
    {
        length = 0;
        if (Length > ascii.Length || System.Text.Ascii.FromUtf16(Before, ascii, out var before) != System.Buffers.OperationStatus.Done)
        {
            return false;
        }

        length = Length;
        for (var (number, at) = ((ulong)Number, length); at > before; number /= 10)
        {
            ascii[--at] = (byte)('0' + number % 10);
        }

        return true;
    }

    public override string ToString() => Text ?? "";

    private void Write(Span<char> to)
    {
        Before.CopyTo(to);
        for (var (number, at) = ((ulong)Number, Length); at > Before.Length; number /= 10)
        {
            to[--at] = (char)('0' + number % 10);
        }
    }
}
