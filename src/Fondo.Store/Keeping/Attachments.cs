using System.Security.Cryptography;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Keeping;

/// <summary>A file that an entry rests on.</summary>
public sealed record Attachment(Guid Id, Guid Entry, string Name, string Type, long Size, string By, DateTimeOffset At);

/// <summary>Photos and scans of slips: their content lies beside the database under its hash, so that the same one is there once.</summary>
public sealed class Attachments(StoreContext db, DayLock guard, TimeProvider clock)
{
    public const int MostBytes = 5_000_000;

    private const int LongestName = 120, MostOfAnEntry = 12;

    /// <summary>The folder of a database.</summary>
    public static string FolderOf(string database) => Path.Combine(Path.GetDirectoryName(Path.GetFullPath(database))!, "attachments");

    /// <summary>What a content is, whatever its name says; null where it is none of what is kept.</summary>
    public static string? TypeOf(ReadOnlySpan<byte> content) =>
        content.StartsWith<byte>([0xFF, 0xD8, 0xFF]) ? "image/jpeg"
        : content.StartsWith<byte>([0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A]) ? "image/png"
        : content.StartsWith("%PDF-"u8) ? "application/pdf"
        : null;

    private string Folder => FolderOf(new SqliteConnectionStringBuilder(db.Database.GetConnectionString()).DataSource);

    /// <summary>Keeps a file with an entry. The same content at the same entry twice is there once.</summary>
    public async Task<Outcome> Add(DateOnly day, Guid entry, string? name, byte[] content, Person by)
    {
        if (by.Refusal(ActKind.AttachSlip) is { } refused)
        {
            return refused;
        }

        name = Path.GetFileName(name ?? "").Trim();
        name = name.Length == 0 ? "slip" : name.Length > LongestName ? name[..LongestName] : name;
        if (Files.Text.CardNumbers.Contains(name))
        {
            name = "slip";
        }

        if (content.Length == 0)
        {
            return Outcome.Refused("The file is empty. Nothing was saved.");
        }

        if (content.Length > MostBytes)
        {
            return Outcome.Refused($"The file is larger than {MostBytes / 1_000_000} MB. Nothing was saved.");
        }

        if (TypeOf(content) is not { } type)
        {
            return Outcome.Refused(
                "The file is not a JPEG, PNG or PDF, whatever its name says. Nothing was saved.");
        }

        var hash = Convert.ToHexStringLower(SHA256.HashData(content));
        return await guard.Write(day, async () =>
        {
            if (!await db.Entries.AnyAsync(e => e.Id == entry && e.Day == day))
            {
                return Outcome.Refused("There is no such entry on this day.");
            }

            var there = await db.Attachments.AsNoTracking().Where(a => a.EntryId == entry).ToListAsync();
            if (there.Any(a => a.Hash == hash))
            {
                return Outcome.Done;
            }

            if (there.Count >= MostOfAnEntry)
            {
                return Outcome.Refused($"An entry can have at most {MostOfAnEntry} files.");
            }

            // First the content, then the row that speaks of it: a row without its content is never there.
            await Write(Path.Combine(Folder, hash), content);
            db.Attachments.Add(new()
            {
                Id = Guid.NewGuid(),
                Day = day,
                EntryId = entry,
                Name = name,
                Type = type,
                Size = content.Length,
                Hash = hash,
                By = by.Id.Value,
                At = clock.GetUtcNow()
            });
            return Outcome.Done;
        });
    }

    public async Task<IReadOnlyList<Attachment>> Of(DateOnly day) =>
        await db.Attachments.AsNoTracking().Where(a => a.Day == day).OrderBy(a => a.At)
            .Select(a => new Attachment(a.Id, a.EntryId, a.Name, a.Type, a.Size, a.By, a.At)).ToListAsync();

    /// <summary>The content; null where there is no such file of that entry, or it lies there no more.</summary>
    public async Task<(string Path, string Type, string Name)?> Find(DateOnly day, Guid entry, Guid id) =>
        await db.Attachments.AsNoTracking().SingleOrDefaultAsync(a => a.Id == id && a.Day == day && a.EntryId == entry) is { } row
            && Path.Combine(Folder, row.Hash) is var path && File.Exists(path) ? (path, row.Type, row.Name) : null;

    /// <summary>The first file of which the content is gone or another; null where all are as they were kept.</summary>
    public static async Task<string?> FirstBroken(StoreContext db, string database)
    {
        foreach (var row in await db.Attachments.AsNoTracking().OrderBy(a => a.At).ToListAsync())
        {
            var path = Path.Combine(FolderOf(database), row.Hash);
            if (!File.Exists(path))
            {
                return $"The file {row.Name} of {row.Day:yyyy-MM-dd} is missing from {path}.";
            }

            await using var content = File.OpenRead(path);
            if (Convert.ToHexStringLower(await SHA256.HashDataAsync(content)) != row.Hash)
            {
                return $"The file {row.Name} of {row.Day:yyyy-MM-dd} was changed: {path}.";
            }
        }

        return null;
    }

    /// <summary>Copies what is not there yet from one folder to another.</summary>
    public static void Copy(string from, string to)
    {
        if (!Directory.Exists(from))
        {
            return;
        }

        Directory.CreateDirectory(to);
        foreach (var file in Directory.EnumerateFiles(from).Where(f => !f.EndsWith(Part, StringComparison.Ordinal)))
        {
            var target = Path.Combine(to, Path.GetFileName(file));
            if (!File.Exists(target))
            {
                File.Copy(file, target + Part, overwrite: true);
                File.Move(target + Part, target, overwrite: true);
            }
        }
    }

    private const string Part = ".part";

    private static async Task Write(string path, byte[] content)
    {
        if (File.Exists(path))
        {
            return;
        }

        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        await using (var file = new FileStream(path + Part, FileMode.Create, FileAccess.Write))
        {
            await file.WriteAsync(content);
            file.Flush(flushToDisk: true);
        }

        File.Move(path + Part, path, overwrite: true);
    }
}
