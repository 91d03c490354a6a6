using System.Globalization;

namespace Fondo.Files.Text;

/// <summary>Writes fields of CSV (RFC 4180).</summary>
public static class CsvText
{
    /// <summary>The field as it stands in a row, quoted where it has to be; nothing for null.</summary>
    public static string Field(string? text) =>
        text is null ? "" : text.AsSpan().IndexOfAny(",\"\r\n") >= 0 ? $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : text;

    /// <summary>The same for what people open in a spreadsheet: text that one would take for a formula begins with an apostrophe; a number stays a number.</summary>
    public static string Shown(string? text) =>
        Field(text is { Length: > 0 } && text[0] is '=' or '+' or '-' or '@' or '\t' && !decimal.TryParse(text, NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out _) ? $"'{text}" : text);
}
