using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Settled rows as the text of a batches.csv.</summary>
public static class BatchRows
{
    /// <summary>The rows; or what is wrong with them.</summary>
    public static (IReadOnlyList<BatchRow> Rows, IReadOnlyList<Finding> Findings) Read(string csv, Setup setup)
    {
        var (findings, words, rows) = (new Findings(), new Vocabulary(setup), new List<BatchRow>());
        using var stream = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(csv));
        CsvFile.Read(DayFiles.Rows, stream, ProofReader.RowColumns, setup.Currency, findings, (_, fields) =>
        {
            var row = ProofReader.Row(fields, words);
            if (!fields.Faulty)
            {
                rows.Add(row);
            }
        });
        return (findings.Any ? [] : rows, findings.All);
    }
}
