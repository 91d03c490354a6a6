using System.Globalization;
using System.Text;
using Fondo.Core.Closing;
using Fondo.Files.Text;
using MiniExcelLibs;

namespace Fondo.Web.Closing;

/// <summary>A close document as files that other programs read.</summary>
public static class CloseFiles
{
    public const string Xlsx = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

    public static string NameOf(CloseDocument doc, string end) => $"close-{doc.Number}-{doc.TradingDay}.{end}";

    /// <summary>All tables one below the other: their kind first, then their columns. UTF-8 with its mark, so that spreadsheets read it as
    /// such.</summary>
    public static byte[] Csv(CloseDocument doc) => Csv(CloseTables.Of(doc));

    /// <summary>The same of any tables.</summary>
    public static byte[] Csv(IEnumerable<CloseTable> tables)
    {
        var text = new StringBuilder("\uFEFF");
        foreach (var table in tables)
        {
            Line(table.Columns.Select(c => c.Name).Prepend(table.Kind));
            foreach (var row in table.Rows)
            {
                // A machine reads a point and a plain minus.
                Line(row.Select(v => v.Number is { } number ? number.ToString(CultureInfo.InvariantCulture) : v.Text).Prepend(table.Kind));
            }
        }

        return Encoding.UTF8.GetBytes(text.ToString());

        void Line(IEnumerable<string> fields) => text.AppendJoin(',', fields.Select(CsvText.Shown)).Append("\r\n");
    }

    /// <summary>A workbook, a sheet for each table; amounts are numbers.</summary>
    public static byte[] Workbook(CloseDocument doc)
    {
        var sheets = new Dictionary<string, object>
        {
            ["close"] = new List<Dictionary<string, object?>>
            {
                new() { ["What"] = "Store", ["Is"] = doc.Store },
                new() { ["What"] = "Close", ["Is"] = doc.Number },
                new() { ["What"] = "Revision", ["Is"] = doc.Revision },
                new() { ["What"] = "Trading day", ["Is"] = doc.TradingDay }, new() { ["What"] = "Currency", ["Is"] = doc.Currency },
                new() { ["What"] = "Closed by", ["Is"] = doc.ClosedBy },
                new() { ["What"] = "Closed at", ["Is"] = doc.ClosedAt.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture) },
            },
        };
        return Workbook(sheets, CloseTables.Of(doc));
    }

    /// <summary>A sheet for each table, behind those that are there.</summary>
    public static byte[] Workbook(Dictionary<string, object> sheets, IEnumerable<CloseTable> tables)
    {
        foreach (var table in tables)
        {
            sheets[table.Kind] = table.Rows.Select(r => Named(table, r)).ToList();
        }

        using var stream = new MemoryStream();
        stream.SaveAs(sheets);
        return stream.ToArray();
    }

    /// <summary>Two columns of one name are told apart by what stands before them.</summary>
    private static Dictionary<string, object?> Named(CloseTable table, IReadOnlyList<TableValue> row)
    {
        var named = new Dictionary<string, object?>();
        for (var i = 0; i < row.Count; i++)
        {
            var name = table.Columns[i].Name;
            named[named.ContainsKey(name) ? $"{name} of {table.Columns[i - 1].Name.ToLowerInvariant()}" : name] =
                row[i].Number is { } number ? number : CsvText.Guarded(row[i].Text);
        }

        return named;
    }
}
