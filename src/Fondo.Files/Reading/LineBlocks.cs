using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>Some whole lines of a file.</summary>
/// <param name="FirstLine">The number of the first of them, from 1.</param>
internal sealed record LineBlock(ReadOnlyMemory<byte> Bytes, int FirstLine)
{
    /// <summary>The lines that are not blank, with their numbers.</summary>
    public IEnumerable<(int Line, ReadOnlyMemory<byte> Bytes)> Lines()
    {
        var (rest, line) = (Bytes, FirstLine);
        while (rest.Length > 0)
        {
            var end = rest.Span.IndexOf((byte)'\n');
            var text = end < 0 ? rest : rest[..end];
            if (text.Span.TrimEnd(" \t\r"u8).Length > 0)
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
    private const int Size = 1 << 20, LongestLine = 16 << 20;

    public static IEnumerable<LineBlock> Of(string file, Stream stream, Findings findings)
    {
        var buffer = new byte[Size];
        var (held, line, isFirst) = (0, 1, true);
        while (true)
        {
            var read = stream.ReadAtLeast(buffer.AsSpan(held), buffer.Length - held, throwOnEndOfStream: false);
            var isLast = held + read < buffer.Length;
            held += read;
            var whole = isLast ? held : buffer.AsSpan(0, held).LastIndexOf((byte)'\n') + 1;
            if (whole == 0 && !isLast)
            {
                if (held >= LongestLine)
                {
                    findings.Add(file, line, null, null, "this line is longer than 16 MB");
                    yield break;
                }

                Array.Resize(ref buffer, held * 2);
                continue;
            }

            var start = isFirst && buffer.AsSpan(0, whole).StartsWith(JsonFile.Bom) ? JsonFile.Bom.Length : 0;
            isFirst = false;
            if (whole > start)
            {
                yield return new(buffer.AsMemory(start, whole - start), line);
                line += buffer.AsSpan(0, whole).Count((byte)'\n');
            }

            if (isLast)
            {
                yield break;
            }

            var next = new byte[Math.Max(Size, (held - whole) * 2)];
            buffer.AsSpan(whole, held - whole).CopyTo(next);
            (buffer, held) = (next, held - whole);
        }
    }
}
