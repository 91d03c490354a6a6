namespace Fondo.Files.Reading;

/// <summary>A file of the bank, whatever its shape: XML is camt.053, everything else is CSV.</summary>
public static class StatementFiles
{
    public static async Task<StatementReading> Read(string file, Stream content, Currency currency)
    {
        using var copy = new MemoryStream();
        await content.CopyToAsync(copy);
        copy.Position = 0;
        return CamtFile.IsLike(copy.GetBuffer().AsSpan(0, (int)copy.Length)) ? CamtFile.Read(copy) : StatementCsv.Read(file, copy, currency);
    }
}
