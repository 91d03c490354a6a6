using System.IO.Compression;
using Fondo.Core.Amounts;

namespace Fondo.Store.Intake;

/// <summary>The files of a zip that somebody offers.</summary>
public static class ZipFiles
{
    /// <summary>The files, by name; or the sentence that says why the zip is refused. Folders inside are passed over.</summary>
    public static (IReadOnlyList<OfferedFile> Files, string? Objection) Open(Stream stream, string name)
    {
        try
        {
            var zip = new ZipArchive(stream, ZipArchiveMode.Read);
            var entries = zip.Entries.Where(e => e.Name.Length > 0).ToList();
            return entries.Count > Limits.MostFiles ? ([], $"{name} contains more than {Limits.MostFiles} files. Nothing was imported.")
                : entries.Any(e => e.Length is < 0 or > Limits.LargestUpload) || entries.Sum(e => (decimal)e.Length) > Limits.LargestUpload
                ? ([], $"{name} unpacks to more than 512 MB. Nothing was imported.")
                : ([.. entries.Select(e => new OfferedFile(e.Name, () => new BoundedStream(e.Open(), e.Length)))], null);
        }
        catch (Exception e) when (e is InvalidDataException or IOException or ArgumentException or NotSupportedException
            or ArithmeticException)
        {
            return ([], $"{name} is not a readable zip file. Nothing was imported.");
        }
    }

    /// <summary>Ends where the zip's directory says the file ends, whatever the packed bytes unfold to.</summary>
    private sealed class BoundedStream(Stream inner, long length) : Stream
    {
        private long _left = length;

        public override bool CanRead => true;

        public override bool CanSeek => false;

        public override bool CanWrite => false;

        public override long Length => throw new NotSupportedException();

        public override long Position { get => throw new NotSupportedException(); set => throw new NotSupportedException(); }

        public override int Read(byte[] buffer, int offset, int count)
        {
            var read = inner.Read(buffer, offset, (int)Math.Min(count, _left));
            _left -= read;
            return read;
        }

        public override void Flush()
        {
        }

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        protected override void Dispose(bool disposing)
        {
            if (disposing)
            {
                inner.Dispose();
            }

            base.Dispose(disposing);
        }
    }
}
