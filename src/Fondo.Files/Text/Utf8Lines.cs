using System.Text;
using System.Text.Unicode;

namespace Fondo.Files.Text;

/// <summary>A stream that is not UTF-8 text.</summary>
/// <param name="line">Where the first byte stands that is none, from 1.</param>
internal sealed class InvalidUtf8Exception(int line) : IOException("The text is not valid UTF-8.")
{
    public int Line => line;
}

/// <summary>Passes bytes on while they are UTF-8, and knows the line they have come to: whoever reads ahead in large blocks learns where a
/// fault stands.</summary>
internal sealed class Utf8Lines(Stream inner) : Stream
{
    private const int LongestRune = 4;

    private readonly byte[] _begun = new byte[LongestRune];
    private int _held, _line = 1;

    public override bool CanRead => true;

    public override bool CanSeek => false;

    public override bool CanWrite => false;

    public override long Length => throw new NotSupportedException();

    public override long Position { get => throw new NotSupportedException(); set => throw new NotSupportedException(); }

    /// <exception cref="InvalidUtf8Exception">A byte is not UTF-8.</exception>
    public override int Read(Span<byte> buffer)
    {
        var read = inner.Read(buffer);
        if (read == 0 && _held > 0)
        {
            throw new InvalidUtf8Exception(_line);
        }

        Check(buffer[..read]);
        return read;
    }

    public override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    public override void Flush()
    {
    }

    public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    public override void SetLength(long value) => throw new NotSupportedException();

    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    private void Check(ReadOnlySpan<byte> bytes)
    {
        // A character that the last block began goes on here.
        while (_held > 0 && bytes.Length > 0)
        {
            _begun[_held++] = bytes[0];
            bytes = bytes[1..];
            switch (Rune.DecodeFromUtf8(_begun.AsSpan(0, _held), out _, out var used))
            {
                case System.Buffers.OperationStatus.Done when used == _held:
                    _held = 0;
                    break;
                case System.Buffers.OperationStatus.NeedMoreData:
                    break;
                default:
                    throw new InvalidUtf8Exception(_line);
            }
        }

        var rest = Unfinished(bytes);
        var whole = bytes[..^rest];
        if (Utf8.IsValid(whole))
        {
            _line += whole.Count((byte)'\n');
            bytes[^rest..].CopyTo(_begun);
            _held = rest;
            return;
        }

        while (Rune.DecodeFromUtf8(whole, out var rune, out var length) == System.Buffers.OperationStatus.Done)
        {
            _line += rune.Value == '\n' ? 1 : 0;
            whole = whole[length..];
        }

        throw new InvalidUtf8Exception(_line);
    }

    /// <summary>How many bytes at the end begin a character that is not whole.</summary>
    private static int Unfinished(ReadOnlySpan<byte> bytes)
    {
        for (var back = 1; back < LongestRune && back <= bytes.Length; back++)
        {
            var b = bytes[^back];
            if (b < 0x80)
            {
                return 0;
            }

            if (b >= 0xC0)
            {
                return (b >= 0xF0 ? 4 : b >= 0xE0 ? 3 : 2) > back ? back : 0;
            }
        }

        return 0;
    }
}
