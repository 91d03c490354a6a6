using System.Text;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Where a JSON value came from, so that its faults name their line.</summary>
internal sealed class JsonPlace(string file, Findings findings)
{
    private int _firstLine;
    private ArraySegment<byte> _text;

    public Findings Findings => findings;

    public string File => file;

    /// <summary>The text that is read now, and the line where it begins.</summary>
    public void Aim(int firstLine, ArraySegment<byte> text) => (_firstLine, _text) = (firstLine, text);

    public int LineOf(JsonValue value) => LineAt(value.Start);

    public int LineAt(int offset) => _firstLine + _text.AsSpan(0, offset).Count((byte)'\n');

    /// <summary>Whether the value is an object; reported when it is none.</summary>
    public bool IsObject(JsonValue value)
    {
        if (!value.IsObject)
        {
            Report(value, "the value", null, "expected an object");
        }

        return value.IsObject;
    }

    public void Report(JsonValue value, string path, string? shown, string expected) =>
        findings.Add(file, LineOf(value), path, shown, expected);
}

/// <summary>The members of a JSON object as fields.</summary>
/// <param name="within">The object of which this one is a member, and the member's name, where there is one.</param>
/// <param name="number">Its number in a list, from 1; else 0.</param>
/// <param name="isRow">The object is a row of a CSV file: every member is text, and an empty one is nothing.</param>
internal sealed class JsonFields(JsonValue value, JsonPlace place, Currency currency, (JsonFields Outer, string Name)? within = null,
    int number = 0, bool isRow = false) : Fields(currency)
{
    private JsonValue _value = value;
    private int _number = number, _next;
    private Dictionary<string, JsonFields>? _elements;

    /// <summary>The same fields, for another object.</summary>
    public JsonFields Aim(JsonValue value, int number = 0)
    {
        (_value, _number, _next) = (value, number, 0);
        Forget();
        return this;
    }

    protected override FieldKind IntegerKind => isRow ? FieldKind.Text : FieldKind.Other;

    protected override FieldKind Find(string name, bool recurs, out string? text)
    {
        var kind = Find(name, out JsonValue member);
        text = kind switch
        {
            FieldKind.Text => recurs ? member.Text : member.OwnText,
            FieldKind.Other => member.IsObject ? "{…}" : member.IsArray ? "[…]" : member.Text,
            _ => null,
        };
        return kind;
    }

    protected override FieldKind Find(string name, out ReadOnlySpan<byte> utf8)
    {
        var kind = Find(name, out JsonValue member);
        utf8 = kind switch
        {
            FieldKind.Text => member.IsEscaped ? Encoding.UTF8.GetBytes(member.Text) : member.Raw,
            FieldKind.Other => member.IsObject ? "{…}"u8 : member.IsArray ? "[…]"u8 : member.Raw,
            _ => default,
        };
        return kind;
    }

    private FieldKind Find(string name, out JsonValue member) =>
        !_value.TryGet(name, ref _next, out member) ? FieldKind.Missing
        : member.IsNull || (isRow && member.IsString && member.Raw.IsEmpty) ? FieldKind.Null
        : member.IsString ? FieldKind.Text
        : FieldKind.Other;

    protected override void Report(string name, string? text, string expected) =>
        place.Report(_value.TryGet(name, out var member) ? member : _value, PathOf(name), text, expected);

    /// <summary>Where a member stands, as a sentence names it: <c>tenders[2].amount</c>.</summary>
    private string PathOf(string name) =>
        within is not { } w ? name : _number > 0 ? $"{w.Outer.PathOf(w.Name)}[{_number}].{name}" : $"{w.Outer.PathOf(w.Name)}.{name}";

    /// <summary>An object member; null, and reported, when it is there and is none.</summary>
    public JsonFields? Object(string name, bool isRow = false)
    {
        if (!_value.TryGet(name, ref _next, out var member) || member.IsNull)
        {
            return null;
        }

        if (member.IsObject)
        {
            return new(member, place, Currency, (this, name), isRow: isRow);
        }

        Fault(name, null, "expected an object");
        return null;
    }

    /// <summary>The objects of an array member, one after the other; none where the member is absent. Each is valid until the
    /// next.</summary>
    public IEnumerable<JsonFields> Objects(string name, bool required = false)
    {
        var counted = 0;
        foreach (var element in Elements(name, required))
        {
            if (Element(name, element, ++counted) is { } fields)
            {
                yield return fields;
            }
        }
    }

    /// <summary>Reads every object of an array member.</summary>
    /// <param name="most">More than this are not taken.</param>
    public void Each<T>(string name, bool required, int most, List<T> into, Func<JsonFields, T> read)
    {
        into.Clear();
        if (Array(name, required) is not { } array)
        {
            return;
        }

        var counted = 0;
        for (var element = array.FirstElement; element is { } here; element = array.ElementAfter(here))
        {
            if (counted == most)
            {
                Fault(name, null, $"expected at most {most} of them");
                return;
            }

            if (Element(name, here, ++counted) is { } fields)
            {
                into.Add(read(fields));
                if (fields.Faulty)
                {
                    MarkFaulty();
                }
            }
        }
    }

    private JsonFields? Element(string name, JsonValue element, int number)
    {
        if (!element.IsObject)
        {
            Fault(name, null, $"expected an object as number {number}");
            return null;
        }

        _elements ??= [];
        if (!_elements.TryGetValue(name, out var fields))
        {
            _elements[name] = fields = new(element, place, Currency, (this, name), number);
        }

        return fields.Aim(element, number);
    }

    public IEnumerable<string> Texts(string name)
    {
        foreach (var element in Elements(name, false))
        {
            if (element.IsString)
            {
                yield return element.Text;
            }
            else
            {
                Fault(name, null, "expected strings only");
            }
        }
    }

    /// <summary>The members of an object member, each as its name and a field of its own.</summary>
    public IEnumerable<string> Names(string name)
    {
        if (Object(name) is not { } inner)
        {
            return [];
        }

        return inner.OwnNames();
    }

    private IEnumerable<string> OwnNames() => _value.Members().Select(m => m.Name);

    public JsonPlace Place => place;

    public ReadOnlySpan<byte> Raw => _value.Raw;

    /// <summary>The line where the object stands.</summary>
    public int Line => place.LineOf(_value);

    private IEnumerable<JsonValue> Elements(string name, bool required) => Array(name, required)?.Elements() ?? [];

    private JsonValue? Array(string name, bool required)
    {
        if (!_value.TryGet(name, ref _next, out var member) || member.IsNull)
        {
            if (required)
            {
                Fault(name, null, "expected a list, but there is none");
            }

            return null;
        }

        if (!member.IsArray)
        {
            Fault(name, null, "expected a list");
            return null;
        }

        return member;
    }
}
