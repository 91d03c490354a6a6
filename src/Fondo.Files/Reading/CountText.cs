using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>One stored count as text.</summary>
public static class CountText
{
    /// <summary>Null where this set-up no longer understands it.</summary>
    public static Count? Read(string json, Setup setup)
    {
        var findings = new Findings();
        Count? count = null;
        using var stream = new MemoryStream(JsonFile.Bytes(json));
        JsonFile.ReadDocument(DayFiles.Counts, stream, findings,
            (root, place) => count = place.IsObject(root) ? ProofReader.Count(new(root, place, setup.Currency), new(setup)) : null);
        return findings.Any ? null : count;
    }
}
