using System.Runtime.InteropServices;
using System.Text.Unicode;

namespace Fondo.Files.Reading;

/// <summary>The lines of tickets that went by, by their bytes. A store sells the same thing at the same price all day long: such a line is read once and kept once.
/// The same bytes always read the same, and of two lines that fall into one place the later one stays.</summary>
internal sealed class KnownLines
{
    private const int PlaceBits = 15, Longest = 256;

    private readonly (byte[]? Bytes, TicketLine? Line)[] _places = new (byte[]?, TicketLine?)[1 << PlaceBits];

    /// <summary>The line that these bytes are; null where they are not known to be one.</summary>
    public TicketLine? Find(ReadOnlySpan<byte> bytes) =>
        bytes.Length is > 0 and <= Longest && _places[PlaceOf(bytes)] is { Bytes: { } known, Line: { } line } && bytes.SequenceEqual(known) ? line : null;

    public void Keep(ReadOnlySpan<byte> bytes, TicketLine line)
    {
        if (bytes.Length <= Longest && Utf8.IsValid(bytes))
        {
            _places[PlaceOf(bytes)] = (bytes.ToArray(), line);
        }
    }

    private static int PlaceOf(ReadOnlySpan<byte> bytes)
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

        return (int)((hash * odd) >> (64 - PlaceBits));
    }
}
