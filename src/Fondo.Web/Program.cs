using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Fondo.Web.Hosting;
using Fondo.Web.Intake;
using Fondo.Web.Settling;
using Htmx.TagHelpers;

var builder = WebApplication.CreateBuilder(args);
RunOptions options;
try
{
    options = RunOptions.From(builder.Configuration);
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

var app = builder.Build();
await using (var scope = app.Services.CreateAsyncScope())
{
    var folder = app.Services.GetRequiredService<DataFolder>();
    try
    {
        await folder.Take(Console.Out);
        await folder.Migrate(scope.ServiceProvider.GetRequiredService<StoreContext>());
    }
    catch (InvalidOperationException e) when (e is NewerDatabaseException or BrokenOffException)
    {
        await Console.Error.WriteLineAsync($"fondo: {e.Message}");
        return 2;
    }

    await StagedRecords.Purge(scope.ServiceProvider.GetRequiredService<StoreContext>());
    await scope.ServiceProvider.GetRequiredService<EventIndex>().Complete();
    await scope.ServiceProvider.GetRequiredService<TrailBeginning>().Complete();
    app.Services.GetRequiredService<Spool>().Clear();
    if (options.IsDemo)
    {
        await Demo.Prepare(scope.ServiceProvider, options.Weeks, options.IsQuiet ? TextWriter.Null : Console.Error);
        folder.Made();
    }
}

if (options.OnlyMakes)
{
    await app.DisposeAsync();
    // So that the file alone is the whole database.
    Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
    return 0;
}

app.UseMethods();
app.UseNetwork(options);
app.UseResponseCompression();
app.UseExceptionHandler("/trouble");
app.UseStatusCodePagesWithReExecute("/trouble", "?status={0}");
app.UseSecurityHeaders();
app.UseRouting();
app.UseBodyLimits();
app.UseMachines();
app.UseStandIns(options);
app.UseRateLimiter();
app.UseAuthentication();
app.UsePersons();
app.UseAuthorization();
app.MapStaticAssets().AllowAnonymous();
app.MapHtmxAntiforgeryScript().AllowAnonymous();
app.MapRazorPages().WithStaticAssets();
app.MapJournalApi();
app.MapDeviceApi();
app.MapStandInProcessor();
app.MapStandInBank();
app.MapUploads();
app.MapHealth();
if (!options.IsQuiet)
{
    app.Lifetime.ApplicationStarted.Register(() => Announcement.Print(app, options));
    app.Lifetime.ApplicationStarted.Register(() => NewestDay.LookAhead(app.Services));
}

await app.RunAsync();
return 0;
