using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads a CSV file (RFC 4180) row by row; columns are found by name.</summary>
internal static class CsvFile
{
    /// <summary>Calls <paramref name="take"/> with the line, the columns and the values of every whole row.</summary>
    public static void Read(string file, Stream stream, IReadOnlyList<string> required, Findings findings, Action<int, IReadOnlyDictionary<string, int>, string[]> take)
    {
        using var reader = new StreamReader(stream, new UTF8Encoding(false, throwOnInvalidBytes: true));
        var line = 0;
        try
        {
            var bad = false;
            using var csv = new CsvParser(reader, new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Mode = CsvMode.RFC4180,
                IgnoreBlankLines = true,
                BadDataFound = _ => bad = true,
            });
            if (!csv.Read())
            {
                findings.Add(file, 1, null, null, "expected a header row, and the file is empty");
                return;
            }

            line = csv.RawRow;
            if (Columns(file, csv.Record!, required, findings) is not { } columns)
            {
                return;
            }

            while (!findings.IsFull)
            {
                var start = line + 1;
                if (!csv.Read())
                {
                    break;
                }

                line = csv.RawRow;
                var values = csv.Record!;
                if (bad)
                {
                    findings.Add(file, start, null, null, "the quotes of this row do not pair (RFC 4180)");
                    bad = false;
                }
                else if (values.Length != columns.Count)
                {
                    findings.Add(file, start, null, null, $"expected {columns.Count} fields, and there are {values.Length}");
                }
                else if (Withholds(file, start, columns, values, findings))
                {
                    take(start, columns, values);
                }
            }
        }
        catch (DecoderFallbackException)
        {
            findings.Add(file, line + 1, null, null, "the text is not valid UTF-8");
        }
        catch (CsvHelperException)
        {
            findings.Add(file, line + 1, null, null, "this row cannot be read as CSV (RFC 4180)");
        }
    }

    private static Dictionary<string, int>? Columns(string file, string[] header, IReadOnlyList<string> required, Findings findings)
    {
        var columns = new Dictionary<string, int>();
        for (var i = 0; i < header.Length; i++)
        {
            if (!columns.TryAdd(header[i].Trim(), i))
            {
                findings.Add(file, 1, null, null, $"the column {(CardNumbers.Contains(header[i]) ? "(withheld)" : header[i])} stands twice in the header");
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

    private static bool Withholds(string file, int line, Dictionary<string, int> columns, string[] values, Findings findings)
    {
        foreach (var (name, column) in columns)
        {
            if (name != "sku" && CardNumbers.Contains(values[column]))
            {
                findings.Add(file, line, name, null, CardNumberRule.Sentence);
                return false;
            }
        }

        return true;
    }
}

internal static class CardNumberRule
{
    public const string Sentence = "holds a full card number; at most the last four digits may be written";
}
