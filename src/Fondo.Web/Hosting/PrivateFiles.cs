using System.Runtime.InteropServices;

namespace Fondo.Web.Hosting;

/// <summary>Whatever Fondo writes only its own user reads.</summary>
internal static class PrivateFiles
{
    private const UnixFileMode Folder = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute,
        OfFile = UnixFileMode.UserRead | UnixFileMode.UserWrite;

    /// <summary>From now on for this process; and the data folder as it is.</summary>
    public static void Begin(string dataFolder)
    {
        if (OperatingSystem.IsWindows())
        {
            return;
        }

        _ = Umask(0b000_111_111);
        File.SetUnixFileMode(dataFolder, Folder);
        foreach (var file in Directory.GetFiles(dataFolder))
        {
            File.SetUnixFileMode(file, OfFile);
        }

        foreach (var folder in Directory.GetDirectories(dataFolder))
        {
            File.SetUnixFileMode(folder, Folder);
        }
    }

    /// <summary>Nobody else reads this file.</summary>
    public static void Close(string file)
    {
        if (!OperatingSystem.IsWindows())
        {
            File.SetUnixFileMode(file, OfFile);
        }
    }

    [DllImport("libc", EntryPoint = "umask")]
    private static extern uint Umask(uint mask);
}
