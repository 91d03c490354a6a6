using Fondo.Files.Mapping;
using Fondo.Files.Text;
using Fondo.Web.Hosting;

namespace Fondo.Web.Intake;

/// <summary>A file that was sent, where it lies until it is taken in.</summary>
internal sealed record SpooledFile(string Name, string Path);

/// <summary>The data folder's own place for what is being sent: not in memory, and not in a folder of the machine. What is there is
/// shredded once it is done with,
/// because it may hold what must never stay on the disk.</summary>
internal sealed class Spool(RunOptions options)
{
    private const int Buffer = 1 << 16;

    /// <summary>Whatever an earlier run left is shredded.</summary>
    public void Clear()
    {
        Directory.CreateDirectory(options.Spool);
        foreach (var left in Directory.GetFiles(options.Spool))
        {
            Shred(left);
        }
    }

    /// <summary>Writes what comes, looking for card numbers meanwhile.</summary>
    /// <returns>The file; or the sentence that says why it was refused: then nothing of it is left.</returns>
    public async Task<(SpooledFile? File, string? Objection)> Take(string name, Stream stream, CancellationToken cancel)
    {
        Directory.CreateDirectory(options.Spool);
        var path = Path.Combine(options.Spool, Guid.NewGuid().ToString("N"));
        // What is packed is looked at when it is unpacked.
        var isWorkbook = name.EndsWith(Spreadsheet.Ending, StringComparison.OrdinalIgnoreCase);
        var scan = isWorkbook || name.EndsWith(".zip", StringComparison.OrdinalIgnoreCase) ? null : new CardNumberScan();
        try
        {
            await using (var file =
                new FileStream(path, FileMode.CreateNew, FileAccess.Write, FileShare.None, Buffer, FileOptions.Asynchronous))
            {
                var (buffer, read) = (new byte[Buffer], 0);
                while ((read = await stream.ReadAsync(buffer, cancel)) > 0)
                {
                    if (scan?.Finds(buffer.AsSpan(0, read)) == true)
                    {
                        break;
                    }

                    await file.WriteAsync(buffer.AsMemory(0, read), cancel);
                }

                if (read == 0 && scan?.FindsAtEnd() != true && !isWorkbook)
                {
                    return (new(name, path), null);
                }
            }

            if (isWorkbook && !Spreadsheet.HoldsCardNumber(await File.ReadAllBytesAsync(path, cancel)))
            {
                return (new(name, path), null);
            }

            Shred(path);
            return (null,
                $"{name}{(scan is null ? ": a cell" : $":{scan.Line}: this line")} contains a full card number. Only the last four digits "
                    + "are allowed. Nothing was imported or saved.");
        }
        catch
        {
            Shred(path);
            throw;
        }
    }

    /// <summary>Overwrites a file, and deletes it.</summary>
    public static void Shred(string path)
    {
        if (!File.Exists(path))
        {
            return;
        }

        if (new FileInfo(path).LinkTarget is null)
        {
            using var file = new FileStream(path, FileMode.Open, FileAccess.Write, FileShare.None);
            var (zeros, left) = (new byte[Buffer], file.Length);
            for (; left > 0; left -= zeros.Length)
            {
                file.Write(zeros, 0, (int)Math.Min(zeros.Length, left));
            }

            file.Flush(flushToDisk: true);
        }

        File.Delete(path);
    }
}
