using Fondo.Store.Model;
using Fondo.Web.Intake;
using Microsoft.AspNetCore.Authentication;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Hosting;

/// <summary>Says to whoever watches the machine whether all is well: on the machine itself, or with the key of a register.</summary>
internal static class Health
{
    private const long LittleSpace = 1L << 30;

    /// <summary>The watched folder is looked at every second; a large file in it takes its time.</summary>
    private static readonly TimeSpan _unwatched = TimeSpan.FromMinutes(10);

    /// <param name="Well">Whether nobody has to do anything.</param>
    /// <param name="LastBackup">Null while there is none.</param>
    private sealed record Report(bool Well, string Database, long DiskBytesLeft, DateTimeOffset? LastBackup, string Backup, int InboxWaits,
        int InboxRefused, string Inbox);

    public static void MapHealth(this WebApplication app) => app.MapGet("/health", Answer).AllowAnonymous().ExcludeFromDescription();

    private static async Task<IResult> Answer(HttpContext context, RunOptions options, StoreContext db,
        BackupRounds backups, InboxReport inbox, TimeProvider clock)
    {
        if (!Whereabouts.IsLocal(context) && !(await context.AuthenticateAsync(KeyAuthentication.Key)).Succeeded)
        {
            return Results.NotFound();
        }

        string database;
        try
        {
            await db.Days.CountAsync();
            database = "answers";
        }
        catch (Exception e) when (e is Microsoft.Data.Sqlite.SqliteException or InvalidOperationException)
        {
            database = $"does not answer: {e.Message}";
        }

        var left = new DriveInfo(options.DataFolder).AvailableFreeSpace;
        var latest = backups.Latest;
        var isOld = !options.IsDemo && (latest is null || clock.GetUtcNow() - latest > TimeSpan.FromHours(30));
        var isUnwatched = clock.GetUtcNow() - inbox.LookedAt > _unwatched;
        var report = new Report(
            database == "answers" && !isUnwatched && left >= LittleSpace && backups.Trouble is null && !isOld, database, left, latest,
            backups.Trouble ?? (options.IsDemo ? "none in the demo" : latest is null ? "none yet" : isOld ? "more than a day old" : "made"),
            Directory.Exists(options.Inbox)
                ? Directory.GetFileSystemEntries(options.Inbox).Count(f => Path.GetFileName(f) is not ("taken" or "refused"))
                : 0,
            inbox.Latest.Count(o => o.Reasons.Count > 0),
            isUnwatched
                ? $"not looked at since {inbox.LookedAt.ToString("O", System.Globalization.CultureInfo.InvariantCulture)}"
                : "watched");
        return Results.Json(report, statusCode: report.Well ? StatusCodes.Status200OK : StatusCodes.Status503ServiceUnavailable);
    }
}
