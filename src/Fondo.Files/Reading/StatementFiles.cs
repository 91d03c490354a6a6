namespace Fondo.Files.Reading;

/// <summary>A file of the bank, whatever its shape: camt.053, OFX, MT940, or our own CSV. What it begins with tells.</summary>
public static class StatementFiles
{
    /// <summary>By these endings a file of the bank is known.</summary>
    public static readonly ImmutableArray<string> Endings = [".xml", ".ofx", ".sta", ".940", ".mt940"];

    /// <param name="zone">Of the store.</param>
    public static async Task<StatementReading> Read(string file, Stream content, Currency currency, TimeZoneInfo zone)
    {
        using var copy = new MemoryStream();
        await content.CopyToAsync(copy);
        copy.Position = 0;
        var bytes = copy.ToArray();
        var head = BankFileText.Decode(bytes.Length > 4_000 ? [.. bytes.Take(4_000).TakeWhile(b => b < 0x80)] : bytes);
        return OfxFile.IsLike(head) ? OfxFile.Read(BankFileText.Decode(bytes), zone)
            : Mt940File.IsLike(head) ? Mt940File.Read(BankFileText.Decode(bytes))
            : CamtFile.IsLike(bytes) ? CamtFile.Read(copy, zone)
            : StatementCsv.Read(file, copy, currency);
    }
}
