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
public sealed record Trouble(string Kind, IReadOnlyList<string> Keys,
    IReadOnlyList<(string Register, string? Drawer, string Tender, long Variance)> Cells)
{
    /// <summary>The items that it leaves unmatched.</summary>
    public IReadOnlyList<string> Open { get; init; } = [];

    public string Note { get; init; } = "";
}

/// <summary>One file of a generated day, in parts.</summary>
internal sealed record MadeFile(string Name, IReadOnlyList<byte[]> Parts)
{
    public void WriteTo(Stream stream)
    {
        foreach (var part in Parts)
        {
            stream.Write(part);
        }
    }

    public string Text() => string.Concat(Parts.Select(Encoding.UTF8.GetString));
}

/// <summary>A generated day as the files of a day folder.</summary>
public sealed class MadeDay
{
    private readonly IReadOnlyList<MadeFile> _files;
    private readonly Lazy<IReadOnlyDictionary<string, string>> _texts;

    private readonly Func<JsonObject>? _truth;

    internal MadeDay(IReadOnlyList<MadeFile> files, int tickets, int tenders, IReadOnlyList<Trouble> troubles, DrawerContent uncounted,
        Func<JsonObject>? truth)
    {
        _truth = truth;
        (_files, Tickets, Tenders, Troubles, Uncounted) = (files, tickets, tenders, troubles, uncounted);
        _texts = new(() => files.ToDictionary(f => f.Name, f => f.Text()));
    }

    public int Tickets { get; }

    public int Tenders { get; }

    public IReadOnlyList<Trouble> Troubles { get; }

    /// <summary>The drawer that is left to be counted, and what it really holds: pieces by denomination, checks, coupons.</summary>
    public DrawerContent Uncounted { get; }

    /// <summary>Name and contents of each file.</summary>
    public IReadOnlyDictionary<string, string> Files => _texts.Value;

    public void WriteTo(string folder)
    {
        Directory.CreateDirectory(folder);
        foreach (var file in _files)
        {
            using var stream = new FileStream(Path.Combine(folder, file.Name), FileMode.Create, FileAccess.Write, FileShare.None, 1 << 16);
            file.WriteTo(stream);
        }
    }

    /// <summary>How a day with planted faults should come out: faults, cells, pairs, amounts (docs/leads.md); null for the demo's
    /// days.</summary>
    public JsonObject? Truth() => _truth?.Invoke();

    public byte[] ToZip()
    {
        using var memory = new MemoryStream();
        using (var zip = new ZipArchive(memory, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var file in _files)
            {
                using var stream = zip.CreateEntry(file.Name).Open();
                file.WriteTo(stream);
            }
        }

        return memory.ToArray();
    }
}

/// <summary>What lies in a drawer.</summary>
/// <param name="Pieces">Number of pieces by denomination in minor units.</param>
public sealed record DrawerContent(string Drawer, IReadOnlyDictionary<long, int> Pieces, IReadOnlyList<(string Number, long Amount)> Checks,
    long Coupons);

/// <summary>How the open files write things.</summary>
internal static class Write
{
    private static readonly JsonSerializerOptions _plain = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    public static string Amount(long minor) =>
        string.Create(CultureInfo.InvariantCulture, $"{(minor < 0 ? "-" : "")}{Math.Abs(minor) / 100}.{Math.Abs(minor) % 100:00}");

    public static string Time(DateTimeOffset at) => at.ToString("yyyy-MM-dd'T'HH:mm:sszzz", CultureInfo.InvariantCulture);

    public static string Json(JsonNode node) => node.ToJsonString(_plain);
}
