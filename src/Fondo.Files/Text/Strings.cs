using System.Buffers.Binary;
using System.Runtime.InteropServices;
using System.Text;

namespace Fondo.Files.Text;

/// <summary>Short texts that come back all day long (register ids, article names) are kept once. Up to sixteen bytes are compared as two
/// numbers.</summary>
internal sealed class Strings
{
    private const int SlotBits = 12, Longest = 32;

    [ThreadStatic]
    private static Strings? _ofThread;

    private readonly Slot[] _slots = new Slot[1 << SlotBits];

    private struct Slot
    {
        public ulong First, Last;
        public string? Text;
    }

    /// <summary>From what this thread knows.</summary>
    public static string Of(ReadOnlySpan<byte> utf8) => (_ofThread ??= new()).Known(utf8);

    /// <summary>The text as a code that shares with others what stands before its digits.</summary>
    public static Code CodeOf(string text)
    {
        const int onStack = 256;
        var most = Encoding.UTF8.GetMaxByteCount(text.Length);
        Span<byte> utf8 = most <= onStack ? stackalloc byte[most] : new byte[most];
        return Code.OfUtf8(utf8[..Encoding.UTF8.GetBytes(text, utf8)], Of);
    }

    public string Known(ReadOnlySpan<byte> utf8)
    {
        var length = utf8.Length;
        if (length is 0 or > Longest)
        {
            return Encoding.UTF8.GetString(utf8);
        }

        var (first, last) = Ends(utf8);
        const ulong odd = 0x9E3779B97F4A7C15;
        ref var slot = ref _slots[((first * odd) ^ ((last + (ulong)length) * odd >> 7)) >> (64 - SlotBits)];
        if (slot.Text is { } known && slot.First == first && slot.Last == last && known.Length == length
            && (length <= 16 || Ascii.Equals(utf8, known)))
        {
            return known;
        }

        var text = Encoding.UTF8.GetString(utf8);
        if (text.Length == length)
        {
            (slot.First, slot.Last, slot.Text) = (first, last, text);
        }

        return text;
    }

    /// <summary>The first and the last eight bytes; of fewer than sixteen they overlap, and with the length say all.</summary>
    private static (ulong First, ulong Last) Ends(ReadOnlySpan<byte> utf8) => utf8.Length switch
    {
        >= 8 => (MemoryMarshal.Read<ulong>(utf8), MemoryMarshal.Read<ulong>(utf8[^8..])),
        >= 4 => (MemoryMarshal.Read<uint>(utf8), BinaryPrimitives.ReadUInt32LittleEndian(utf8[^4..])),
        _ => ((ulong)(utf8[0] | (utf8[utf8.Length / 2] << 8) | (utf8[^1] << 16)), 0),
    };
}
