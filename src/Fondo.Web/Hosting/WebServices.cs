using System.IO.Compression;
using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Web.Intake;
using Fondo.Web.Settling;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.DataProtection.KeyManagement;
using Microsoft.AspNetCore.ResponseCompression;

namespace Fondo.Web.Hosting;

internal static class WebServices
{
    public static void AddFondoWeb(this IServiceCollection services, RunOptions options)
    {
        services.AddSingleton(options).AddSingleton<DataFolder>();
        services.AddSingleton(options.StartsAt is { } at ? new ShiftedClock(at) : TimeProvider.System);
        services.AddFondoStore(options.Connection);
        services.AddSingleton<SetUpCode>();
        services.AddSingleton<KeySecret>().AddSingleton<StoreCertificate>();
        services.AddDataProtection().PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(options.DataFolder, "keys")))
            .SetApplicationName("Fondo");
        services.AddOptions<KeyManagementOptions>().Configure<KeySecret>((o, secret) => o.XmlEncryptor = new KeyEncryptor(secret));

        services.AddDoors(options);
        var authorization = services.AddAuthorizationBuilder()
            .SetFallbackPolicy(new AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build());
        foreach (var right in Enum.GetValues<Right>())
        {
            authorization.AddPolicy(right.Written(), p => p.RequireRole(Rights.Of(right).Select(r => r.ToString())));
        }

        services.AddAntiforgery(o =>
        {
            o.HeaderName = UploadDoor.Token;
            o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
        });
        services.AddRazorPages().AddMvcOptions(o =>
        {
            o.Filters.Add<AsciiRedirects>();
            o.Filters.Add<ExportNotes>();
            o.Filters.Add<ActsAtTheDoor>();
        });
        // A page of many registers is seventy kilobytes of text alike. The tokens in it are encrypted anew each time, so that its length
        // tells nothing of them.
        services.AddResponseCompression(o => o.EnableForHttps = true);
        services.Configure<BrotliCompressionProviderOptions>(o => o.Level = CompressionLevel.Fastest);
        services.Configure<GzipCompressionProviderOptions>(o => o.Level = CompressionLevel.Fastest);
        services.AddOpenApi();
        services.AddScoped<Closing.CloseOffice>().AddScoped<Mail.MailOffice>().AddSingleton<Mail.HostMail>()
            .AddHostedService<Mail.MailRounds>().AddSingleton<Uploads>()
            .AddSingleton<Spool>();
        services.AddHttpClient().AddMemoryCache();
        services.AddSingleton<Mappings.Examples>();
        services.AddSingleton<ProcessorLine>().AddSingleton<ProcessorLink>().AddSingleton<SettlementWatch>().AddScoped<Settler>()
            .AddSingleton<SettlementOrders>().AddSingleton<TerminalAsks>()
            .AddScoped<TerminalReadings>().AddHostedService<SettlementRounds>().AddScoped<SetUp.TerminalSwaps>();
        services.AddSingleton<InboxReport>().AddHostedService<WatchedFolder>();
        services.AddSingleton<BackupRounds>().AddHostedService(s => s.GetRequiredService<BackupRounds>());
        // What goes wrong in the background is told there; it never ends the rest.
        services.Configure<HostOptions>(o => o.BackgroundServiceExceptionBehavior = BackgroundServiceExceptionBehavior.Ignore);
        services.Configure<RouteOptions>(o => o.ConstraintMap["day"] = typeof(TradingDayConstraint));

    }
}

/// <summary>The rights as pages ask for them.</summary>
internal static class Policies
{
    public const string Read = "read", Supervise = "supervise", Count = "count", Manage = "manage";
}

internal sealed class TradingDayConstraint : IRouteConstraint
{
    public bool Match(HttpContext? httpContext, IRouter? route, string routeKey, RouteValueDictionary values,
        RouteDirection routeDirection) =>
        TradingDay.TryParse(values[routeKey]?.ToString(), out _);
}
