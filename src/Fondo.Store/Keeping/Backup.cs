using System.Security.Cryptography;
using System.Text.Json;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Keeping;

/// <summary>What a backup says of itself, in a file beside it.</summary>
/// <param name="Line">The last line of the trail that it holds, and its hash: by it one finds whether an end was removed later.</param>
public sealed record BackupNote(DateTimeOffset MadeAt, long Line, string Head, long Bytes, string Sha256);

/// <summary>Copies of the database, made while it is in use by SQLite's own backup, and checked by opening them.</summary>
public static class Backup
{
    private const string Part = ".part", Before = ".before-";

    public static string NoteOf(string file) => file + ".json";

    /// <summary>Makes one; a file of that name is replaced once the new one is whole.</summary>
    /// <exception cref="InvalidDataException">What was copied is not whole: the database itself may be damaged.</exception>
    public static async Task<BackupNote> Make(string database, string file, DateTimeOffset now)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(Path.GetFullPath(file))!);
        var part = file + Part;
        File.Delete(part);
        await using (var from = new SqliteConnection(Connection(database, SqliteOpenMode.ReadWrite)))
        await using (var to = new SqliteConnection(Connection(part, SqliteOpenMode.ReadWriteCreate)))
        {
            await from.OpenAsync();
            await to.OpenAsync();
            from.BackupDatabase(to);
            await using var plain = to.CreateCommand();
            plain.CommandText = "PRAGMA journal_mode=DELETE";
            await plain.ExecuteNonQueryAsync();
        }

        if (await Objection(part) is { } objection)
        {
            File.Delete(part);
            throw new InvalidDataException(objection);
        }

        // What entries rest on lies beside every backup of its folder, once. Copied after the database: what that speaks of is there.
        Attachments.Copy(Attachments.FolderOf(database), Attachments.FolderOf(file));
        var (line, head) = await Head(part);
        await using (var written = File.OpenRead(part))
        {
            var note = new BackupNote(now, line, head, written.Length, Convert.ToHexStringLower(await SHA256.HashDataAsync(written)));
            await File.WriteAllTextAsync(NoteOf(file), JsonSerializer.Serialize(note, _readable));
            File.Move(part, file, overwrite: true);
            return note;
        }
    }

    /// <summary>Puts a backup in the place of the database of a data folder, which nobody has open. What was there is kept under another
    /// name, and stays in its place until the backup takes it in one step.</summary>
    /// <returns>Why not; null when done, and the name of what was kept.</returns>
    public static async Task<(string? Objection, string? Kept)> Restore(string file, string database, DateTimeOffset now)
    {
        if ((await Objection(file) ?? await Otherwise(file)) is { } objection)
        {
            return (objection, null);
        }

        var part = database + Part;
        File.Copy(file, part, overwrite: true);
        if (await Objection(part) is { } copied)
        {
            File.Delete(part);
            return ($"It could not be copied whole: {copied}", null);
        }

        string? kept = null;
        if (File.Exists(database))
        {
            kept = $"{database}{Before}{now:yyyyMMdd-HHmmss}";
            foreach (var end in _ends.Where(end => File.Exists(database + end)))
            {
                File.Copy(database + end, kept + end, overwrite: true);
            }

            await Settle(database);
        }

        Attachments.Copy(Attachments.FolderOf(file), Attachments.FolderOf(database));
        File.Move(part, database, overwrite: true);
        return (null, kept);
    }

    /// <summary>Says in the trail of a database what a command did with it, by whom of the system's users.</summary>
    /// <returns>Whether it could be said: a database of an earlier version has another trail, or none.</returns>
    public static async Task<bool> Tell(string database, TrailAct what, string file, string says)
    {
        var options = new DbContextOptionsBuilder<StoreContext>();
        StoreContext.Configure(options, Connection(database, SqliteOpenMode.ReadWrite));
        await using var db = new StoreContext(options.Options);
        if ((await db.Database.GetPendingMigrationsAsync()).Any())
        {
            return false;
        }

        await db.Note(new Act(what, RequestOrigin.Itself, Path.GetFileName(file), $"{says}, by command of {Environment.UserName}"));
        return true;
    }

    /// <summary>What a restore that was broken off left beside a database that is not there; empty where nothing is.</summary>
    public static IReadOnlyList<string> LeftBeside(string database)
    {
        var folder = Path.GetDirectoryName(Path.GetFullPath(database))!;
        var name = Path.GetFileName(database);
        return File.Exists(database) || !Directory.Exists(folder) ? []
            : [.. new[] { name + Part, $"{name}{Before}*" }.SelectMany(p => Directory.EnumerateFiles(folder, p))
                .Select(f => Path.GetFileName(f)).Order(StringComparer.Ordinal)];
    }

    /// <summary>Why a backup cannot be written there; null where it can.</summary>
    public static string? Objection(string database, string to) =>
        Path.GetFullPath(to) == Path.GetFullPath(database)
            || (File.Exists(to) && File.Exists(database) && File.ResolveLinkTarget(to, true)?.FullName == Path.GetFullPath(database))
            ? $"{to} is the database itself."
        : Directory.Exists(to) || _noFiles.Any(f => Path.GetFullPath(to).StartsWith(f, StringComparison.Ordinal))
            || (File.Exists(to) && File.GetAttributes(to).HasFlag(FileAttributes.ReparsePoint))
            ? $"{to} is not a regular file."
        : null;

    /// <summary>Why a backup is not what the note beside it says; null where it is, or no note is there.</summary>
    private static async Task<string?> Otherwise(string file)
    {
        if (!File.Exists(NoteOf(file)))
        {
            return null;
        }

        try
        {
            var note = JsonSerializer.Deserialize<BackupNote>(await File.ReadAllTextAsync(NoteOf(file)))!;
            await using var content = File.OpenRead(file);
            return content.Length == note.Bytes && Convert.ToHexStringLower(await SHA256.HashDataAsync(content)) == note.Sha256 ? null
                : $"{Path.GetFileName(file)} does not match its note: it was changed after the backup.";
        }
        catch (JsonException)
        {
            return $"The note {Path.GetFileName(NoteOf(file))} cannot be read, so this backup cannot be checked.";
        }
    }

    /// <summary>Puts what is beside a database into it, so that the file alone is the whole of it; a damaged one stays as it is.</summary>
    private static async Task Settle(string database)
    {
        try
        {
            await using var connection = new SqliteConnection(Connection(database, SqliteOpenMode.ReadWrite));
            await connection.OpenAsync();
            await using var settle = connection.CreateCommand();
            settle.CommandText = "PRAGMA wal_checkpoint(TRUNCATE)";
            await settle.ExecuteNonQueryAsync();
        }
        catch (SqliteException)
        {
            // It is kept under its other name as it was.
        }

        File.Delete(database + "-wal");
        File.Delete(database + "-shm");
    }

    /// <summary>Why a file is no whole database of this program's, or of an earlier one's; null when it is.</summary>
    public static async Task<string?> Objection(string file)
    {
        if (!File.Exists(file))
        {
            return $"{file} is not there.";
        }

        try
        {
            await using var connection = new SqliteConnection(Connection(file, SqliteOpenMode.ReadOnly));
            await connection.OpenAsync();
            await using var check = connection.CreateCommand();
            check.CommandText = "PRAGMA integrity_check(1)";
            if (await check.ExecuteScalarAsync() as string is not "ok" and var wrong)
            {
                return $"{Path.GetFileName(file)} is damaged: {wrong}.";
            }

            check.CommandText = "SELECT MigrationId FROM __EFMigrationsHistory ORDER BY MigrationId DESC LIMIT 1";
            if (await check.ExecuteScalarAsync() is not string latest)
            {
                return $"{Path.GetFileName(file)} is not a database of Fondo.";
            }

            var options = new DbContextOptionsBuilder<StoreContext>();
            StoreContext.Configure(options, Connection(file, SqliteOpenMode.ReadOnly));
            await using var db = new StoreContext(options.Options);
            return db.Database.GetMigrations().Contains(latest) ? null : Newer(latest);
        }
        catch (SqliteException e)
        {
            return $"{Path.GetFileName(file)} is damaged, or not a database: {e.Message}";
        }
    }

    /// <summary>Says that an older program does not touch what a newer one keeps.</summary>
    public static string Newer(string migration) =>
        $"This database is of a newer version of Fondo ({migration}). Start that version, or restore a backup that this one made.";

    private static async Task<(long Line, string Head)> Head(string file)
    {
        await using var connection = new SqliteConnection(Connection(file, SqliteOpenMode.ReadOnly));
        await connection.OpenAsync();
        await using var command = connection.CreateCommand();
        command.CommandText = "SELECT Number, Hash FROM Trail ORDER BY Number DESC LIMIT 1";
        await using var read = await command.ExecuteReaderAsync();
        return await read.ReadAsync() ? (read.GetInt64(0), read.GetString(1)) : (0, "");
    }

    private static string Connection(string file, SqliteOpenMode mode) =>
        new SqliteConnectionStringBuilder { DataSource = file, Mode = mode, Pooling = false, DefaultTimeout = 120 }.ConnectionString;

    /// <summary>A database and what lies beside it.</summary>
    private static readonly string[] _ends = ["-wal", "-shm", ""];

    /// <summary>Where the system shows devices and processes as files.</summary>
    private static readonly string[] _noFiles = ["/dev/", "/proc/", "/sys/"];

    private static readonly JsonSerializerOptions _readable = new() { WriteIndented = true };
}
