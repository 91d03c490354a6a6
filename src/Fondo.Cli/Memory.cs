using System.Runtime;
using Fondo.Core.Amounts;

namespace Fondo.Cli;

/// <summary>Nearly all that a day's files become stays until the end, so that collecting garbage on the way would only move it
/// about.</summary>
internal static class Memory
{
    /// <summary>What one byte of the files becomes in memory, about, by measurement.</summary>
    private const double GrowthOfAByte = 2.0;

    private const long WorthIt = 16 << 20, Most = 2_400L << 20;

    /// <summary>So much of the machine's memory may be asked for.</summary>
    private const double ShareOfMachine = 0.4;

    /// <summary>Asks for as much room as the files of the folder will take, without a collection until it is full.</summary>
    public static void ReadWithoutCollecting(string folder)
    {
        if (!Directory.Exists(folder))
        {
            return;
        }

        var room = (long)(new DirectoryInfo(folder).EnumerateFiles().Sum(f => f.Length) * GrowthOfAByte);
        if (room > WorthIt && GCSettings.LatencyMode != GCLatencyMode.NoGCRegion)
        {
            GC.TryStartNoGCRegion((long)Math.Min(Math.Min(room, Most), GC.GetGCMemoryInfo().TotalAvailableMemoryBytes * ShareOfMachine));
        }
    }
}
