using System.Diagnostics;

namespace Fondo.Soak;

/// <summary>A disk in memory under the data folder, where this process may make one; else the folder as it is, which is never
/// full.</summary>
internal sealed class SmallDisk : IDisposable
{
    private const string Size = "600m";

    private readonly string _folder;
    private readonly bool _isMounted;
    private bool _isKept;

    public SmallDisk(string folder)
    {
        _folder = folder;
        _isMounted = Run("mount", "-t", "tmpfs", "-o", $"size={Size}", "tmpfs", folder);
    }

    private string Filler => Path.Combine(_folder, "filler");

    /// <summary>Takes all the room that is left.</summary>
    /// <returns>False where the disk cannot be filled.</returns>
    public bool Fill()
    {
        if (!_isMounted)
        {
            return false;
        }

        try
        {
            using var file = File.Create(Filler);
            var some = new byte[1 << 20];
            while (true)
            {
                file.Write(some);
                file.Flush();
            }
        }
        catch (IOException)
        {
            return true;
        }
    }

    public void Free() => File.Delete(Filler);

    /// <summary>What is there is looked at by somebody.</summary>
    public void Keep() => _isKept = true;

    public void Dispose()
    {
        if (_isKept)
        {
            return;
        }

        if (_isMounted)
        {
            Run("umount", "-l", _folder);
        }

        Directory.Delete(_folder, recursive: true);
    }

    private static bool Run(string program, params string[] words)
    {
        try
        {
            using var process =
                Process.Start(new ProcessStartInfo(program, words) { RedirectStandardError = true, RedirectStandardOutput = true })!;
            process.WaitForExit();
            return process.ExitCode == 0;
        }
        catch (System.ComponentModel.Win32Exception)
        {
            return false;
        }
    }
}
