using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Hosting;

/// <summary>The data folder belongs to one running Fondo at a time; what an earlier start left half done is finished or begun again.</summary>
public sealed class DataFolder : IDisposable
{
    private static readonly TimeSpan _pause = TimeSpan.FromMilliseconds(250);

    private readonly RunOptions _options;
    private FileStream? _held;

    public DataFolder(RunOptions options) => _options = options;

    private string Database => Path.Combine(_options.DataFolder, "fondo.db");

    /// <summary>Stands there while the demo is being made: a database beside it is not whole.</summary>
    private string Making => Path.Combine(_options.DataFolder, ".demo-making");

    public void Dispose() => _held?.Dispose();

    /// <summary>Takes the folder, waiting for another Fondo that has it: it ends with its process, however that ends.</summary>
    public async Task Take(TextWriter says)
    {
        var told = false;
        while (_held is null)
        {
            try
            {
                _held = new(Path.Combine(_options.DataFolder, "fondo.lock"), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
            }
            catch (IOException)
            {
                if (!told)
                {
                    await says.WriteLineAsync($"Another Fondo is at work on {_options.DataFolder}. This one waits until it has ended.");
                    told = true;
                }

                await Task.Delay(_pause);
            }
        }

        if (_options.IsDemo && File.Exists(Making))
        {
            await says.WriteLineAsync("The demo was not made to its end the last time; it is made afresh.");
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

    /// <summary>Brings the database to this version's shape.</summary>
    public async Task Migrate(StoreContext db)
    {
        // A start that was killed leaves its lock in the database. The folder is ours alone, so nobody holds it any more.
        if (File.Exists(Database))
        {
            var locks = await db.Database.SqlQuery<int>($"SELECT COUNT(*) AS Value FROM sqlite_master WHERE name = '__EFMigrationsLock'").SingleAsync();
            if (locks > 0)
            {
                await db.Database.ExecuteSqlAsync($"DELETE FROM __EFMigrationsLock");
            }
        }

        await db.Database.MigrateAsync();
    }

    /// <summary>The demo is whole.</summary>
    public void Made() => File.Delete(Making);
}
