using System.Text;

namespace Fondo.Files.Text;

/// <summary>Short texts that come back all day long (register ids, article names) are kept once.</summary>
internal static class Strings
{
    private const int Slots = 1 << 14, Longest = 32;

    [ThreadStatic]
    private static string?[]? _known;

    public static string Of(ReadOnlySpan<byte> utf8)
    {
        if (utf8.Length is 0 or > Longest)
        {
            return Encoding.UTF8.GetString(utf8);
        }

        var hash = new HashCode();
        hash.AddBytes(utf8);
        ref var slot = ref (_known ??= new string?[Slots])[hash.ToHashCode() & (Slots - 1)];
        if (slot is not null && slot.Length == utf8.Length && Ascii.Equals(utf8, slot))
        {
            return slot;
        }

        return slot = Encoding.UTF8.GetString(utf8);
    }
}
