using Fondo.Files.Mapping;
using Fondo.Files.Text;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Mappings;
using Fondo.Store.Treasury;
using Fondo.Web.Hosting;

namespace Fondo.Web.Intake;

/// <summary>Takes in what is put into a folder once it is complete, and moves it to <c>taken</c>, or to <c>refused</c> with the reasons
/// beside it.
/// Each thing by itself: whatever is wrong with one is its own refusal, and neither stops the others nor the server.</summary>
internal sealed class WatchedFolder(RunOptions options, IServiceScopeFactory scopes, InboxReport report, TimeProvider clock,
    ILogger<WatchedFolder> log) : BackgroundService
{
    public const string By = Source.Inbox;

    // Of a name's bytes, so that a number and ".reasons.txt" still fit behind them.
    private const int LongestName = 200;

    private static readonly TimeSpan _pause = TimeSpan.FromSeconds(1), _quiet = TimeSpan.FromSeconds(2);

    /// <summary>How each thing looked at the last round: what still changes is still being written.</summary>
    private Dictionary<string, (long Bytes, DateTime At)> _seen = [];

    /// <summary>What could not even be moved away, as it looked then: it is left alone until it changes.</summary>
    private readonly Dictionary<string, (long Bytes, DateTime At)> _stuck = [];

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                Directory.CreateDirectory(options.Inbox);
                await Round();
                report.LookedAt = clock.GetUtcNow();
                await Task.Delay(_pause, stoppingToken);
            }
            catch (OperationCanceledException)
            {
            }
            catch (Exception e)
            {
                log.LogWarning("The watched folder waits: {Why}", e.Message);
                await Task.Delay(_quiet, CancellationToken.None);
            }
        }
    }

    /// <summary>Looks once; what looks as it did a while ago is taken.</summary>
    internal async Task Round()
    {
        var now = new Dictionary<string, (long Bytes, DateTime At)>();
        foreach (var path in Directory.EnumerateFileSystemEntries(options.Inbox).Where(IsOffered).Order(StringComparer.Ordinal).ToList())
        {
            if (Looks(path) is not { } looks)
            {
                continue; // gone meanwhile
            }

            now[path] = looks;
            if (_seen.TryGetValue(path, out var before) && before == looks && DateTime.UtcNow - looks.At > _quiet
                && !(_stuck.TryGetValue(path, out var stuck) && stuck == looks))
            {
                now.Remove(path);
                await Take(path, looks);
            }
        }

        _seen = now;
    }

    private static bool IsOffered(string path) =>
        Path.GetFileName(path) is var name && name is not ("taken" or "refused") && !name.StartsWith('.')
            && !name.EndsWith(".part", StringComparison.Ordinal) && !name.EndsWith(".tmp", StringComparison.Ordinal);

    private static (long Bytes, DateTime At)? Looks(string path)
    {
        try
        {
            var files = Directory.Exists(path) && !IsLink(path) ? Directory.GetFiles(path) : [];
            return (files.Append(path).Where(f => File.Exists(f) && !IsLink(f)).Sum(f => new FileInfo(f).Length),
                files.Append(path).Select(File.GetLastWriteTimeUtc).Max());
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    private static bool IsLink(string path) => new FileInfo(path).LinkTarget is not null;

    private async Task Take(string path, (long Bytes, DateTime At) looks)
    {
        var name = Path.GetFileName(path);
        IReadOnlyList<string> reasons;
        IReadOnlyList<Mapping> mappings = [];
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            mappings = [.. (await scope.ServiceProvider.GetRequiredService<MappingBook>().All()).Select(m => m.Mapping)];
            reasons = await Reasons(path, scope.ServiceProvider);
        }
        catch (Exception e) when (DiskFull.Is(e))
        {
            log.LogError("The disk is full: {Name} stays in the inbox until there is room", name);
            return;
        }
        catch (Exception e) when (e is Microsoft.Data.Sqlite.SqliteException { SqliteErrorCode: 5 or 6 })
        {
            return; // somebody else writes; next time
        }
        catch (Exception e)
        {
            log.LogError(e, "{Name} could not be imported", name);
            reasons = [$"{name} could not be imported: {e.Message}"];
        }

        report.Add(new(name, clock.GetUtcNow(), reasons));
        log.LogInformation("{Name} was {What}", name, reasons.Count == 0 ? "taken in" : "refused: " + reasons[0]);
        try
        {
            await MoveAway(path, reasons, mappings);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or ArgumentException or NotSupportedException)
        {
            _stuck[path] = looks;
            log.LogWarning("{Name} could not be moved out of the inbox and is left alone there: {Why}", name, e.Message);
        }
    }

    private async Task MoveAway(string path, IReadOnlyList<string> reasons, IReadOnlyList<Mapping> mappings)
    {
        var folder = Path.Combine(options.Inbox, reasons.Count == 0 ? "taken" : "refused");
        Directory.CreateDirectory(folder);
        var to = Free(folder, Path.GetFileName(path));
        if (reasons.Count > 0 && HoldsCardNumber(path, mappings))
        {
            // It may not stay on the disk: only why it was refused does.
            Shred(path);
            reasons = [.. reasons, "It contained a full card number, so Fondo destroyed it. Send it again without the number."];
        }
        else if (Directory.Exists(path) && !IsLink(path))
        {
            Directory.Move(path, to);
        }
        else
        {
            File.Move(path, to);
        }

        if (reasons.Count > 0)
        {
            await File.WriteAllLinesAsync(to + ".reasons.txt", reasons);
        }
    }

    /// <summary>In the file itself, in a file of the folder, or in one that is packed in it.</summary>
    private static bool HoldsCardNumber(string path, IReadOnlyList<Mapping> mappings)
    {
        if (IsLink(path))
        {
            return false;
        }

        if (Directory.Exists(path))
        {
            return Directory.GetFiles(path).Any(f => HoldsCardNumber(f, mappings));
        }

        if (!IsReadable(path))
        {
            return false;
        }

        using var file = File.OpenRead(path);
        var inside = Path.GetExtension(path) == ".zip" ? ZipFiles.Open(file, path).Files : [];
        return inside.Count > 0 ? inside.Any(f => HoldsCardNumber(f, mappings))
            : HoldsCardNumber(new OfferedFile(Path.GetFileName(path), () => File.OpenRead(path)), mappings);
    }

    private static bool HoldsCardNumber(OfferedFile file, IReadOnlyList<Mapping> mappings)
    {
        var mapping = mappings.FirstOrDefault(m => m.Reads(file.Name));
        using var stream = file.Open();
        if (Path.GetExtension(file.Name) != Spreadsheet.Ending && mapping is null or { LongNumbers.IsEmpty: true })
        {
            return CardNumberScan.IsIn(stream);
        }

        using var whole = new MemoryStream();
        stream.CopyTo(whole);
        return LongNumbers.HidesCardNumber(whole.ToArray(), mapping);
    }

    private static void Shred(string path)
    {
        if (!Directory.Exists(path))
        {
            Spool.Shred(path);
            return;
        }

        foreach (var file in Directory.GetFiles(path))
        {
            Spool.Shred(file);
        }

        Directory.Delete(path, recursive: true);
    }

    private static async Task<IReadOnlyList<string>> Reasons(string path, IServiceProvider services)
    {
        var name = Path.GetFileName(path);
        if (IsLink(path))
        {
            return [$"{name} is a link. Put the file itself here."];
        }

        if (Directory.Exists(path))
        {
            var files = Directory.GetFiles(path);
            return files.FirstOrDefault(f => !IsReadable(f)) is { } odd
                ? [$"{name}: {Path.GetFileName(odd)} is empty or not a regular file. Nothing was imported."]
                : Why(await services.GetRequiredService<MappedIntake>()
                    .Take([.. files.Select(f => new OfferedFile(Path.GetFileName(f), () => File.OpenRead(f)))], null, By));
        }

        if (!IsReadable(path))
        {
            return [$"{name} is empty or not a regular file."];
        }

        if (Path.GetExtension(name) == ".jsonl")
        {
            await using var lines = File.OpenRead(path);
            var part = await services.GetRequiredService<JournalIntake>().TakeFile(lines, By, name);
            return part.Refusal is { } refusal ? [refusal] : [.. part.Findings.Select(f => $"{name}:{f.Line}: {f.Message}")];
        }

        if (Path.GetExtension(name) == ".json")
        {
            await using var reading = File.OpenRead(path);
            return [.. (await services.GetRequiredService<MachineDesk>().Take(name, reading, null, By)).Findings.Select(f => f.ToString())];
        }

        if (await services.GetRequiredService<MappingBook>().For(name) is var mapping
            && (mapping is not null || StatementIntake.IsStatement(name, mapping)))
        {
            return Why(await services.GetRequiredService<MappedIntake>().Take([new(name, () => File.OpenRead(path))], null, By));
        }

        if (Path.GetExtension(name) != ".zip")
        {
            return [
                $"{name} is not imported from here. Fondo imports a journal (.jsonl), a reading of a scale or counting machine (.json), a "
                    + "statement of the bank (.xml, or statement….csv), a file that a mapping reads, a day folder, or a zip of one."
            ];
        }

        await using var packed = File.OpenRead(path);
        var (unpacked, objection) = ZipFiles.Open(packed, name);
        return objection is null ? Why(await services.GetRequiredService<MappedIntake>().Take(unpacked, null, By)) : [objection];
    }

    /// <summary>A pipe or a device has no length: whoever opened it could wait for ever.</summary>
    private static bool IsReadable(string path) => !IsLink(path) && File.Exists(path) && new FileInfo(path).Length > 0;

    private static IReadOnlyList<string> Why(IntakeResult result) =>
        result.IsTaken ? [] : result.Findings.Count > 0 ? [.. result.Findings.Select(f => f.ToString())] : [result.Objection!];

    /// <summary>A name that is not taken there yet, and not too long for what is put behind it.</summary>
    private static string Free(string folder, string name)
    {
        var (stem, extension) = (Path.GetFileNameWithoutExtension(name), Path.GetExtension(name));
        while (System.Text.Encoding.UTF8.GetByteCount(stem) + System.Text.Encoding.UTF8.GetByteCount(extension) > LongestName)
        {
            (stem, extension) = stem.Length > 1 ? (stem[..^1], extension) : (stem, "");
        }

        var path = Path.Combine(folder, stem + extension);
        for (var n = 2; Path.Exists(path) || Path.Exists(path + ".reasons.txt"); n++)
        {
            path = Path.Combine(folder, $"{stem}-{n}{extension}");
        }

        return path;
    }
}
