using Microsoft.AspNetCore.Http.Features;

namespace Fondo.Web.Hosting;

/// <summary>How many bytes a request to this door may have; without it, as many as a form has at most.</summary>
[AttributeUsage(AttributeTargets.Class)]
internal sealed class BodyLimit(long bytes) : Attribute
{
    public long Bytes { get; } = bytes;

    public const long Form = 64 << 10;
}

/// <summary>Holds every request to its limit, whether or not it says how long it is.</summary>
internal static class BodyLimits
{
    public static void UseBodyLimits(this IApplicationBuilder app) => app.Use(async (context, next) =>
    {
        var most = context.GetEndpoint()?.Metadata.GetMetadata<BodyLimit>()?.Bytes ?? BodyLimit.Form;
        if (context.Request.ContentLength > most)
        {
            Refuse(context);
            return;
        }

        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } feature)
        {
            feature.MaxRequestBodySize = most;
        }

        var body = new Bounded(context.Request.Body, most);
        context.Request.Body = body;
        try
        {
            await next(context);
        }
        catch (Exception) when (body.IsExceeded && !context.Response.HasStarted)
        {
        }

        if (body.IsExceeded && !context.Response.HasStarted && context.Response.StatusCode != StatusCodes.Status413PayloadTooLarge)
        {
            // Whatever became of a form that could not be read to its end.
            context.Response.Clear();
            Refuse(context);
        }
    });

    /// <summary>Says so, and lets nobody behind it read what is left.</summary>
    private static void Refuse(HttpContext context)
    {
        context.Response.StatusCode = StatusCodes.Status413PayloadTooLarge;
        (context.Request.Body, context.Request.ContentLength, context.Request.ContentType) = (Stream.Null, 0, null);
    }

    /// <summary>Refuses to be read beyond its limit.</summary>
    private sealed class Bounded(Stream inner, long most) : Stream
    {
        private long _left = most;

        public bool IsExceeded => _left < 0;

        public override bool CanRead => true;

        public override bool CanSeek => false;

        public override bool CanWrite => false;

        public override long Length => throw new NotSupportedException();

        public override long Position { get => throw new NotSupportedException(); set => throw new NotSupportedException(); }

        public override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default) =>
            Counted(await inner.ReadAsync(buffer, cancellationToken));

        public override Task<int> ReadAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken) =>
            ReadAsync(buffer.AsMemory(offset, count), cancellationToken).AsTask();

        public override int Read(byte[] buffer, int offset, int count) => Counted(inner.Read(buffer, offset, count));

        public override void Flush()
        {
        }

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        private int Counted(int read) => (_left -= read) >= 0
            ? read
            : throw new BadHttpRequestException("The request is too large.", StatusCodes.Status413PayloadTooLarge);
    }
}
