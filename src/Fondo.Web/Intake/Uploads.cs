using System.Collections.Concurrent;
using Fondo.Core.Journal;
using Fondo.Store;
using Fondo.Store.Intake;
using Fondo.Store.Mappings;

namespace Fondo.Web.Intake;

/// <summary>Takes in what a browser offered, tells how far it has come, and for a while what became of it.</summary>
internal sealed class Uploads(IServiceScopeFactory scopes)
{
    private const int MostKept = 50;

    private readonly ConcurrentDictionary<Guid, IntakeProgress> _underWay = [];
    private readonly ConcurrentDictionary<Guid, IntakeResult> _results = [];
    private readonly ConcurrentQueue<Guid> _ended = [];

    /// <summary>How far an upload has come; null when it is over, or was never there.</summary>
    public IntakeProgress? Find(Guid upload) => _underWay.GetValueOrDefault(upload);

    /// <summary>What became of it; null when that is long ago.</summary>
    public IntakeResult? Result(Guid? upload) => upload is { } known ? _results.GetValueOrDefault(known) : null;

    /// <param name="upload">Made with the page.</param>
    /// <param name="objection">Why nothing is to be taken.</param>
    /// <param name="day">The day that files without day.json belong to.</param>
    public async Task Take(Guid upload, IReadOnlyList<OfferedFile> files, string? objection, DateOnly? day, PersonId by)
    {
        var progress = _underWay[upload] = new();
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            _results[upload] = objection is null
                ? await scope.ServiceProvider.GetRequiredService<PersonsFiles>().Bring(files, day, by, progress)
                : Refused(objection);
        }
        catch (Exception e) when (DiskFull.Is(e))
        {
            _results[upload] = Refused("The disk is full. Nothing from these files was imported. Make room, and import them again.");
        }
        finally
        {
            _underWay.TryRemove(upload, out _);
            _ended.Enqueue(upload);
            if (_ended.Count > MostKept && _ended.TryDequeue(out var old))
            {
                _results.TryRemove(old, out _);
            }
        }
    }

    private static IntakeResult Refused(string objection) => new(null, 0, [], [], objection);
}
