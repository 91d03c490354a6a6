using Fondo.Rehearsal;
using Fondo.Store.Model;
using Fondo.Web.Hosting;
using Fondo.Web.Pages;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.DependencyInjection.Extensions;
using Microsoft.Extensions.Time.Testing;

namespace Fondo.Rehearse;

/// <summary>The application for real use, on a free loopback port and a throw-away folder, with a clock that is set from outside.</summary>
public sealed class Stage : WebApplicationFactory<IndexModel>, IStage
{
    private readonly string _folder = Directory.CreateTempSubdirectory("fondo-rehearsal-").FullName;
    private readonly FakeTimeProvider _clock = new(new DateTimeOffset(2026, 1, 1, 0, 0, 0, TimeSpan.Zero));

    private Uri? _processor;
    private string? _keptIn;

    /// <summary>The store stays there when the stage is cleared, for a look at what went wrong.</summary>
    public void Keep(string folder) => _keptIn = folder;

    public void Open(Uri? processor)
    {
        _processor = processor;
        UseKestrel(0);
        StartServer();
    }

    public Uri Address => ClientOptions.BaseAddress;

    public string Code => Services.GetRequiredService<SetUpCode>().Value;

    public void SetClock(DateTimeOffset at) => _clock.SetUtcNow(at);

    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        builder.UseContentRoot(AppContext.BaseDirectory);
        builder.UseEnvironment("Development");
        builder.UseSetting("data", _folder);
        builder.UseSetting("demo", "false");
        builder.UseSetting("quiet", "true");
        if (_processor is not null)
        {
            builder.UseSetting("processor", _processor.ToString());
        }

        builder.UseSetting("rounds", "3600");
        builder.UseSetting("Logging:LogLevel:Default", "Error");
        builder.ConfigureServices(services =>
        {
            services.Replace(ServiceDescriptor.Singleton<TimeProvider>(_clock));
            // A hundred shops in one process are a hundred stores.
            services.ConfigureDbContext<StoreContext>(o =>
                o.ConfigureWarnings(w => w.Ignore(CoreEventId.ManyServiceProvidersCreatedWarning)));
            // a hundred times as quick as what keeps PINs in a store
            services.Configure<PasswordHasherOptions>(o => o.IterationCount = 1_000);
        });
    }

    protected override void Dispose(bool disposing)
    {
        base.Dispose(disposing);
        if (!disposing)
        {
            return;
        }

        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        if (_keptIn is not null)
        {
            Directory.CreateDirectory(_keptIn);
            foreach (var file in Directory.GetFiles(_folder, "fondo.db*"))
            {
                File.Copy(file, Path.Combine(_keptIn, Path.GetFileName(file)), overwrite: true);
            }
        }

        for (var tries = 0; Directory.Exists(_folder) && tries < 40; tries++)
        {
            try
            {
                Directory.Delete(_folder, recursive: true);
            }
            catch (IOException)
            {
                Thread.Yield(); // what works in the background puts its last things down
            }
        }
    }
}
