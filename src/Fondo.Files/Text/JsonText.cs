using System.Text;
using System.Text.Json;

namespace Fondo.Files.Text;

/// <summary>One JSON document (RFC 8259) as a flat tape of tokens that remember where they stand, so that a fault can be told by its line.
/// Reused from document to document; values are valid until the next <see cref="TryParse"/>.</summary>
/// <remarks>Repeated member names are refused, and names written with escapes that need none: two readers could understand the object
/// differently.
/// So are objects of more than <see cref="Limits.MostMembers"/> members.</remarks>
public sealed class JsonText
{
    private readonly (int Token, ulong Names, int Members)[] _open = new (int, ulong, int)[Limits.DeepestJson + 1];
    private Token[] _tape = new Token[256];
    private int _length, _depth;
    private ArraySegment<byte> _utf8;

    private struct Token
    {
        public int Start, Length;

        /// <summary>The index behind this value: children included.</summary>
        public int Next;
        public JsonTokenType Type;
        public bool Escaped;

        /// <summary>Of an object: a bit for each of its member names.</summary>
        public ulong Names;
    }

    public JsonValue Root => new(this, 0);

    /// <summary>Whether some name, text or number might hold a full card number, so that a closer look is worth it.</summary>
    public bool MayHoldCardNumber { get; private set; }

    /// <summary>Parses the text; false with the fault and the byte where it stands.</summary>
    public bool TryParse(ArraySegment<byte> utf8, out string fault, out int at)
    {
        (_utf8, _length, _depth, MayHoldCardNumber) = (utf8, 0, 0, false);
        var reader = new Utf8JsonReader(utf8.AsSpan(), new JsonReaderOptions { MaxDepth = Limits.DeepestJson });
        try
        {
            while (reader.Read())
            {
                if (Append(ref reader) is { } why)
                {
                    fault = why;
                    at = (int)reader.TokenStartIndex;
                    return false;
                }
            }

            // Names and text must be real UTF-8; the reader checks only what it is asked to read.
            if (!System.Text.Unicode.Utf8.IsValid(utf8.AsSpan()))
            {
                fault = "the text is not valid UTF-8";
                at = 0;
                return false;
            }
        }
        catch (JsonException e)
        {
            fault = "this is not JSON: " + Plain(e.Message);
            at = (int)Math.Min(reader.BytesConsumed, utf8.Count);
            return false;
        }

        (fault, at) = ("", 0);
        return true;
    }

    private static string Plain(string message)
    {
        var end = message.IndexOf("LineNumber", StringComparison.Ordinal);
        var text = (end < 0 ? message : message[..end]).Trim().TrimEnd('.');
        return CardNumbers.Contains(text) ? "a value is malformed" : text;
    }

    /// <summary>What is wrong with a member name; null when nothing is.</summary>
    private string? Append(ref Utf8JsonReader reader)
    {
        var type = reader.TokenType;
        if (type is JsonTokenType.EndObject or JsonTokenType.EndArray)
        {
            ref var start = ref _tape[_open[--_depth].Token];
            start.Next = _length;
            start.Length = (int)reader.BytesConsumed - start.Start;
            start.Names = _open[_depth].Names;
            return null;
        }

        if (_length == _tape.Length)
        {
            Array.Resize(ref _tape, _length * 2);
        }

        var isText = type is JsonTokenType.String or JsonTokenType.PropertyName;
        var value = reader.ValueSpan;
        ref var token = ref _tape[_length];
        token.Type = type;
        token.Start = (int)reader.TokenStartIndex + (isText ? 1 : 0);
        token.Length = value.Length;
        token.Next = ++_length;
        token.Escaped = isText && reader.ValueIsEscaped;
        if (type is JsonTokenType.StartObject or JsonTokenType.StartArray)
        {
            _open[_depth++] = (_length - 1, 0, 0);
            return null;
        }

        if (value.Length >= CardNumbers.Shortest && !MayHoldCardNumber)
        {
            MayHoldCardNumber = CardNumbers.MayBeIn(value);
        }

        return type != JsonTokenType.PropertyName ? null
            : ++_open[_depth - 1].Members > Limits.MostMembers ? $"an object has more than {Limits.MostMembers} members"
            : token.Escaped && Ascii.IsValid(TextAt(_length - 1,
                recurs: false)) ? "a member name is written with escapes that it does not need"
            : !IsNew(value) ? $"the member name {Shown(TextAt(_length - 1, recurs: false))} is repeated in one object"
            : null;
    }

    private static string Shown(string name) => CardNumbers.Contains(name) ? "(withheld)" : name;

    private bool IsNew(ReadOnlySpan<byte> name)
    {
        if (_tape[_length - 1].Escaped || !Ascii.IsValid(name))
        {
            return IsNewText(TextAt(_length - 1, recurs: false));
        }

        // A bit for each name's length and ends: where it is not set yet, no such name has been.
        ref var open = ref _open[_depth - 1];
        var bit = name.IsEmpty ? 1 : BitOf(name.Length, name[0], name[^1]);
        var last = _length - 1;
        if ((open.Names & bit) != 0)
        {
            for (var i = open.Token + 1; i < last; i = _tape[i + 1].Next)
            {
                if (_tape[i].Length == name.Length && Bytes(i).SequenceEqual(name))
                {
                    return false;
                }
            }
        }

        open.Names |= bit;
        return true;
    }

    /// <summary>Names beyond ASCII may be written with escapes or without: their texts are compared.</summary>
    private bool IsNewText(string name)
    {
        var last = _length - 1;
        for (var i = _open[_depth - 1].Token + 1; i < last; i = _tape[i + 1].Next)
        {
            if (TextAt(i, recurs: false) == name)
            {
                return false;
            }
        }

        return true;
    }

    private static ulong BitOf(int length, int first, int last) => 1UL << (((length * 7) + first + (last * 3)) & 63);

    /// <summary>False when the object has no member of that name.</summary>
    internal bool MayHave(int index, string name) =>
        !Ascii.IsValid(name) || (name.Length > 0 && (_tape[index].Names & BitOf(name.Length, name[0], name[^1])) != 0);

    internal JsonTokenType TypeAt(int index) => _tape[index].Type;

    internal int StartAt(int index) => _tape[index].Start;

    internal int NextAt(int index) => _tape[index].Next;

    internal bool IsEscapedAt(int index) => _tape[index].Escaped;

    internal ReadOnlySpan<byte> Bytes(int index) => _utf8.AsSpan(_tape[index].Start, _tape[index].Length);

    /// <summary>The member of that name between two places of the tape; −1 where there is none.</summary>
    internal int Find(string name, int from, int to)
    {
        var utf8 = _utf8.AsSpan();
        var isPlain = Ascii.IsValid(name);
        for (var i = from; i < to; i = _tape[i + 1].Next)
        {
            ref var token = ref _tape[i];
            if (isPlain
                ? token.Length == name.Length && Ascii.Equals(utf8.Slice(token.Start, token.Length), name)
                : TextAt(i, recurs: false) == name)
            {
                return i;
            }
        }

        return -1;
    }

    internal string TextAt(int index, bool recurs)
    {
        var bytes = Bytes(index);
        if (!_tape[index].Escaped)
        {
            return recurs ? Strings.Of(bytes) : Encoding.UTF8.GetString(bytes);
        }

        var reader = new Utf8JsonReader(_utf8.AsSpan(_tape[index].Start - 1, bytes.Length + 2));
        reader.Read();
        try
        {
            return reader.GetString()!;
        }
        catch (InvalidOperationException)
        {
            return Encoding.UTF8.GetString(bytes); // an unpaired surrogate escape: kept as written
        }
    }
}

/// <summary>A value of a <see cref="JsonText"/>.</summary>
public readonly struct JsonValue(JsonText text, int index)
{
    public bool IsObject => text.TypeAt(index) == JsonTokenType.StartObject;

    public bool IsArray => text.TypeAt(index) == JsonTokenType.StartArray;

    public bool IsString => text.TypeAt(index) == JsonTokenType.String;

    public bool IsNumber => text.TypeAt(index) == JsonTokenType.Number;

    public bool IsNull => text.TypeAt(index) == JsonTokenType.Null;

    public bool? AsBool => text.TypeAt(index) switch { JsonTokenType.True => true, JsonTokenType.False => false, _ => null };

    /// <summary>Whether a string is written with escapes, so that its bytes are not its text.</summary>
    public bool IsEscaped => text.IsEscapedAt(index);

    /// <summary>The byte at which the value stands.</summary>
    public int Start => text.StartAt(index);

    /// <summary>The text of a string, else the value as written.</summary>
    public string Text => text.TextAt(index, recurs: true);

    /// <summary>The same for a text that hardly comes back: it is not looked up among the known ones.</summary>
    public string OwnText => text.TextAt(index, recurs: false);

    /// <summary>The value as written, an object or array with all it holds.</summary>
    public ReadOnlySpan<byte> Raw => text.Bytes(index);

    public bool TryGet(string name, out JsonValue value)
    {
        var from = 0;
        return TryGet(name, ref from, out value);
    }

    /// <summary>Looks from where the last search ended, and then from the beginning: members mostly come in the order in which they are
    /// read.</summary>
    public bool TryGet(string name, ref int from, out JsonValue value)
    {
        if (!text.MayHave(index, name))
        {
            value = default;
            return false;
        }

        var (first, end) = (index + 1, text.NextAt(index));
        var start = from < first ? first : from;
        var found = text.Find(name, start, end);
        if (found < 0)
        {
            found = text.Find(name, first, start);
        }

        if (found < 0)
        {
            value = default;
            return false;
        }

        from = text.NextAt(found + 1);
        value = new(text, found + 1);
        return true;
    }

    /// <summary>The first element of an array; null when it is empty.</summary>
    public JsonValue? FirstElement => index + 1 < text.NextAt(index) ? new JsonValue(text, index + 1) : null;

    /// <summary>The element behind another one of this array; null behind the last.</summary>
    public JsonValue? ElementAfter(JsonValue element) => element.Next < text.NextAt(index) ? new JsonValue(text, element.Next) : null;

    private int Next => text.NextAt(index);

    public IEnumerable<JsonValue> Elements()
    {
        var end = text.NextAt(index);
        for (var i = index + 1; i < end; i = text.NextAt(i))
        {
            yield return new(text, i);
        }
    }

    public IEnumerable<(string Name, JsonValue Value)> Members()
    {
        var end = text.NextAt(index);
        for (var i = index + 1; i < end; i = text.NextAt(i + 1))
        {
            yield return (text.TextAt(i, recurs: true), new(text, i + 1));
        }
    }
}
