using System.Collections.Concurrent;
using Fondo.Store;
using Fondo.Store.Intake;

namespace Fondo.Web.Intake;

/// <summary>Takes in what a browser offers, and tells how far it has come.</summary>
public sealed class Uploads(IServiceScopeFactory scopes)
{
    private readonly ConcurrentDictionary<Guid, IntakeProgress> _underWay = [];

    /// <summary>How far an upload has come; null when it is over, or was never there.</summary>
    public IntakeProgress? Find(Guid upload) => _underWay.GetValueOrDefault(upload);

    /// <param name="upload">Made with the page.</param>
    /// <param name="day">The day that files without day.json belong to.</param>
    public async Task<IntakeResult> Take(Guid upload, IFormFileCollection files, DateOnly? day, string by)
    {
        var progress = _underWay[upload] = new();
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            return await Take(scope.ServiceProvider, files, day, by, progress);
        }
        catch (Exception e) when (DiskFull.Is(e))
        {
            return new(null, 0, [], [], "The disk is full. Nothing of these files was taken: make room, and take them in again.");
        }
        finally
        {
            _underWay.TryRemove(upload, out _);
        }
    }

    private static async Task<IntakeResult> Take(IServiceProvider services, IFormFileCollection files, DateOnly? day, string by, IntakeProgress progress)
    {
        if (files is [var journal] && journal.FileName.EndsWith(".jsonl", StringComparison.OrdinalIgnoreCase))
        {
            // A journal alone says by itself to which day each event belongs.
            await using var lines = progress.Reads(Path.GetFileName(journal.FileName), journal.OpenReadStream());
            var part = await services.GetRequiredService<JournalIntake>().TakeFile(lines, by);
            return new(day, part.Taken, part.Findings, [], part.Refusal, part.Aside.Count);
        }

        var (offered, objection) = Offered(files);
        return objection is null ? await services.GetRequiredService<DayIntake>().Take(offered, day, by, progress) : new(null, 0, [], [], objection);
    }

    /// <summary>The files; a single zip is opened.</summary>
    private static (IReadOnlyList<OfferedFile> Files, string? Objection) Offered(IFormFileCollection files) =>
        files.Count == 0 ? ([], "Choose the files first.")
        : files is [var only] && only.FileName.EndsWith(".zip", StringComparison.OrdinalIgnoreCase) ? ZipFiles.Open(only.OpenReadStream(), Path.GetFileName(only.FileName))
        : ([.. files.Select(f => new OfferedFile(Path.GetFileName(f.FileName), f.OpenReadStream))], null);
}
