using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Fondo.Web.Hosting;
using Fondo.Web.Intake;
using Htmx.TagHelpers;
using Serilog;

var builder = WebApplication.CreateBuilder(args);
var options = RunOptions.From(builder.Configuration);
builder.WebHost.UseStaticWebAssets();
builder.Services.AddSerilog((services, log) => log
    .ReadFrom.Configuration(builder.Configuration)
    .MinimumLevel.Override("Microsoft", Serilog.Events.LogEventLevel.Warning)
    .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", Serilog.Events.LogEventLevel.Error)
    // They warn of what a migration that is cut off would leave; ours works on a copy.
    .MinimumLevel.Override("Microsoft.EntityFrameworkCore.Migrations", Serilog.Events.LogEventLevel.Error)
    .WriteTo.Console(formatProvider: System.Globalization.CultureInfo.InvariantCulture));
builder.Services.AddFondoWeb(options);

var app = builder.Build();
await using (var scope = app.Services.CreateAsyncScope())
{
    var folder = app.Services.GetRequiredService<DataFolder>();
    await folder.Take(Console.Out);
    await folder.Migrate(scope.ServiceProvider.GetRequiredService<StoreContext>());
    await scope.ServiceProvider.GetRequiredService<EventIndex>().Complete();
    await scope.ServiceProvider.GetRequiredService<TrailBeginning>().Complete();
    app.Services.GetRequiredService<Spool>().Clear();
    if (options.IsDemo)
    {
        await Demo.Prepare(scope.ServiceProvider, options.Weeks);
        folder.Made();
    }
}

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
app.MapGet("/stand-ins/terminals/{terminal}/running", (string terminal, StandInHost standIns) =>
    standIns.Running(terminal) is { } running ? Results.Ok(new { count = running.Count, amount = $"{running.Amount / 100m:0.00}" }) : Results.NotFound()).AllowAnonymous().ExcludeFromDescription();
app.MapUploads();
app.MapGet("/healthz", () => "ok").AllowAnonymous();
if (!options.IsQuiet)
{
    app.Lifetime.ApplicationStarted.Register(() => Announcement.Print(app, options));
}

await app.RunAsync();
