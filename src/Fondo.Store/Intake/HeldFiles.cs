using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text.Json;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Intake;

/// <summary>A file that is held, as it was brought.</summary>
public sealed record HeldFile(string Name, long Size, string Hash);

/// <summary>Files that a person brought, what they change, and who agreed so far.</summary>
/// <param name="Missing">Whom counts name and who has not agreed yet.</param>
/// <param name="NeedsSecond">Whether a second person who may approve has still to agree.</param>
public sealed record Held(
    Guid Id, DateOnly? Day, bool IsStatement, ImmutableArray<HeldFile> Files, ImmutableArray<HeldChange> Changes, PersonId By,
    DateTimeOffset At,
    ImmutableArray<PersonId> Missing, bool NeedsSecond, Agreed Agreed)
{
    public bool IsAgreed => Missing.IsEmpty && !NeedsSecond;
}

/// <summary>Keeps the files that wait for other persons, beside the database, until those agreed or they are given up.</summary>
public sealed class HeldFiles(StoreContext db, TimeProvider clock)
{
    private const string Gone = "These files were already imported or discarded. Reload the page.";

    private string FolderOf(Guid id) =>
        Path.Combine(
            Path.GetDirectoryName(Path.GetFullPath(new SqliteConnectionStringBuilder(db.Database.GetConnectionString()).DataSource))!,
            "held", id.ToString("N"));

    public async Task Hold(IReadOnlyList<OfferedFile> files, DateOnly? day, bool isStatement, FilesWait waits, PersonId by)
    {
        var (id, kept) = (Guid.NewGuid(), new List<HeldFile>());
        Directory.CreateDirectory(FolderOf(id));
        foreach (var (file, place) in files.Select((f, i) => (f, i)))
        {
            await using var content = file.Open();
            await using var to = new FileStream(PathOf(id, place), FileMode.CreateNew, FileAccess.ReadWrite);
            await content.CopyToAsync(to);
            to.Flush(flushToDisk: true);
            to.Position = 0;
            kept.Add(new(Path.GetFileName(file.Name), to.Length, Convert.ToHexStringLower(await SHA256.HashDataAsync(to))));
        }

        db.HeldFiles.Add(new()
        {
            Id = id,
            Day = day,
            IsStatement = isStatement,
            Files = JsonSerializer.Serialize(kept),
            Changes = waits.ChangesText,
            NeedsSecond = waits.NeedsSecond,
            Named = string.Join('\n', waits.Named.Select(p => p.Value)),
            By = by.Value,
            At = clock.GetUtcNow(),
        });
        await db.SaveChangesAsync();
    }

    /// <summary>What waits, the oldest first.</summary>
    public async Task<IReadOnlyList<Held>> All()
    {
        var rows = await db.HeldFiles.AsNoTracking().Where(h => !db.HeldEnds.Any(e => e.Held == h.Id)).OrderBy(h => h.At).ToListAsync();
        var ids = rows.Select(r => r.Id).ToList();
        var agreements = (await db.HeldAgreements.AsNoTracking().Where(a => ids.Contains(a.Held)).OrderBy(a => a.Number).ToListAsync())
            .ToLookup(a => a.Held, a => a.By);
        var approvers = (await db.Users.Where(p => !p.IsOff && (p.Role == Role.Supervisor || p.Role == Role.Manager))
            .Select(p => p.PersonId).ToListAsync()).ToHashSet();
        return [.. rows.Select(r => Of(r, [.. agreements[r.Id].Distinct()], approvers))];
    }

    public Task<int> Count() => db.HeldFiles.CountAsync(h => !db.HeldEnds.Any(e => e.Held == h.Id));

    private static Held Of(HeldFilesRow r, IReadOnlyCollection<string> agreed, IReadOnlySet<string> approvers)
    {
        var seconds = agreed.Where(a => a != r.By && approvers.Contains(a)).Select(a => new PersonId(a)).ToList();
        return new(
            r.Id, r.Day, r.IsStatement, [.. JsonSerializer.Deserialize<List<HeldFile>>(r.Files)!],
            [.. JsonSerializer.Deserialize<List<HeldChange>>(r.Changes)!], new(r.By), r.At,
            [.. r.Named.Split('\n', StringSplitOptions.RemoveEmptyEntries).Where(n => !agreed.Contains(n)).Select(n => new PersonId(n))],
            r.NeedsSecond && seconds.Count == 0,
            new(r.Changes, [.. agreed.Select(a => new PersonId(a))], seconds));
    }

    /// <summary>A person who proved themselves says that the files are right.</summary>
    public async Task<Outcome> Agree(Guid id, Person person)
    {
        await using var transaction = await db.BeginWriting();
        if ((await All()).FirstOrDefault(h => h.Id == id) is not { } held)
        {
            return Outcome.Refused(Gone);
        }

        if (person.Id == held.By || (!held.Missing.Contains(person.Id) && !(held.NeedsSecond && person.May(ActKind.AgreeToFiles))))
        {
            return Outcome.Refused(person.Id == held.By
                ? "Someone else must agree to the files that you brought."
                : $"These files are not waiting for {person.Name}.");
        }

        db.HeldAgreements.Add(new() { Held = id, By = person.Id.Value, At = clock.GetUtcNow() });
        await db.SaveChangesAsync();
        await transaction.CommitAsync();
        return Outcome.Done;
    }

    /// <summary>The files as they were brought; null where they are not what was kept.</summary>
    public async Task<IReadOnlyList<OfferedFile>?> Files(Held held)
    {
        foreach (var (file, place) in held.Files.Select((f, i) => (f, i)))
        {
            if (!File.Exists(PathOf(held.Id, place)))
            {
                return null;
            }

            await using var content = File.OpenRead(PathOf(held.Id, place));
            if (Convert.ToHexStringLower(await SHA256.HashDataAsync(content)) != file.Hash)
            {
                return null;
            }
        }

        return [.. held.Files.Select((f, place) => new OfferedFile(f.Name, () => File.OpenRead(PathOf(held.Id, place))))];
    }

    /// <summary>They are not taken in, and wait no more.</summary>
    public async Task<Outcome> GiveUp(Guid id, Person by) =>
        by.Refusal(ActKind.AgreeToFiles) ?? await End(id, isTaken: false, by.Id);

    /// <summary>They wait no more.</summary>
    /// <param name="isTaken">Taken in; else given up.</param>
    internal async Task<Outcome> End(Guid id, bool isTaken, PersonId by)
    {
        await using (var transaction = await db.BeginWriting())
        {
            if (!await db.HeldFiles.AnyAsync(h => h.Id == id) || await db.HeldEnds.AnyAsync(e => e.Held == id))
            {
                return Outcome.Refused(Gone);
            }

            db.HeldEnds.Add(new() { Held = id, IsTaken = isTaken, By = by.Value, At = clock.GetUtcNow() });
            await db.SaveChangesAsync();
            await transaction.CommitAsync();
        }

        if (Directory.Exists(FolderOf(id)))
        {
            Directory.Delete(FolderOf(id), recursive: true);
        }

        return Outcome.Done;
    }

    private string PathOf(Guid id, int place) =>
        Path.Combine(FolderOf(id), place.ToString(System.Globalization.CultureInfo.InvariantCulture));
}
