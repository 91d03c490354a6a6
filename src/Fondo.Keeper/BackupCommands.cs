using Fondo.Cli;
using Fondo.Store.Keeping;
using Fondo.Store.Model;
using Microsoft.Data.Sqlite;

namespace Fondo.Keeper;

/// <summary><c>backup --data DIR --to FILE</c>, while Fondo runs or not; <c>restore --data DIR --from FILE</c>, while it does not.
/// Exit status 0 done, 1 not, and nothing was changed, 2 asked for wrongly.</summary>
public static class BackupCommands
{
    public static async Task<int> Backup(IReadOnlyList<string> args, TextWriter output, TextWriter error)
    {
        if (Words.Of(args, "--data", "--to") is not { } words || !words.TryGetValue("--data", out var folder)
            || !words.TryGetValue("--to", out var file))
        {
            return Usage.Fail(error, "backup --data DIR --to FILE");
        }

        if (DatabaseFile.In(folder, error) is not { } database)
        {
            return Usage.Refused;
        }

        if (Store.Keeping.Backup.Objection(database, file) is { } objection)
        {
            await error.WriteLineAsync($"fondo: no backup was made: {objection}");
            return 1;
        }

        try
        {
            var note = await Store.Keeping.Backup.Make(database, file, TimeProvider.System.GetUtcNow());
            await output.WriteLineAsync(
                $"{file} holds a checked copy of the database ({note.Bytes} bytes), with the audit trail up to line {note.Line}, hash "
                    + $"{note.Head}");
            await Tell(database, TrailAct.Backup, file, $"holds the trail up to line {note.Line}, {note.Head}", output);
            return 0;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SqliteException)
        {
            await error.WriteLineAsync($"fondo: no backup was made: {e.Message}");
            return 1;
        }
    }

    public static async Task<int> Restore(IReadOnlyList<string> args, TextWriter output, TextWriter error)
    {
        if (Words.Of(args, "--data", "--from") is not { } words || !words.TryGetValue("--data", out var folder)
            || !words.TryGetValue("--from", out var file))
        {
            return Usage.Fail(error, "restore --data DIR --from FILE");
        }

        try
        {
            Directory.CreateDirectory(folder);
            await using var held = FolderLock.Try(folder);
            if (held is null)
            {
                await error.WriteLineAsync($"fondo: Fondo is running on {folder}. Stop it first. Nothing was changed.");
                return 1;
            }

            var (objection, kept) =
                await Store.Keeping.Backup.Restore(file, Path.Combine(folder, "fondo.db"), TimeProvider.System.GetUtcNow());
            if (objection is not null)
            {
                await error.WriteLineAsync($"fondo: {objection} Nothing was changed.");
                return 1;
            }

            await output.WriteLineAsync($"{folder} holds what {file} held."
                + (kept is null ? "" : $" What was there before is kept as {kept}."));
            await Tell(Path.Combine(folder, "fondo.db"), TrailAct.Restore, file,
                kept is null ? "restored" : $"restored; the database before it is kept as {Path.GetFileName(kept)}", output);
            return 0;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            await error.WriteLineAsync($"fondo: nothing was restored: {e.Message}");
            return 1;
        }
    }

    /// <summary>The copy is made by then; that the trail does not say so is told, and undoes nothing.</summary>
    private static async Task Tell(string database, TrailAct what, string file, string says, TextWriter output)
    {
        try
        {
            if (!await Store.Keeping.Backup.Tell(database, what, file, says))
            {
                await output.WriteLineAsync("The audit trail does not say so: this database is of an earlier version.");
            }
        }
        catch (SqliteException e)
        {
            await output.WriteLineAsync($"The audit trail does not say so: {e.Message}");
        }
    }
}
