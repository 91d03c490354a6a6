using System.Buffers;
using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Some whole lines of a file, in a buffer that is given back when the block is disposed of.</summary>
/// <param name="FirstLine">The number of the first of them, from 1.</param>
internal sealed record LineBlock(byte[] Buffer, int Start, int Length, int FirstLine) : IDisposable
{
    public void Dispose() => ArrayPool<byte>.Shared.Return(Buffer);

    /// <summary>The lines that are not blank, with their numbers.</summary>
    public IEnumerable<(int Line, ArraySegment<byte> Bytes)> Lines()
    {
        var (rest, line) = (new ArraySegment<byte>(Buffer, Start, Length), FirstLine);
        while (rest.Count > 0)
        {
            var end = rest.AsSpan().IndexOf((byte)'\n');
            var text = end < 0 ? rest : rest[..end];
            if (text.AsSpan().TrimEnd(" \t\r"u8).Length > 0)
            {
                yield return (line, text);
            }

            rest = end < 0 ? default : rest[(end + 1)..];
            line++;
        }
    }
}

/// <summary>Cuts a file into blocks of whole lines, so that no more of its text is in memory than is being read.</summary>
internal static class LineBlocks
{
    private const int Size = 1 << 18;

    public static IEnumerable<LineBlock> Of(string file, Stream stream, Findings findings)
    {
        var buffer = ArrayPool<byte>.Shared.Rent(Size);
        var (held, line, isFirst) = (0, 1, true);
        while (true)
        {
            var read = stream.ReadAtLeast(buffer.AsSpan(held), buffer.Length - held, throwOnEndOfStream: false);
            var isLast = held + read < buffer.Length;
            held += read;
            var whole = isLast ? held : buffer.AsSpan(0, held).LastIndexOf((byte)'\n') + 1;
            if (whole == 0 && held >= Limits.LongestLine)
            {
                findings.Add(file, line, null, null, "this line is longer than 16 MB");
                yield break;
            }

            // What follows the last whole line begins the next block; a line longer than the block makes the next one larger.
            var next = isLast ? null : ArrayPool<byte>.Shared.Rent(Math.Max(Size, (held - whole) * 2));
            buffer.AsSpan(whole, held - whole).CopyTo(next);
            var start = isFirst && whole > 0 && buffer.AsSpan(0, whole).StartsWith(JsonFile.Bom) ? JsonFile.Bom.Length : 0;
            if (whole > start)
            {
                var lines = buffer.AsSpan(0, whole).Count((byte)'\n');
                yield return new(buffer, start, whole - start, line);
                line += lines;
            }
            else
            {
                ArrayPool<byte>.Shared.Return(buffer);
            }

            if (next is null)
            {
                yield break;
            }

            isFirst &= whole == 0;
            (buffer, held) = (next, held - whole);
        }
    }
}
