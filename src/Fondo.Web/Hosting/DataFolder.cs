using Fondo.Store.Keeping;
using Fondo.Store.Model;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Hosting;

/// <summary>The data folder belongs to one running Fondo at a time; what an earlier start left half done is finished or begun
/// again.</summary>
public sealed class DataFolder : IDisposable
{
    private static readonly TimeSpan _pause = TimeSpan.FromMilliseconds(250);

    private readonly RunOptions _options;
    private FileStream? _held;

    public DataFolder(RunOptions options) => _options = options;

    private string Database => _options.Database;

    /// <summary>Stands there while the demo is being made: a database beside it is not whole.</summary>
    private string Making => Path.Combine(_options.DataFolder, ".demo-making");

    public void Dispose() => _held?.Dispose();

    /// <summary>Takes the folder, waiting for another Fondo that has it: it ends with its process, however that ends.</summary>
    public async Task Take(TextWriter says)
    {
        var told = false;
        while (_held is null)
        {
            _held = FolderLock.Try(_options.DataFolder);
            if (_held is null)
            {
                if (!told)
                {
                    await says.WriteLineAsync($"Another Fondo is running on {_options.DataFolder}. This one waits until it stops.");
                    told = true;
                }

                await Task.Delay(_pause);
            }
        }

        if (Backup.LeftBeside(Database) is { Count: > 0 } left)
        {
            throw new BrokenOffException(
                $"There is no database in {_options.DataFolder}, but {string.Join(" and ", left)}: a restore was interrupted. Restore "
                    + $"again, or rename the right file to {Path.GetFileName(Database)}. Fondo did not start a new database.");
        }

        if (_options.IsDemo && File.Exists(Making))
        {
            await says.WriteLineAsync("The demo was not finished last time. It is made again.");
            foreach (var file in new[] { Database, Database + "-wal", Database + "-shm" })
            {
                File.Delete(file);
            }
        }

        if (_options.IsDemo && !File.Exists(Database))
        {
            await File.WriteAllTextAsync(Making, "");
        }
    }

    /// <summary>Brings the database to this version's shape, on a copy that takes its place once it is whole: a start that is killed
    /// meanwhile has changed nothing.</summary>
    public async Task Migrate(StoreContext db)
    {
        var (own, next) = (db.Database.GetConnectionString()!, Database + ".next");
        foreach (var left in new[] { next, next + "-wal", next + "-shm" })
        {
            File.Delete(left);
        }

        if (File.Exists(Database))
        {
            var applied = (await db.Database.GetAppliedMigrationsAsync()).ToList();
            if (applied.Except(db.Database.GetMigrations()).LastOrDefault() is { } newer)
            {
                throw new NewerDatabaseException(Backup.Newer(newer));
            }

            if (applied.Count == db.Database.GetMigrations().Count())
            {
                return;
            }

            await db.Database.ExecuteSqlAsync($"VACUUM INTO {next}");
            Directory.CreateDirectory(_options.Backups);
            File.Copy(next, Path.Combine(_options.Backups, $"before-{db.Database.GetMigrations().Last()}.db"), overwrite: true);
            await db.Database.ExecuteSqlAsync($"PRAGMA wal_checkpoint(TRUNCATE)");
        }

        await db.Database.CloseConnectionAsync();
        SqliteConnection.ClearAllPools();
        db.Database.SetConnectionString(new SqliteConnectionStringBuilder(own) { DataSource = next }.ConnectionString);
        if (File.Exists(next))
        {
            // A start of an earlier version that was killed leaves its lock in the database. The folder is ours alone, so nobody holds it
            // any more.
            if (await db.Database.SqlQuery<int>($"SELECT COUNT(*) AS Value FROM sqlite_master WHERE name = '__EFMigrationsLock'")
                .SingleAsync() > 0)
            {
                await db.Database.ExecuteSqlAsync($"DELETE FROM __EFMigrationsLock");
            }
        }

        await db.Database.MigrateAsync();
        await db.Database.ExecuteSqlAsync($"PRAGMA wal_checkpoint(TRUNCATE)");
        await db.Database.CloseConnectionAsync();
        SqliteConnection.ClearAllPools();
        foreach (var left in new[] { next + "-wal", next + "-shm", Database + "-wal", Database + "-shm" })
        {
            File.Delete(left);
        }

        File.Move(next, Database, overwrite: true);
        db.Database.SetConnectionString(own);
    }

    /// <summary>The demo is whole.</summary>
    public void Made() => File.Delete(Making);
}

/// <summary>What lies in the data folder was left by something that was broken off.</summary>
public sealed class BrokenOffException(string message) : InvalidOperationException(message);

/// <summary>The database is of a newer version than this program.</summary>
public sealed class NewerDatabaseException(string message) : InvalidOperationException(message);
