using System.Globalization;

namespace Fondo.Files.Text;

/// <summary>Writes fields of CSV (RFC 4180).</summary>
public static class CsvText
{
    /// <summary>The field as it stands in a row, quoted where it has to be; nothing for null.</summary>
    public static string Field(string? text) =>
        text is null ? "" : text.AsSpan().IndexOfAny(",\"\r\n") >= 0 ? $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : text;

    /// <summary>The same for what people open in a spreadsheet: text that one would take for a formula begins with an apostrophe; a number
    /// stays a number.</summary>
    public static string Shown(string? text) => Field(text is null ? null : Guarded(text));

    /// <summary>A text that a spreadsheet would take for a formula, with an apostrophe before it; any other, and a number, as it
    /// is.</summary>
    public static string Guarded(string text) =>
        text is ['=' or '+' or '-' or '@' or '\t' or '\r' or '\n', ..]
            && !decimal.TryParse(text, NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out _)
            ? $"'{text}"
            : text;
}
