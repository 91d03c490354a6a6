using System.Globalization;
using System.Text;
using Fondo.Files.Text;
using MiniExcelLibs;

namespace Fondo.Files.Mapping;

/// <summary>A sheet of a workbook as the text of a CSV file: a line for each of its rows, from the first. Numbers have a point, dates are
/// written year, month, day.</summary>
public static class Spreadsheet
{
    public const string Ending = ".xlsx";

    /// <summary>Whether the bytes are those of a packed file, as workbooks are.</summary>
    public static bool Is(ReadOnlySpan<byte> bytes) => bytes.StartsWith("PK\u0003\u0004"u8);

    /// <summary>The first sheet, or the named one; null where it cannot be read.</summary>
    public static string? AsCsv(byte[] bytes, string? sheet = null)
    {
        try
        {
            using var stream = new MemoryStream(bytes, writable: false);
            var text = new StringBuilder();
            IEnumerable<object> rows = stream.Query(sheetName: sheet, excelType: ExcelType.XLSX);
            foreach (var row in rows.Cast<IDictionary<string, object?>>())
            {
                text.AppendJoin(',', row.Values.Select(v => CsvText.Field(Written(v)))).Append('\n');
                if (text.Length > Limits.LargestDocument)
                {
                    return null;
                }
            }

            return text.ToString();
        }
        catch (Exception e) when (IsDamage(e))
        {
            return null;
        }
    }

    /// <summary>The sheets besides the first, or besides the named one.</summary>
    internal static IEnumerable<string> Others(byte[] bytes, string sheet)
    {
        using var stream = new MemoryStream(bytes, writable: false);
        var names = stream.GetSheetNames();
        return [.. names.Where(n => n != (sheet.Length > 0 ? sheet : names[0])).Select(n => AsCsv(bytes, n)).OfType<string>()];
    }

    /// <summary>Whether a full card number stands in any cell of any sheet; in one that cannot be read, none does that anybody
    /// could.</summary>
    public static bool HoldsCardNumber(byte[] bytes)
    {
        if (!Is(bytes))
        {
            // Only called a workbook: a text like any other.
            return CardNumberScan.IsIn(new MemoryStream(bytes, writable: false));
        }

        try
        {
            using var stream = new MemoryStream(bytes, writable: false);
            return stream.GetSheetNames().Any(s => AsCsv(bytes, s) is { } text
                && CardNumberScan.IsIn(new MemoryStream(Encoding.UTF8.GetBytes(text))));
        }
        catch (Exception e) when (IsDamage(e))
        {
            return false;
        }
    }

    private static bool IsDamage(Exception e) => e is InvalidDataException or System.Xml.XmlException or FormatException
        or KeyNotFoundException or InvalidOperationException or NotSupportedException or ArgumentException or NullReferenceException;

    private static string Written(object? value) => value switch
    {
        null => "",
        DateTime at => Rounded(at).ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture),
        double number => Written(number),
        IFormattable other => other.ToString(null, CultureInfo.InvariantCulture),
        _ => value.ToString()!.ReplaceLineEndings(" "),
    };

    /// <summary>As a person sees it: binary fractions are not shown.</summary>
    private static string Written(double number) => Math.Abs(number) < 1e15
        ? ((decimal)number).ToString(CultureInfo.InvariantCulture)
        : number.ToString("R", CultureInfo.InvariantCulture);

    /// <summary>Moments in a sheet are fractions of a day.</summary>
    private static DateTime Rounded(DateTime at) => new DateTime(at.Ticks + (TimeSpan.TicksPerSecond / 2), at.Kind) is var near
        ? near.AddTicks(-(near.Ticks % TimeSpan.TicksPerSecond)) : at;
}
