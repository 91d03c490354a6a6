using Fondo.Web.Hosting;
using Fondo.Web.Settling;

namespace Fondo.Demo;

/// <summary>What the demo adds to the store's server: made-up days, and stand-ins for everything that is outside of it.</summary>
public sealed class DemoParts : IServerParts
{
    public DateTimeOffset StartsAt => DemoStore.Evening;

    public void Add(IServiceCollection services)
    {
        services.AddOpenApi(StandInProcessor.Document);
        services.AddSingleton<StandInHost>().AddSingleton<ProcessorLine, StandInProcessorLine>().AddScoped<BankStandIn>();
        services.AddSingleton<StandInMail>().AddHostedService(s => s.GetRequiredService<StandInMail>());
        services.AddHostedService<StandInRounds>();
    }

    /// <summary>The stand-ins answer in the demo, and only on the machine itself.</summary>
    public void Use(WebApplication app, RunOptions options) => app.Use(async (context, next) =>
    {
        if (context.Request.Path.StartsWithSegments("/stand-ins") && !(options.IsDemo && Whereabouts.IsLocal(context)))
        {
            context.Response.StatusCode = StatusCodes.Status404NotFound;
            return;
        }

        await next(context);
    });

    public void Map(WebApplication app)
    {
        app.MapStandInProcessor();
        app.MapStandInBank();
    }

    public Task Prepare(IServiceProvider services, RunOptions options) =>
        DemoStore.Prepare(services, options.Weeks, options.IsQuiet ? TextWriter.Null : Console.Error);

    public void Announce(TextWriter to, RunOptions options) => DemoStore.Print(to, options.StandIns);
}
