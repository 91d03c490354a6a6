using System.Runtime.InteropServices;

namespace Fondo.Core.Journal;

/// <summary>Hashes of short keys, several times as fast as the runtime's own. Their seed is the runtime's, another in each process, so that
/// nobody can choose keys that collide.</summary>
internal static class QuickHash
{
    private const ulong Odd = 0x9E3779B97F4A7C15;

    private static readonly ulong _seed =
        ((ulong)(uint)"Fondo".GetHashCode(StringComparison.Ordinal) << 32) | (uint)"odnoF".GetHashCode(StringComparison.Ordinal);

    public static int Of(string? text) => text is null ? 0 : Folded(Mixed(_seed, text));

    /// <summary>Of two texts and a number together.</summary>
    public static int Of(string? first, string? second, long third)
    {
        var hash = Mixed(_seed, first);
        hash = Mixed(hash, second);
        return Folded((hash ^ (ulong)third) * Odd);
    }

    public static int Of(string? first, string? second, string? third) => Folded(Mixed(Mixed(Mixed(_seed, first), second), third));

    private static ulong Mixed(ulong hash, string? text)
    {
        var bytes = MemoryMarshal.AsBytes(text.AsSpan());
        hash ^= (ulong)bytes.Length;
        while (bytes.Length >= sizeof(ulong))
        {
            hash = (hash ^ MemoryMarshal.Read<ulong>(bytes)) * Odd;
            hash ^= hash >> 29;
            bytes = bytes[sizeof(ulong)..];
        }

        foreach (var part in MemoryMarshal.Cast<byte, char>(bytes))
        {
            hash = (hash ^ part) * Odd;
        }

        return hash ^ (hash >> 32);
    }

    private static int Folded(ulong hash)
    {
        hash *= Odd;
        return (int)(hash >> 32);
    }
}
