using System.Text;
using Fondo.Files.Text;
using Sylvan.Data.Csv;

namespace Fondo.Files.Mapping;

/// <summary>The rows of a file of another shape, or what is wrong with the file as such.</summary>
public sealed record MappedSource(IReadOnlyList<string> Header, IReadOnlyList<MappedRow> Rows)
{
    /// <summary>The fields of the lines above the rows, the names of the columns among them.</summary>
    public IEnumerable<string> Above { get; private init; } = [];

    /// <summary>Reads the whole file.</summary>
    public static MappedSource Read(string file, byte[] bytes, Mapping mapping, Findings findings)
    {
        if (Decode(bytes, mapping.Encoding, mapping.Sheet) is not { } text)
        {
            findings.Add(file, Spreadsheet.Is(bytes) ? 0 : BadLine(bytes), null, null, Spreadsheet.Is(bytes)
                ? mapping.Sheet.Length > 0 ? $"this workbook has no sheet {mapping.Sheet} that can be read"
                    : "this workbook cannot be read; save it anew, or as CSV"
                : $"the text of this line is not {mapping.Encoding}; choose another encoding, or save the file in one encoding throughout");
            return new([], []);
        }

        var raw = Raw(file, text, Spreadsheet.Is(bytes) ? ',' : mapping.Separator, findings);
        var header = mapping.HasHeader ? raw.Skip(mapping.SkipLines).FirstOrDefault().Fields ?? [] : [];
        if (mapping.HasHeader && header.Count == 0)
        {
            findings.Add(file, mapping.SkipLines + 1, null, null, "expected column names, but the file ends before them");
            return new([], []);
        }

        var places = new Dictionary<string, int>();
        foreach (var (field, column) in mapping.Columns)
        {
            var place = mapping.HasHeader ? header.Select(h => h.Trim()).ToList()
                .FindIndex(h => h.Equals(column, StringComparison.OrdinalIgnoreCase))
                : int.TryParse(column, out var number) ? number - 1
                : -1;
            if (place < 0)
            {
                findings.Add(file, mapping.SkipLines + 1, field, column,
                    $"expected a column of this name; there are {string.Join(", ", header.Where(h => !CardNumbers.Contains(h)).Take(20))}");
            }
            else
            {
                places[field] = place;
            }
        }

        var above = mapping.SkipLines + (mapping.HasHeader ? 1 : 0);
        return new(header, [.. raw.Skip(above).Where(r => r.Fields.Any(f => f.Trim().Length > 0))
            .Select(r => new MappedRow(r.Line, WithLongNumbersApart(r.Fields, places, mapping), places, mapping)
            {
                IsTooLong = IsLonger(r.Fields, header.Count)
            })])
        { Above = raw.Take(above).SelectMany(r => r.Fields) };
    }

    /// <summary>Numbers of articles stay as they are: they may be as long as those of cards everywhere.</summary>
    private static IReadOnlyList<string> WithLongNumbersApart(IReadOnlyList<string> fields, Dictionary<string, int> places, Mapping mapping)
    {
        var apart = mapping.LongNumbers.Where(f => f != MappedFields.Sku).Select(f => places.GetValueOrDefault(f, -1)).ToList();
        return apart.Count == 0 ? fields : [.. fields.Select((f, i) => apart.Contains(i) ? LongNumbers.Apart(f) : f)];
    }

    /// <summary>Whether something stands behind the last column: most often an amount with an unquoted comma.</summary>
    private static bool IsLonger(IReadOnlyList<string> fields, int columns) =>
        columns > 0 && fields.Skip(columns).Any(f => f.Trim().Length > 0);

    /// <summary>The records of a text, each with its first line.</summary>
    internal static List<(int Line, IReadOnlyList<string> Fields)> Raw(string file, string text, char separator, Findings findings)
    {
        var (rows, line) = (new List<(int, IReadOnlyList<string>)>(), 1);
        try
        {
            using var reader = new StringReader(text);
            using var csv = CsvDataReader.Create(reader,
                new CsvDataReaderOptions
                {
                    HasHeaders = false,
                    Delimiter = separator,
                    Quote = '"',
                    Escape = '"',
                    MaxBufferSize = Limits.LongestLine
                });
            while (csv.Read())
            {
                rows.Add((line, [.. Enumerable.Range(0, csv.RowFieldCount).Select(i => csv.GetFieldSpan(i).ToString())]));
                line += 1 + csv.GetRawRecordSpan().TrimEnd("\r\n").Count('\n');
            }
        }
        catch (CsvRecordTooLargeException)
        {
            findings.Add(file, line, null, null, "this row is longer than 16 MB");
        }
        catch (CsvFormatException)
        {
            findings.Add(file, line, null, null, "a quote in this row is not closed");
        }

        return rows;
    }

    /// <summary>The text in that encoding; what says of itself that it is UTF-16 is believed. A workbook's sheet is one, too. Null where
    /// it is not in that encoding.</summary>
    internal static string? Decode(byte[] bytes, string encoding, string sheet = "")
    {
        if (Spreadsheet.Is(bytes))
        {
            return Spreadsheet.AsCsv(bytes, sheet.Length > 0 ? sheet : null);
        }

        if (bytes is [0xFF, 0xFE, ..] or [0xFE, 0xFF, ..])
        {
            return (bytes[0] == 0xFF ? Encoding.Unicode : Encoding.BigEndianUnicode).GetString(bytes, 2, bytes.Length - 2);
        }

        if (encoding == Mapping.Utf16)
        {
            // Without a mark of its own, most of its high bytes are nothing.
            return (bytes.Length > 1 && bytes[0] == 0 ? Encoding.BigEndianUnicode : Encoding.Unicode).GetString(bytes);
        }

        if (encoding is Mapping.Latin1 or Mapping.Windows1252)
        {
            // What is called Latin-1 is Windows-1252 wherever the two differ.
            return CodePagesEncodingProvider.Instance.GetEncoding(1252)!.GetString(bytes);
        }

        try
        {
            return new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(bytes).TrimStart('\uFEFF');
        }
        catch (DecoderFallbackException)
        {
            return null;
        }
    }

    private static int BadLine(byte[] bytes)
    {
        var (line, from) = (1, 0);
        while (from < bytes.Length)
        {
            var end = Array.IndexOf(bytes, (byte)'\n', from) is >= 0 and var at ? at : bytes.Length;
            if (!System.Text.Unicode.Utf8.IsValid(bytes.AsSpan(from, end - from)))
            {
                return line;
            }

            (line, from) = (line + 1, end + 1);
        }

        return line;
    }
}
