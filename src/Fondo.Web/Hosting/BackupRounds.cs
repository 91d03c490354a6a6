using Fondo.Store.Keeping;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Hosting;

/// <summary>Makes a backup by itself: every night once the trading day has ended, and after each close. Old ones go, as
/// <see cref="Retention"/> says.</summary>
internal sealed class BackupRounds(RunOptions options, IServiceScopeFactory scopes, TimeProvider clock, ILogger<BackupRounds> log)
    : BackgroundService
{
    private static readonly TimeSpan _pause = TimeSpan.FromSeconds(20), _afterTrouble = TimeSpan.FromMinutes(10);

    /// <summary>What went wrong with the last one; null when it was made.</summary>
    public string? Trouble { get; private set; }

    /// <summary>When the last one was made.</summary>
    public DateTimeOffset? Latest => Directory.Exists(options.Backups)
        ? Directory.GetFiles(options.Backups).Select(f => Retention.MadeAt(Path.GetFileName(f))).Max()
        : null;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (options.IsDemo)
        {
            return;
        }

        while (!stoppingToken.IsCancellationRequested)
        {
            var pause = _pause;
            try
            {
                await Round();
            }
            catch (Exception e)
            {
                Trouble = e.Message;
                log.LogError("No backup could be made: {Why}", e.Message);
                pause = _afterTrouble;
            }

            await Task.Delay(pause, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    /// <summary>Looks once whether it is time: since the last one a day was closed, or a trading day has begun.</summary>
    internal async Task Round()
    {
        await using var scope = scopes.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
        if (!await db.Days.AnyAsync())
        {
            return;
        }

        var closed = await db.Closes.OrderByDescending(c => c.Number).Select(c => (DateTimeOffset?)c.At).FirstOrDefaultAsync();
        if (Latest is not { } latest || closed > latest || latest < await BeganAt(scope.ServiceProvider.GetRequiredService<SetupBook>()))
        {
            await Make(db);
        }
    }

    /// <summary>When the trading day that it is now began.</summary>
    private async Task<DateTimeOffset> BeganAt(SetupBook book)
    {
        if (await book.Now() is not { Setup: var setup })
        {
            return clock.GetUtcNow() - TimeSpan.FromDays(1);
        }

        var began = setup.TradingDay.Date.ToDateTime(setup.DayEndsAt);
        return new(began, setup.TimeZone.GetUtcOffset(began));
    }

    /// <summary>Makes one now.</summary>
    internal async Task<BackupNote> Make(StoreContext db)
    {
        var now = clock.GetUtcNow();
        var name = Retention.NameAt(now);
        var note = await Backup.Make(options.Database, Path.Combine(options.Backups, name), now);
        if (options.SecondBackups is { } second)
        {
            Directory.CreateDirectory(second);
            File.Copy(Path.Combine(options.Backups, name), Path.Combine(second, name) + ".part", overwrite: true);
            File.Move(Path.Combine(second, name) + ".part", Path.Combine(second, name), overwrite: true);
            Attachments.Copy(Attachments.FolderOf(Path.Combine(options.Backups, name)), Attachments.FolderOf(Path.Combine(second, name)));
            File.Copy(Backup.NoteOf(Path.Combine(options.Backups, name)), Backup.NoteOf(Path.Combine(second, name)), overwrite: true);
        }

        foreach (var folder in new[] { options.Backups, options.SecondBackups }.OfType<string>())
        {
            foreach (var old in Retention.Expired(Directory.GetFiles(folder).Select(f => Path.GetFileName(f)!), now))
            {
                File.Delete(Path.Combine(folder, old));
                File.Delete(Backup.NoteOf(Path.Combine(folder, old)));
            }
        }

        await db.Note(new Act(TrailAct.Backup, RequestOrigin.Itself, name, $"holds the trail up to line {note.Line}, {note.Head}"));
        Trouble = null;
        log.LogInformation("Backed up as {Name}, {Bytes} bytes, trail up to line {Line}", name, note.Bytes, note.Line);
        return note;
    }
}
