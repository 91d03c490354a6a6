using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Fondo.Web.Intake;
using Htmx.TagHelpers;

namespace Fondo.Web.Hosting;

/// <summary>The store's server, from its options to its end.</summary>
public static class StoreServer
{
    /// <param name="parts">What the host adds; null: nothing.</param>
    /// <returns>The exit code: 2 where it could not start.</returns>
    public static async Task<int> Run(string[] args, IServerParts? parts = null)
    {
        var builder = WebApplication.CreateBuilder(args);
        RunOptions options;
        try
        {
            options = RunOptions.From(builder.Configuration, parts);
        }
        catch (InvalidOperationException e)
        {
            await Console.Error.WriteLineAsync($"fondo: {e.Message}");
            return 2;
        }

        PrivateFiles.Begin(options.DataFolder);
        builder.WebHost.UseStaticWebAssets();
        builder.AddLogs(options);
        builder.AddNetwork(options);
        builder.Services.AddFondoWeb(options);
        parts?.Add(builder.Services);

        var app = builder.Build();
        try
        {
            await Prepare(app.Services, options, parts);
        }
        catch (InvalidOperationException e) when (e is NewerDatabaseException or BrokenOffException)
        {
            await Console.Error.WriteLineAsync($"fondo: {e.Message}");
            return 2;
        }

        if (options.OnlyMakes)
        {
            await app.DisposeAsync();
            // So that the file alone is the whole database.
            Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
            return 0;
        }

        Answer(app, options, parts);
        await app.RunAsync();
        return 0;
    }

    private static async Task Prepare(IServiceProvider services, RunOptions options, IServerParts? parts)
    {
        await using var scope = services.CreateAsyncScope();
        var folder = services.GetRequiredService<DataFolder>();
        var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
        await folder.Take(Console.Out);
        await folder.Migrate(db);
        await StagedRecords.Purge(db);
        await scope.ServiceProvider.GetRequiredService<EventIndex>().Complete();
        await scope.ServiceProvider.GetRequiredService<TrailBeginning>().Complete();
        services.GetRequiredService<Spool>().Clear();
        if (options.IsDemo && parts is not null)
        {
            await parts.Prepare(scope.ServiceProvider, options);
            folder.Made();
        }
    }

    private static void Answer(WebApplication app, RunOptions options, IServerParts? parts)
    {
        app.UseMethods();
        app.UseNetwork(options);
        app.UseResponseCompression();
        app.UseExceptionHandler("/trouble");
        app.UseStatusCodePagesWithReExecute("/trouble", "?status={0}");
        app.UseSecurityHeaders();
        app.UseRouting();
        app.UseBodyLimits();
        app.UseMachines();
        parts?.Use(app, options);
        app.UseRateLimiter();
        app.UseAuthentication();
        app.UsePersons();
        app.UseAuthorization();
        app.MapStaticAssets().AllowAnonymous();
        app.MapHtmxAntiforgeryScript().AllowAnonymous();
        app.MapRazorPages().WithStaticAssets();
        app.MapJournalApi();
        app.MapDeviceApi();
        app.MapUploads();
        app.MapHealth();
        parts?.Map(app);
        if (!options.IsQuiet)
        {
            app.Lifetime.ApplicationStarted.Register(() => Announcement.Print(app, options, parts));
            app.Lifetime.ApplicationStarted.Register(() => NewestDay.LookAhead(app.Services));
        }
    }
}
