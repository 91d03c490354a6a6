using System.Buffers;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Fondo.Files.Text;
using Sylvan.Data.Csv;

namespace Fondo.Files.Reading;

/// <summary>The row that stands in a CSV reader, as fields; an empty field is nothing.</summary>
internal sealed class CsvFields(string file, IReadOnlyDictionary<string, int> columns, CsvDataReader csv, Findings findings,
    Currency currency) : Fields(currency)
{
    private byte[] _utf8 = new byte[256];
    private int _line;

    /// <summary>The same fields, for the row at this line.</summary>
    public CsvFields At(int line)
    {
        _line = line;
        Forget();
        return this;
    }

    protected override FieldKind IntegerKind => FieldKind.Text;

    protected override FieldKind Find(string name, bool recurs, out string? text)
    {
        var kind = Find(name, out ReadOnlySpan<byte> utf8);
        text = kind != FieldKind.Text ? null : recurs ? Strings.Of(utf8) : Encoding.UTF8.GetString(utf8);
        return kind;
    }

    protected override FieldKind Find(string name, out ReadOnlySpan<byte> utf8)
    {
        var text = columns.TryGetValue(name, out var column) ? csv.GetFieldSpan(column) : default;
        if (Encoding.UTF8.GetMaxByteCount(text.Length) > _utf8.Length)
        {
            _utf8 = new byte[Encoding.UTF8.GetMaxByteCount(text.Length)];
        }

        utf8 = _utf8.AsSpan(0, Encoding.UTF8.GetBytes(text, _utf8));
        return text.Length > 0 ? FieldKind.Text : FieldKind.Missing;
    }

    /// <summary>The row by its columns, as a JSON object of texts.</summary>
    public string ToJson()
    {
        var written = new ArrayBufferWriter<byte>();
        using (var json = new Utf8JsonWriter(written, new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping }))
        {
            json.WriteStartObject();
            foreach (var (name, column) in columns)
            {
                json.WriteString(name, csv.GetFieldSpan(column));
            }

            json.WriteEndObject();
        }

        return Encoding.UTF8.GetString(written.WrittenSpan);
    }

    protected override void Report(string name, string? value, string expected) => findings.Add(file, _line, name, value, expected);
}
