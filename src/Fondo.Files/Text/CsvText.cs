namespace Fondo.Files.Text;

/// <summary>Writes fields of CSV (RFC 4180).</summary>
public static class CsvText
{
    /// <summary>The field as it stands in a row, quoted where it has to be; nothing for null.</summary>
    public static string Field(string? text) =>
        text is null ? "" : text.AsSpan().IndexOfAny(",\"\r\n") >= 0 ? $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : text;
}
