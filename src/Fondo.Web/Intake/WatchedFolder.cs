using Fondo.Core.Amounts;
using Fondo.Store.Intake;
using Fondo.Web.Hosting;

namespace Fondo.Web.Intake;

/// <summary>Takes in what is put into a folder once it is complete, and moves it to <c>taken</c>, or to <c>refused</c> with the reasons beside it.</summary>
internal sealed class WatchedFolder(RunOptions options, IServiceScopeFactory scopes, ILogger<WatchedFolder> log) : BackgroundService
{
    public const string By = "inbox";

    private static readonly TimeSpan _pause = TimeSpan.FromSeconds(1), _quiet = TimeSpan.FromSeconds(2);

    /// <summary>How each thing looked at the last round: what still changes is still being written.</summary>
    private Dictionary<string, (long Bytes, DateTime At)> _seen = [];

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        Directory.CreateDirectory(options.Inbox);
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await Round();
                await Task.Delay(_pause, stoppingToken);
            }
            catch (OperationCanceledException)
            {
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException or Microsoft.Data.Sqlite.SqliteException or Microsoft.EntityFrameworkCore.DbUpdateException)
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
            var looks = now[path] = Looks(path);
            if (_seen.TryGetValue(path, out var before) && before == looks && DateTime.UtcNow - looks.At > _quiet)
            {
                now.Remove(path);
                await Take(path);
            }
        }

        _seen = now;
    }

    private static bool IsOffered(string path) =>
        Path.GetFileName(path) is var name && name is not ("taken" or "refused") && !name.StartsWith('.') && !name.EndsWith(".part", StringComparison.Ordinal) && !name.EndsWith(".tmp", StringComparison.Ordinal);

    private static (long Bytes, DateTime At) Looks(string path)
    {
        var files = Directory.Exists(path) ? Directory.GetFiles(path) : [path];
        return (files.Sum(f => new FileInfo(f).Length), files.Select(File.GetLastWriteTimeUtc).DefaultIfEmpty(Directory.GetLastWriteTimeUtc(path)).Max());
    }

    private async Task Take(string path)
    {
        await using var scope = scopes.CreateAsyncScope();
        var reasons = await Reasons(path, scope.ServiceProvider);
        var to = Free(Path.Combine(options.Inbox, reasons.Count == 0 ? "taken" : "refused"), Path.GetFileName(path));
        Directory.CreateDirectory(Path.GetDirectoryName(to)!);
        Directory.Move(path, to);
        if (reasons.Count > 0)
        {
            await File.WriteAllLinesAsync(to + ".reasons.txt", reasons);
        }

        log.LogInformation("{Name} was {What}", Path.GetFileName(path), reasons.Count == 0 ? "taken in" : "refused: " + reasons[0]);
    }

    private static async Task<IReadOnlyList<string>> Reasons(string path, IServiceProvider services)
    {
        var name = Path.GetFileName(path);
        if (Path.GetExtension(name) == ".jsonl")
        {
            await using var lines = File.OpenRead(path);
            var part = await services.GetRequiredService<JournalIntake>().TakeFile(lines, By);
            return part.Refusal is { } refusal ? [refusal] : [.. part.Findings.Select(f => $"{name}:{f.Line}: {f.Message}")];
        }

        var intake = services.GetRequiredService<DayIntake>();
        if (Directory.Exists(path))
        {
            return Why(await intake.Take([.. Directory.GetFiles(path).Select(f => new OfferedFile(Path.GetFileName(f), () => File.OpenRead(f)))], null, By));
        }

        if (Path.GetExtension(name) != ".zip")
        {
            return [$"{name} is not taken from here. Fondo takes a journal (.jsonl), a day folder, or a zip of one."];
        }

        await using var packed = File.OpenRead(path);
        var (files, objection) = ZipFiles.Open(packed, name);
        return objection is null ? Why(await intake.Take(files, null, By)) : [objection];
    }

    private static IReadOnlyList<string> Why(IntakeResult result) =>
        result.IsTaken ? [] : result.Findings.Count > 0 ? [.. result.Findings.Select(f => f.ToString())] : [result.Objection!];

    /// <summary>A name that is not taken there yet.</summary>
    private static string Free(string folder, string name)
    {
        var path = Path.Combine(folder, name);
        for (var n = 2; Path.Exists(path); n++)
        {
            path = Path.Combine(folder, $"{Path.GetFileNameWithoutExtension(name)}-{n}{Path.GetExtension(name)}");
        }

        return path;
    }
}
