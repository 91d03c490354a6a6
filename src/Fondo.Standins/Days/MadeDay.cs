using System.Globalization;
using System.IO.Compression;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Fondo.Standins.Days;

/// <summary>What was planted, and by how much each cell is off for it.</summary>
/// <param name="Kind">The kind of lead that would explain it.</param>
/// <param name="Cells">Register, drawer, tender and variance in minor units.</param>
public sealed record Trouble(string Kind, IReadOnlyList<string> Keys, IReadOnlyList<(string Register, string? Drawer, string Tender, long Variance)> Cells);

/// <summary>A generated day as the files of a day folder.</summary>
/// <param name="Files">Name and contents.</param>
/// <param name="Uncounted">The drawer that is left to be counted, and what it really holds: pieces by denomination, checks, coupons.</param>
public sealed record MadeDay(IReadOnlyDictionary<string, string> Files, int Tickets, IReadOnlyList<Trouble> Troubles, DrawerContent Uncounted)
{
    public void WriteTo(string folder)
    {
        Directory.CreateDirectory(folder);
        foreach (var (name, text) in Files)
        {
            File.WriteAllText(Path.Combine(folder, name), text);
        }
    }

    public byte[] ToZip()
    {
        using var memory = new MemoryStream();
        using (var zip = new ZipArchive(memory, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (name, text) in Files)
            {
                using var stream = zip.CreateEntry(name).Open();
                stream.Write(Encoding.UTF8.GetBytes(text));
            }
        }

        return memory.ToArray();
    }
}

/// <summary>What lies in a drawer.</summary>
/// <param name="Pieces">Number of pieces by denomination in minor units.</param>
public sealed record DrawerContent(string Drawer, IReadOnlyDictionary<long, int> Pieces, IReadOnlyList<(string Number, long Amount)> Checks, long Coupons);

/// <summary>How the open files write things.</summary>
internal static class Write
{
    private static readonly JsonSerializerOptions _plain = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    public static string Amount(long minor) =>
        string.Create(CultureInfo.InvariantCulture, $"{(minor < 0 ? "-" : "")}{Math.Abs(minor) / 100}.{Math.Abs(minor) % 100:00}");

    public static string Time(DateTimeOffset at) => at.ToString("yyyy-MM-dd'T'HH:mm:sszzz", CultureInfo.InvariantCulture);

    public static string Json(JsonNode node) => node.ToJsonString(_plain);
}
