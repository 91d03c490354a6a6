using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>One row of a CSV file as fields; an empty field is nothing.</summary>
internal sealed class CsvFields(string file, int line, IReadOnlyDictionary<string, int> columns, string[] values, Findings findings, Currency currency) : Fields(currency)
{
    protected override FieldKind IntegerKind => FieldKind.Text;

    protected override (FieldKind Kind, string? Text) Get(string name) =>
        columns.TryGetValue(name, out var column) && values[column].Length > 0 ? (FieldKind.Text, values[column]) : (FieldKind.Missing, null);

    protected override void Report(string name, string? value, string expected) => findings.Add(file, line, name, value, expected);
}
