using System.Text.Json;

namespace Fondo.Store.Trails;

/// <summary>Hashes of the trail's last line that lie outside the database: in close documents, and in the notes beside backups. Whoever
/// cuts the trail's end off, or makes it afresh, does not have them.</summary>
public static class KeptHeads
{
    /// <summary>Those of the folders of a store, and of another one with copies.</summary>
    /// <param name="data">The store's folder, with <c>closes</c> and <c>backups</c> in it.</param>
    /// <param name="second">Where copies go besides; null where they go nowhere.</param>
    /// <returns>Each with the file that carries it.</returns>
    public static IReadOnlyList<(string Of, string Head)> In(string data, string? second) =>
    [
        .. new[] { Path.Combine(data, "closes"), Path.Combine(data, "backups"), second }.OfType<string>().Where(Directory.Exists)
            .SelectMany(f => Directory.EnumerateFiles(f, "*.json", SearchOption.AllDirectories)).Order(StringComparer.Ordinal)
            .Select(f => (Of: f, Head: HeadOf(f)!)).Where(h => h.Head is not null),
    ];

    private static string? HeadOf(string file)
    {
        try
        {
            using var json = JsonDocument.Parse(File.ReadAllBytes(file));
            return json.RootElement.ValueKind != JsonValueKind.Object ? null
                : json.RootElement.TryGetProperty("Trail", out var trail)
                    && trail.ValueKind == JsonValueKind.Object ? trail.GetProperty("Hash").GetString()
                : json.RootElement.TryGetProperty("Head", out var head) ? head.GetString()
                : null;
        }
        catch (Exception e) when (e is JsonException or IOException or UnauthorizedAccessException or KeyNotFoundException
            or InvalidOperationException)
        {
            return null; // no document of ours, or none any more
        }
    }
}
