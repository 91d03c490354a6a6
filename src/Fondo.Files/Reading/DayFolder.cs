using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Reads a whole day from a folder.</summary>
public static class DayFolder
{
    private static readonly string[] _required = [DayFiles.Setup, DayFiles.Journal];

    /// <summary>The day, or everything that is wrong with it. A folder that is not there is a finding like any other.</summary>
    public static DayReading Read(string folder)
    {
        var builder = new DayBuilder();
        foreach (var name in DayFiles.All)
        {
            var path = Path.Combine(folder, name);
            try
            {
                if (File.Exists(path))
                {
                    using var stream = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read, 1 << 16, FileOptions.SequentialScan);
                    builder.Take(name, stream);
                }
                else if (_required.Contains(name))
                {
                    return Refused(name, $"expected this file in {folder}, and it is not there");
                }
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                return Refused(name, $"this file cannot be read: {e.Message}");
            }
        }

        return builder.Build();
    }

    private static DayReading Refused(string name, string why) => new(null, [new Finding(name, 0, null, null, why)], []);
}
