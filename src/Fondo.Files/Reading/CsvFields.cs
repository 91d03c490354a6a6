using System.Text;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>One row of a CSV file as fields; an empty field is nothing.</summary>
internal sealed class CsvFields(string file, int line, IReadOnlyDictionary<string, int> columns, string[] values, Findings findings, Currency currency) : Fields(currency)
{
    private byte[] _utf8 = [];

    protected override FieldKind IntegerKind => FieldKind.Text;

    protected override FieldKind Find(string name, out string? text)
    {
        text = columns.TryGetValue(name, out var column) ? values[column] : null;
        return text?.Length > 0 ? FieldKind.Text : FieldKind.Missing;
    }

    protected override FieldKind Find(string name, out ReadOnlySpan<byte> utf8)
    {
        var kind = Find(name, out string? text);
        utf8 = default;
        if (kind == FieldKind.Text)
        {
            if (_utf8.Length < Encoding.UTF8.GetMaxByteCount(text!.Length))
            {
                _utf8 = new byte[Encoding.UTF8.GetMaxByteCount(text.Length)];
            }

            utf8 = _utf8.AsSpan(0, Encoding.UTF8.GetBytes(text, _utf8));
        }

        return kind;
    }

    protected override void Report(string name, string? value, string expected) => findings.Add(file, line, name, value, expected);
}
