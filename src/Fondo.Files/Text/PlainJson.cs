using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Text.Json;

namespace Fondo.Files.Text;

/// <summary>Walks once over JSON that is written plainly: objects, lists, texts (with escapes where they are asked for so), true, false,
/// null. Of anything else, and of anything that is no JSON,
/// <see cref="IsPlain"/> says no, and the strict reader decides. That is nearly every line of a journal, and several times as
/// fast.</summary>
internal ref struct PlainJson(ReadOnlySpan<byte> text)
{
    private readonly ReadOnlySpan<byte> _text = text;
    private int _at;
    private bool _isBeyondAscii;

    /// <summary>False from the first thing on that this walk does not know.</summary>
    public bool IsPlain { get; private set; } = true;

    /// <summary>Nothing that is read from here on counts.</summary>
    public void GiveUp() => IsPlain = false;

    /// <summary>Whether the next sign is this one; it is passed.</summary>
    public bool Takes(char sign)
    {
        if ((_at < _text.Length && _text[_at] == sign) || Peek() == sign)
        {
            _at++;
            return true;
        }

        return false;
    }

    /// <summary>The name of the next member of the object that was begun; false at its end.</summary>
    public bool NextMember(ref bool isFirst, out ReadOnlySpan<byte> name)
    {
        name = default;
        if (!NextOf('}', ref isFirst))
        {
            return false;
        }

        name = Quoted();
        if (!Takes(':'))
        {
            GiveUp();
        }

        return IsPlain;
    }

    /// <summary>Whether the list that was begun has another element.</summary>
    public bool NextElement(ref bool isFirst) => NextOf(']', ref isFirst);

    /// <summary>A text, or null.</summary>
    public ReadOnlySpan<byte> TextOrNull(out bool isNull)
    {
        isNull = Peek() != '"' && Word("null"u8);
        return isNull ? default : Quoted();
    }

    /// <summary>A text that may be written with escapes, as many writers do with quotes and letters beyond ASCII; or null.</summary>
    public ReadOnlySpan<byte> EscapedOrNull()
    {
        if (Peek() != '"')
        {
            return TextOrNull(out _);
        }

        var beyond = _text[(_at + 1)..];
        var quote = beyond.IndexOf((byte)'"');
        return quote < 0 || !beyond[..quote].Contains((byte)'\\') ? Quoted() : Unescaped();
    }

    /// <summary>True or false.</summary>
    public bool Flag()
    {
        var isTrue = Word("true"u8);
        if (!isTrue && !Word("false"u8))
        {
            GiveUp();
        }

        return isTrue;
    }

    /// <summary>Whether the whole text was plain and nothing stands behind it.</summary>
    public bool IsAtEnd() =>
        Peek() == '\0' && _at == _text.Length && IsPlain && (!_isBeyondAscii || System.Text.Unicode.Utf8.IsValid(_text));

    /// <summary>Where the walk stands, for <see cref="Since"/>.</summary>
    public readonly int At => _at;

    /// <summary>What was walked over since it stood there.</summary>
    public readonly ReadOnlySpan<byte> Since(int at) => _text[at.._at];

    /// <summary>What comes next, up to the first closing brace; nothing where none comes.</summary>
    public readonly ReadOnlySpan<byte> ToBrace() => _text[_at..][..(_text[_at..].IndexOf((byte)'}') + 1)];

    /// <summary>Passes over what is known to be plain.</summary>
    public void Pass(int length) => _at += length;

    private bool NextOf(char end, ref bool isFirst)
    {
        if (!IsPlain || Takes(end))
        {
            return false;
        }

        if (!isFirst && !Takes(','))
        {
            GiveUp();
        }

        isFirst = false;
        return IsPlain;
    }

    /// <summary>The next sign that is no space; nought at the end.</summary>
    private char Peek()
    {
        while (_at < _text.Length)
        {
            var sign = _text[_at];
            if (sign > ' ' || sign is not ((byte)' ' or (byte)'\t' or (byte)'\r' or (byte)'\n'))
            {
                return (char)sign;
            }

            _at++;
        }

        return '\0';
    }

    private bool Word(ReadOnlySpan<byte> word)
    {
        Peek();
        if (!_text[_at..].StartsWith(word))
        {
            return false;
        }

        _at += word.Length;
        return true;
    }

    /// <summary>What stands between the next two quotes: no escapes, no control signs, and nothing that could hold a full card
    /// number.</summary>
    private ReadOnlySpan<byte> Quoted()
    {
        if ((_at >= _text.Length || _text[_at] != '"') && Peek() != '"')
        {
            GiveUp();
            return default;
        }

        var (start, end) = (_at + 1, EndOfText(_at + 1));
        if (end < 0)
        {
            GiveUp();
            return default;
        }

        _at = end + 1;
        var quoted = _text[start..end];
        if (quoted.Length >= CardNumbers.Shortest && CardNumbers.MayBeIn(quoted))
        {
            GiveUp();
        }

        return quoted;
    }

    private ReadOnlySpan<byte> Unescaped()
    {
        var reader = new Utf8JsonReader(_text[_at..]);
        try
        {
            reader.Read();
            var text = new byte[reader.ValueSpan.Length];
            var unescaped = text.AsSpan(0, reader.CopyString(text));
            _isBeyondAscii = true;
            _at += (int)reader.BytesConsumed;
            if (unescaped.Length >= CardNumbers.Shortest && CardNumbers.MayBeIn(unescaped))
            {
                GiveUp();
            }

            return unescaped;
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            GiveUp(); // no JSON, or half a letter
            return default;
        }
    }

    /// <summary>Where the closing quote stands; negative where something comes before it that is not plain. Sixteen bytes at a time: texts
    /// are short.</summary>
    private int EndOfText(int at)
    {
        ref var first = ref MemoryMarshal.GetReference(_text);
        for (; at + Vector128<byte>.Count <= _text.Length; at += Vector128<byte>.Count)
        {
            var some = Vector128.LoadUnsafe(ref first, (nuint)at);
            var stops = Vector128.Equals(some, Vector128.Create((byte)'"')) | Vector128.Equals(some,
                Vector128.Create((byte)'\\')) | Vector128.LessThan(some, Vector128.Create((byte)' '));
            _isBeyondAscii |= some.ExtractMostSignificantBits() != 0;
            if (stops != Vector128<byte>.Zero)
            {
                at += BitOperations.TrailingZeroCount(stops.ExtractMostSignificantBits());
                return _text[at] == '"' ? at : -1;
            }
        }

        for (; at < _text.Length; at++)
        {
            var sign = Unsafe.Add(ref first, at);
            if (sign == '"')
            {
                return at;
            }

            _isBeyondAscii |= sign > 0x7F;
            if (sign is (byte)'\\' or < (byte)' ')
            {
                return -1;
            }
        }

        return -1;
    }
}
