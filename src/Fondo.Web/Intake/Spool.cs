using Fondo.Files.Mapping;
using Fondo.Files.Text;
using Fondo.Store.Intake;
using Fondo.Store.Mappings;
using Fondo.Web.Hosting;

namespace Fondo.Web.Intake;

/// <summary>A file that was sent, where it lies until it is taken in.</summary>
internal sealed record SpooledFile(string Name, string Path);

/// <summary>The data folder's own place for what is being sent: not in memory, and not in a folder of the machine. What is there is
/// shredded once it is done with,
/// because it may hold what must never stay on the disk.</summary>
internal sealed class Spool(RunOptions options)
{
    private const int Buffer = 1 << 16, PackedMark = 4;

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
    /// <param name="mapping">That reads the file; null where none does.</param>
    /// <returns>The file; or the sentence that says why it was refused: then nothing of it is left.</returns>
    public async Task<(SpooledFile? File, string? Objection)> Take(string name, Stream stream, Mapping? mapping, CancellationToken cancel)
    {
        Directory.CreateDirectory(options.Spool);
        var path = Path.Combine(options.Spool, Guid.NewGuid().ToString("N"));
        try
        {
            var objection = mapping is { LongNumbers.IsEmpty: false } ? await WriteMapped(name, path, stream, mapping, cancel)
                : await Write(name, path, stream, cancel);
            if (objection is null)
            {
                return (new(name, path), null);
            }

            Shred(path);
            return (null, objection);
        }
        catch
        {
            Shred(path);
            throw;
        }
    }

    private static async Task<string?> Write(string name, string path, Stream stream, CancellationToken cancel)
    {
        var (buffer, scan) = (new byte[Buffer], new CardNumberScan());
        var read = await stream.ReadAtLeastAsync(buffer, PackedMark, throwOnEndOfStream: false, cancel);
        // What is packed is looked at when it is unpacked: a workbook here, a zip by whoever opens it. What is only called so is a text.
        var isPacked = Spreadsheet.Is(buffer.AsSpan(0, read));
        var isZip = isPacked && name.EndsWith(".zip", StringComparison.OrdinalIgnoreCase);
        var isText = !isZip && !(isPacked && name.EndsWith(Spreadsheet.Ending, StringComparison.OrdinalIgnoreCase));
        await using (var file =
            new FileStream(path, FileMode.CreateNew, FileAccess.Write, FileShare.None, Buffer, FileOptions.Asynchronous))
        {
            for (; read > 0; read = await stream.ReadAsync(buffer, cancel))
            {
                if (isText && scan.Finds(buffer.AsSpan(0, read)))
                {
                    return Refusal(name, scan.Line);
                }

                await file.WriteAsync(buffer.AsMemory(0, read), cancel);
            }
        }

        return isText && scan.FindsAtEnd() ? Refusal(name, scan.Line)
            : isPacked && !isZip && Spreadsheet.HoldsCardNumber(await File.ReadAllBytesAsync(path, cancel)) ? Refusal(name, null)
            : null;
    }

    /// <summary>One of whose columns a person said that its long numbers are none of cards: it is looked at before it is
    /// written.</summary>
    private static async Task<string?> WriteMapped(string name, string path, Stream stream, Mapping mapping, CancellationToken cancel)
    {
        if (await WholeFile.Read(stream, MappedIntake.Largest) is not { } bytes)
        {
            return MappedIntake.TooLarge(name);
        }

        if (LongNumbers.HidesCardNumber(bytes, mapping))
        {
            return Refusal(name, null);
        }

        await File.WriteAllBytesAsync(path, bytes, cancel);
        return null;
    }

    private static string Refusal(string name, int? line) =>
        $"{name}{(line is { } known ? $":{known}: this line" : ": a cell")} contains a full card number. Only the last four digits "
            + "are allowed. Nothing was imported or saved.";

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
