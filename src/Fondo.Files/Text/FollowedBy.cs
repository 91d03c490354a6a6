namespace Fondo.Files.Text;

/// <summary>Some bytes, and then a stream from where it stands.</summary>
internal sealed class FollowedBy(byte[] first, Stream then) : Stream
{
    private int _at;

    public override bool CanRead => true;

    public override bool CanSeek => false;

    public override bool CanWrite => false;

    public override long Length => throw new NotSupportedException();

    public override long Position { get => throw new NotSupportedException(); set => throw new NotSupportedException(); }

    public override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    public override int Read(Span<byte> buffer)
    {
        if (_at == first.Length)
        {
            return then.Read(buffer);
        }

        var some = first.AsSpan(_at, Math.Min(buffer.Length, first.Length - _at));
        some.CopyTo(buffer);
        _at += some.Length;
        return some.Length;
    }

    public override void Flush()
    {
    }

    public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    public override void SetLength(long value) => throw new NotSupportedException();

    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
}
