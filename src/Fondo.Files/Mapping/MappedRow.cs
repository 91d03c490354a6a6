namespace Fondo.Files.Mapping;

/// <summary>A row of a file of another shape, by the columns of its mapping.</summary>
/// <param name="Line">From 1, as an editor counts.</param>
public sealed record MappedRow(int Line, IReadOnlyList<string> Fields, IReadOnlyDictionary<string, int> Places, Mapping Mapping)
{
    /// <summary>Whether it has more fields than there are columns.</summary>
    public bool IsTooLong { get; init; }

    /// <summary>What the mapping says of a field: the column's text, else the fixed value; empty where there is neither.</summary>
    public string this[string field] =>
        Places.TryGetValue(field, out var place) && place < Fields.Count && Fields[place].Trim() is { Length: > 0 } text ? text
        : Mapping.Fixed.TryGetValue(field, out var always) ? always : "";

    /// <summary>The same in the words of Fondo's files.</summary>
    public string Word(string field)
    {
        var text = this[field];
        return Mapping.Words.TryGetValue(field, out var words)
            && words.FirstOrDefault(w => w.Key.Equals(text, StringComparison.OrdinalIgnoreCase)) is { Key: not null } word
            ? word.Value
            : text;
    }

    /// <summary>The column's own name, for a sentence.</summary>
    public string ColumnOf(string field) => Mapping.Columns.GetValueOrDefault(field) ?? field;

    public bool IsTotals => Fields.FirstOrDefault(f => f.Trim().Length > 0)?.Trim() is { } first
        && Mapping.Totals.Any(t => first.Equals(t, StringComparison.OrdinalIgnoreCase)
            || first.StartsWith(t + " ", StringComparison.OrdinalIgnoreCase)
            || first.StartsWith(t + ":", StringComparison.OrdinalIgnoreCase));

    public bool IsVoid => Says(MappedFields.Status) || Says(MappedFields.Type);

    private bool Says(string field) => this[field] is { Length: > 0 } text
        && (Mapping.Voids.Any(v => text.Equals(v, StringComparison.OrdinalIgnoreCase))
            || Word(field).Equals("void", StringComparison.OrdinalIgnoreCase));
}
