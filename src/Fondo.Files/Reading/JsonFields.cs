using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Where a JSON value came from, so that its faults name their line.</summary>
internal sealed class JsonPlace(string file, int firstLine, ReadOnlyMemory<byte> text, Findings findings)
{
    public int LineOf(JsonValue value) => firstLine + text.Span[..value.Start].Count((byte)'\n');

    public void Report(JsonValue value, string path, string? shown, string expected) =>
        findings.Add(file, LineOf(value), path, shown, expected);
}

/// <summary>The members of a JSON object as fields.</summary>
/// <param name="isRow">The object is a row of a CSV file: every member is text, and an empty one is nothing.</param>
internal sealed class JsonFields(JsonValue value, string path, JsonPlace place, Currency currency, bool isRow = false) : Fields(currency)
{
    protected override FieldKind IntegerKind => isRow ? FieldKind.Text : FieldKind.Other;

    protected override (FieldKind Kind, string? Text) Get(string name) =>
        !value.TryGet(name, out var member) ? (FieldKind.Missing, null)
        : member.IsNull || (isRow && member.IsString && member.Raw.IsEmpty) ? (FieldKind.Null, null)
        : member.IsString ? (FieldKind.Text, member.Text)
        : (FieldKind.Other, member.IsObject ? "{…}" : member.IsArray ? "[…]" : member.Text);

    protected override void Report(string name, string? text, string expected) =>
        place.Report(value.TryGet(name, out var member) ? member : value, path.Length == 0 ? name : $"{path}.{name}", text, expected);

    /// <summary>An object member; null, and reported, when it is there and is none.</summary>
    public JsonFields? Object(string name, bool isRow = false)
    {
        if (!value.TryGet(name, out var member) || member.IsNull)
        {
            return null;
        }

        if (member.IsObject)
        {
            return new(member, path.Length == 0 ? name : $"{path}.{name}", place, Currency, isRow);
        }

        Fault(name, null, "expected an object");
        return null;
    }

    /// <summary>The objects of an array member; none where the member is absent.</summary>
    public IEnumerable<JsonFields> Objects(string name, bool required = false)
    {
        var number = 0;
        foreach (var element in Elements(name, required))
        {
            number++;
            if (element.IsObject)
            {
                yield return new(element, $"{name}[{number}]", place, Currency);
            }
            else
            {
                Fault(name, null, $"expected an object as number {number}");
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
        if (!value.TryGet(name, out var member) || member.IsNull)
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
