using System.Buffers.Binary;
using System.Text;

namespace Fondo.Files.Text;

/// <summary>Short texts that come back all day long (register ids, article names) are kept once.</summary>
internal static class Strings
{
    private const int SlotBits = 11, Longest = 32;

    [ThreadStatic]
    private static string?[]? _known;

    public static string Of(ReadOnlySpan<byte> utf8)
    {
        if (utf8.Length is 0 or > Longest)
        {
            return Encoding.UTF8.GetString(utf8);
        }

        ref var slot = ref (_known ??= new string?[1 << SlotBits])[Slot(utf8)];
        if (slot is not null && slot.Length == utf8.Length && Ascii.Equals(utf8, slot))
        {
            return slot;
        }

        return slot = Encoding.UTF8.GetString(utf8);
    }

    private static int Slot(ReadOnlySpan<byte> utf8)
    {
        const ulong odd = 0x9E3779B97F4A7C15;
        var hash = (ulong)utf8.Length;
        while (utf8.Length >= 8)
        {
            hash = (hash ^ BinaryPrimitives.ReadUInt64LittleEndian(utf8)) * odd;
            hash ^= hash >> 32;
            utf8 = utf8[8..];
        }

        foreach (var b in utf8)
        {
            hash = (hash ^ b) * odd;
        }

        return (int)(hash >> (64 - SlotBits));
    }
}
