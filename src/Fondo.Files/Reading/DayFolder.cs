using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads a whole day from a folder.</summary>
public static class DayFolder
{
    private const long WorthAThread = 1 << 20;

    private static readonly string[] _required = [DayFiles.Setup, DayFiles.Journal];

    /// <summary>The day, or everything that is wrong with it. A folder that is not there is a finding like any other.</summary>
    public static DayReading Read(string folder)
    {
        var builder = new DayBuilder();
        Task<DayReading?>? rows = null;
        DayBuilder? branch = null;
        foreach (var name in DayFiles.All)
        {
            var path = Path.Combine(folder, name);
            if (!File.Exists(path))
            {
                if (_required.Contains(name))
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

        return builder.Build();
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
