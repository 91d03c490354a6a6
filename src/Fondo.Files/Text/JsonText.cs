using System.Runtime.InteropServices;
using System.Text;
using System.Text.Json;

namespace Fondo.Files.Text;

/// <summary>One JSON document (RFC 8259) as a flat tape of tokens that remember where they stand, so that a fault can be told by its line.
/// Reused from document to document; values are valid until the next <see cref="TryParse"/>.</summary>
/// <remarks>Repeated member names are refused: two readers could understand the object differently.</remarks>
public sealed class JsonText
{
    private readonly List<Token> _tape = [];
    private readonly List<int> _open = [];
    private ReadOnlyMemory<byte> _utf8;

    private struct Token
    {
        public JsonTokenType Type;
        public int Start, Length;

        /// <summary>The index behind this value: children included.</summary>
        public int Next;
        public bool Escaped;
    }

    public JsonValue Root => new(this, 0);

    /// <summary>Parses the text; false with the fault and the byte where it stands.</summary>
    public bool TryParse(ReadOnlyMemory<byte> utf8, out string fault, out int at)
    {
        _utf8 = utf8;
        _tape.Clear();
        _open.Clear();
        var reader = new Utf8JsonReader(utf8.Span, new JsonReaderOptions { MaxDepth = 32 });
        try
        {
            while (reader.Read())
            {
                Append(ref reader);
                if (reader.TokenType == JsonTokenType.PropertyName && IsRepeated(reader.ValueSpan))
                {
                    var name = Encoding.UTF8.GetString(reader.ValueSpan);
                    fault = $"the member name {(CardNumbers.Contains(name) ? "(withheld)" : name)} is repeated in one object";
                    at = (int)reader.TokenStartIndex;
                    return false;
                }
            }

            // Names and text must be real UTF-8; the reader checks only what it is asked to read.
            if (!System.Text.Unicode.Utf8.IsValid(utf8.Span))
            {
                fault = "the text is not valid UTF-8";
                at = 0;
                return false;
            }
        }
        catch (JsonException e)
        {
            fault = "this is not JSON: " + Plain(e.Message);
            at = (int)Math.Min(reader.BytesConsumed, utf8.Length);
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

    private void Append(ref Utf8JsonReader reader)
    {
        var type = reader.TokenType;
        if (type is JsonTokenType.EndObject or JsonTokenType.EndArray)
        {
            var opened = _open[^1];
            _open.RemoveAt(_open.Count - 1);
            ref var start = ref CollectionsMarshal.AsSpan(_tape)[opened];
            start.Next = _tape.Count;
            start.Length = (int)reader.BytesConsumed - start.Start;
            return;
        }

        var isText = type is JsonTokenType.String or JsonTokenType.PropertyName;
        _tape.Add(new()
        {
            Type = type,
            Start = (int)reader.TokenStartIndex + (isText ? 1 : 0),
            Length = reader.ValueSpan.Length,
            Next = _tape.Count + 1,
            Escaped = reader.ValueIsEscaped,
        });
        if (type is JsonTokenType.StartObject or JsonTokenType.StartArray)
        {
            _open.Add(_tape.Count - 1);
        }
    }

    private bool IsRepeated(ReadOnlySpan<byte> name)
    {
        var last = _tape.Count - 1;
        for (var i = _open[^1] + 1; i < last; i = _tape[i + 1].Next)
        {
            if (_tape[i].Length == name.Length && Bytes(i).SequenceEqual(name))
            {
                return true;
            }
        }

        return false;
    }

    internal JsonTokenType TypeAt(int index) => _tape[index].Type;

    internal int StartAt(int index) => _tape[index].Start;

    internal int NextAt(int index) => _tape[index].Next;

    internal ReadOnlySpan<byte> Bytes(int index) => _utf8.Span.Slice(_tape[index].Start, _tape[index].Length);

    internal string TextAt(int index)
    {
        var bytes = Bytes(index);
        if (!_tape[index].Escaped)
        {
            return Strings.Of(bytes);
        }

        var reader = new Utf8JsonReader(_utf8.Span.Slice(_tape[index].Start - 1, bytes.Length + 2));
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

    /// <summary>The byte at which the value stands.</summary>
    public int Start => text.StartAt(index);

    /// <summary>The text of a string, else the value as written.</summary>
    public string Text => text.TextAt(index);

    /// <summary>The value as written, an object or array with all it holds.</summary>
    public ReadOnlySpan<byte> Raw => text.Bytes(index);

    public bool TryGet(string name, out JsonValue value)
    {
        var end = text.NextAt(index);
        for (var i = index + 1; i < end; i = text.NextAt(i + 1))
        {
            if (Ascii.Equals(text.Bytes(i), name))
            {
                value = new(text, i + 1);
                return true;
            }
        }

        value = default;
        return false;
    }

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
            yield return (text.TextAt(i), new(text, i + 1));
        }
    }
}
