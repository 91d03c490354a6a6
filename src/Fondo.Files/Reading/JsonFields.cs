using System.Text;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Where a JSON value came from, so that its faults name their line.</summary>
internal sealed class JsonPlace(string file, int firstLine, ReadOnlyMemory<byte> text, Findings findings)
{
    public int LineOf(JsonValue value) => firstLine + text.Span[..value.Start].Count((byte)'\n');

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
internal sealed class JsonFields(JsonValue value, JsonPlace place, Currency currency, (JsonFields Outer, string Name)? within = null, int number = 0, bool isRow = false) : Fields(currency)
{
    private int _next;

    protected override FieldKind IntegerKind => isRow ? FieldKind.Text : FieldKind.Other;

    protected override FieldKind Find(string name, out string? text)
    {
        var kind = Find(name, out JsonValue member);
        text = kind switch
        {
            FieldKind.Text => member.Text,
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
        !value.TryGet(name, ref _next, out member) ? FieldKind.Missing
        : member.IsNull || (isRow && member.IsString && member.Raw.IsEmpty) ? FieldKind.Null
        : member.IsString ? FieldKind.Text
        : FieldKind.Other;

    protected override void Report(string name, string? text, string expected) =>
        place.Report(value.TryGet(name, out var member) ? member : value, PathOf(name), text, expected);

    /// <summary>Where a member stands, as a sentence names it: <c>tenders[2].amount</c>.</summary>
    private string PathOf(string name) =>
        within is not { } w ? name : number > 0 ? $"{w.Outer.PathOf(w.Name)}[{number}].{name}" : $"{w.Outer.PathOf(w.Name)}.{name}";

    /// <summary>An object member; null, and reported, when it is there and is none.</summary>
    public JsonFields? Object(string name, bool isRow = false)
    {
        if (!value.TryGet(name, ref _next, out var member) || member.IsNull)
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

    /// <summary>The objects of an array member; none where the member is absent.</summary>
    public IEnumerable<JsonFields> Objects(string name, bool required = false)
    {
        var counted = 0;
        foreach (var element in Elements(name, required))
        {
            counted++;
            if (element.IsObject)
            {
                yield return new(element, place, Currency, (this, name), counted);
            }
            else
            {
                Fault(name, null, $"expected an object as number {counted}");
            }
        }
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

    private IEnumerable<string> OwnNames() => value.Members().Select(m => m.Name);

    public ReadOnlySpan<byte> Raw => value.Raw;

    /// <summary>The line where the object stands.</summary>
    public int Line => place.LineOf(value);

    private IEnumerable<JsonValue> Elements(string name, bool required)
    {
        if (!value.TryGet(name, ref _next, out var member) || member.IsNull)
        {
            if (required)
            {
                Fault(name, null, "expected a list, and there is none");
            }

            return [];
        }

        if (!member.IsArray)
        {
            Fault(name, null, "expected a list");
            return [];
        }

        return member.Elements();
    }
}
