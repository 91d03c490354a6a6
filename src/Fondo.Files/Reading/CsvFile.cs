using System.Text;
using Fondo.Files.Text;
using Sylvan.Data.Csv;

namespace Fondo.Files.Reading;

/// <summary>Reads a CSV file (RFC 4180) row by row; columns are found by name.</summary>
internal static class CsvFile
{
    /// <summary>Calls <paramref name="take"/> with every whole row. The fields are valid until the next one.</summary>
    /// <param name="firstLine">The number of the header's line: 1, unless the lines behind it were read otherwise already.</param>
    public static void Read(string file, Stream stream, IReadOnlyList<string> required, Currency currency, Findings findings,
        Action<int, CsvFields> take, int firstLine = 1)
    {
        var line = firstLine;
        try
        {
            using var text = new StreamReader(new Utf8Lines(stream), new UTF8Encoding(false, throwOnInvalidBytes: true), true, 1 << 16);
            using var csv = CsvDataReader.Create(text, new CsvDataReaderOptions
            {
                HasHeaders = false,
                Delimiter = ',',
                Quote = '"',
                Escape = '"',
                BufferSize = 1 << 16,
                MaxBufferSize = Limits.LongestLine,
                OwnsReader = false,
            });
            if (!csv.Read())
            {
                findings.Add(file, 1, null, null, "expected a header row, but the file is empty");
                return;
            }

            if (Columns(file, csv, required, findings) is not { } columns)
            {
                return;
            }

            var fields = new CsvFields(file, columns, csv, findings, currency);
            line += Lines(csv);
            while (!findings.IsFull && csv.Read())
            {
                if (csv.RowFieldCount == columns.Count)
                {
                    if (MayBeKept(file, line, columns, csv, findings))
                    {
                        take(line, fields.At(line));
                    }
                }
                else if (csv.RowFieldCount != 1 || csv.GetFieldSpan(0).Length > 0)
                {
                    findings.Add(file, line, null, null, $"expected {columns.Count} fields, but there are {csv.RowFieldCount}");
                }

                line += Lines(csv);
            }
        }
        catch (InvalidUtf8Exception e)
        {
            findings.Add(file, e.Line + firstLine - 1, null, null, "the text is not valid UTF-8");
        }
        catch (CsvRecordTooLargeException)
        {
            findings.Add(file, line, null, null, "this row is longer than 16 MB");
        }
        catch (CsvFormatException)
        {
            findings.Add(file, line, null, null, "a quote in this row is not closed (RFC 4180)");
        }
    }

    /// <summary>How many lines the record that stands in the reader takes: a quoted field may hold line feeds.</summary>
    private static int Lines(CsvDataReader csv) => 1 + csv.GetRawRecordSpan().TrimEnd("\r\n").Count('\n');

    private static Dictionary<string, int>? Columns(string file, CsvDataReader csv, IReadOnlyList<string> required, Findings findings)
    {
        if (csv.RowFieldCount > Limits.MostMembers)
        {
            findings.Add(file, 1, null, null, $"the header has more than {Limits.MostMembers} columns");
            return null;
        }

        var columns = new Dictionary<string, int>();
        for (var i = 0; i < csv.RowFieldCount; i++)
        {
            var name = csv.GetFieldSpan(i).Trim().ToString();
            if (!columns.TryAdd(name, i))
            {
                findings.Add(file, 1, null, null,
                    $"the column {(CardNumbers.Contains(name) ? "(withheld)" : name)} appears twice in the header");
                return null;
            }
        }

        var missing = required.Where(r => !columns.ContainsKey(r)).ToList();
        if (missing.Count > 0)
        {
            findings.Add(file, 1, null, null, $"the header lacks {string.Join(", ", missing)}; expected {string.Join(",", required)}");
            return null;
        }

        return columns;
    }

    /// <summary>False, and reported, when a field holds a full card number.</summary>
    private static bool MayBeKept(string file, int line, Dictionary<string, int> columns, CsvDataReader csv, Findings findings)
    {
        foreach (var (name, column) in columns)
        {
            if (CardNumbers.Contains(csv.GetFieldSpan(column)) && name != "sku")
            {
                findings.Add(file, line, name, null, CardNumberRule.Sentence);
                return false;
            }
        }

        return true;
    }
}

public static class CardNumberRule
{
    public const string Sentence = "contains a full card number; only the last four digits are allowed";
}
