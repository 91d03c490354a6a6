using System.Runtime.InteropServices;
using System.Text.Unicode;

namespace Fondo.Files.Reading;

/// <summary>The lines of tickets that went by, by their bytes. A store sells the same thing at the same price all day long: such a line is
/// read once and kept once.
/// The same bytes always read the same.</summary>
internal sealed class KnownLines
{
    private const int Longest = 256;

    private readonly RecentByHash<(byte[] Bytes, TicketLine Line)> _places = new();

    /// <summary>The line that these bytes are; null where they are not known to be one.</summary>
    public TicketLine? Find(ReadOnlySpan<byte> bytes) =>
        bytes.Length is > 0 and <= Longest && _places.At(HashOf(bytes)) is { Bytes: { } known, Line: var line }
            && bytes.SequenceEqual(known) ? line : null;

    public void Keep(ReadOnlySpan<byte> bytes, TicketLine line)
    {
        if (bytes.Length <= Longest && Utf8.IsValid(bytes))
        {
            _places.Keep(HashOf(bytes), (bytes.ToArray(), line));
        }
    }

    private static int HashOf(ReadOnlySpan<byte> bytes)
    {
        const ulong odd = 0x9E3779B97F4A7C15;
        var hash = (ulong)bytes.Length;
        for (; bytes.Length >= sizeof(ulong); bytes = bytes[sizeof(ulong)..])
        {
            hash = (hash ^ MemoryMarshal.Read<ulong>(bytes)) * odd;
            hash ^= hash >> 29;
        }

        foreach (var rest in bytes)
        {
            hash = (hash ^ rest) * odd;
        }

        return (int)((hash * odd) >> 32);
    }
}
