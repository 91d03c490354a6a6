using Fondo.Files.Mapping;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads a whole day from a folder.</summary>
public static class DayFolder
{
    private const long WorthAThread = 1 << 20;

    private static readonly string[] _required = [DayFiles.Setup, DayFiles.Journal];

    /// <summary>The day, or everything that is wrong with it. A folder that is not there is a finding like any other.</summary>
    /// <param name="mappings">How files of another shape are read: those of the folder whose names fit.</param>
    /// <param name="reports">By the name of such a file, what a printed report says that it comes to.</param>
    public static DayReading Read(string folder, IReadOnlyList<Mapping.Mapping>? mappings = null,
        IReadOnlyDictionary<string, ReportFigures>? reports = null)
    {
        var builder = new DayBuilder();
        Task<DayReading?>? rows = null;
        DayBuilder? branch = null;
        foreach (var name in DayFiles.All)
        {
            var path = Path.Combine(folder, name);
            if (!File.Exists(path))
            {
                if (_required.Contains(name) && !(name == DayFiles.Journal
                    && Mapped(folder, mappings).Any(m => m.Mapping.Kind == MappedKind.Journal)))
                {
                    return Refused(name, $"expected this file in {folder}, and it is not there");
                }

                continue;
            }

            if (name == DayFiles.Journal && IsLong(Path.Combine(folder, DayFiles.Rows)))
            {
                // The two long files are read side by side.
                var beside = branch = builder.BranchForRows();
                rows = Task.Run(() => Take(beside, DayFiles.Rows, Path.Combine(folder, DayFiles.Rows)));
            }

            var refused = name == DayFiles.Rows && rows is not null ? rows.GetAwaiter().GetResult() : Take(builder, name, path);
            if (refused is not null)
            {
                return refused;
            }

            if (name == DayFiles.Rows && branch is not null)
            {
                builder.Join(branch);
            }
        }

        var (mapped, unmapped) = (Mapped(folder, mappings).Where(_ => builder.Setup is not null).ToList(), new List<Finding>());
        foreach (var (path, mapping) in mapped)
        {
            unmapped.AddRange(Take(builder, path, mapping, reports?.GetValueOrDefault(Path.GetFileName(path))));
        }

        unmapped.AddRange((builder.Setup is null ? [] : reports?.Keys ?? [])
            .Where(r => mapped.TrueForAll(m => Path.GetFileName(m.Path) != r))
            .Select(r => new Finding(r, 0, null, null, "a report was named for this file, but no mapping reads it here")));

        return unmapped.Count > 0 ? new(null, unmapped, []) : builder.Build();
    }

    private static IEnumerable<(string Path, Mapping.Mapping Mapping)> Mapped(string folder, IReadOnlyList<Mapping.Mapping>? mappings) =>
        mappings is null || !Directory.Exists(folder) ? []
        : Directory.GetFiles(folder).Order(StringComparer.Ordinal).Select(p => (p, mappings.FirstOrDefault(m => m.Reads(p))!))
            .Where(p => p.Item2 is not null);

    private static IEnumerable<Finding> Take(DayBuilder builder, string path, Mapping.Mapping mapping, ReportFigures? report)
    {
        var name = Path.GetFileName(path);
        try
        {
            var (setup, day) = (builder.Setup!, builder.Setup!.TradingDay.Date);
            var made = MappedFile.Of(name, File.ReadAllBytes(path), mapping, setup);
            if (made.Findings.Count == 0 && made.OfAnotherDay(name, day, setup) is { } elsewhere)
            {
                return [elsewhere];
            }

            if (made.Findings.Count == 0 && report?.Objection(made, setup.Currency) is { } differs)
            {
                return [new(name, 0, null, null, differs)];
            }

            if (made.Findings.Count == 0)
            {
                using var text = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(made.Text));
                builder.Take(made.Name, text);
            }

            return made.Findings;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return [new Finding(name, 0, null, null, $"this file cannot be read: {e.Message}")];
        }
    }

    private static bool IsLong(string path) => File.Exists(path) && new FileInfo(path).Length > WorthAThread;

    /// <summary>Null when the file was taken; else why it could not be read at all.</summary>
    private static DayReading? Take(DayBuilder builder, string name, string path)
    {
        try
        {
            using var stream = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 1 << 16, FileOptions.SequentialScan);
            builder.Take(name, stream);
            return null;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return Refused(name, $"this file cannot be read: {e.Message}");
        }
    }

    private static DayReading Refused(string name, string why) => new(null, [new Finding(name, 0, null, null, why)], []);
}
