using Fondo.Browser.Tests;
using Fondo.Core.SetUp;
using Fondo.Demo;
using Fondo.Standins.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.DependencyInjection.Extensions;

[assembly: Xunit.v3.Parallelization(Mode = Xunit.Sdk.ParallelMode.None)]
[assembly: AssemblyFixture(typeof(Browser))]

namespace Fondo.Browser.Tests;

/// <summary>The application on a free loopback port, with a demo day of its own.</summary>
public sealed class Host : WebApplicationFactory<DemoParts>
{
    /// <summary>What the first of them made of the demo, for all that come after it.</summary>
    private static readonly string _begun = Directory.CreateTempSubdirectory("fondo-browser-begun-").FullName;

    private readonly string _folder = Directory.CreateTempSubdirectory("fondo-browser-").FullName;

    private LaterClock _clock = null!;

    static Host() => AppDomain.CurrentDomain.ProcessExit += (_, _) => Directory.Delete(_begun, recursive: true);

    public static readonly MadeDay Made = DayMaker.Make(21);

    /// <summary>How many cells of the demo day are off.</summary>
    /// <remarks>Of the bag that nobody recorded, the drawer is a cell and the bag is one.</remarks>
    public static readonly int Off = Made.Troubles.SelectMany(t => t.Cells).Distinct().Count() + 1;

    public Host()
    {
        var isFirst = !File.Exists(Path.Combine(_begun, Database));
        if (!isFirst)
        {
            Copy(_begun, _folder);
        }

        UseKestrel(0);
        StartServer();
        if (isFirst)
        {
            Copy(Path.Combine(_folder, StandIns), Path.Combine(_begun, StandIns));
            using var scope = Services.CreateScope();
            scope.ServiceProvider.GetRequiredService<StoreContext>().Database.ExecuteSql($"VACUUM INTO {Path.Combine(_begun, Database)}");
        }
    }

    private const string Database = "fondo.db", StandIns = "stand-ins";

    private static void Copy(string from, string to)
    {
        foreach (var file in Directory.EnumerateFiles(from, "*", SearchOption.AllDirectories))
        {
            var copy = Path.Combine(to, Path.GetRelativePath(from, file));
            Directory.CreateDirectory(Path.GetDirectoryName(copy)!);
            File.Copy(file, copy);
        }
    }

    public Uri Address => ClientOptions.BaseAddress;

    /// <summary>Lets time go by.</summary>
    public void Wait(TimeSpan time) => _clock.By += time;

    /// <summary>A register sends a line of its journal.</summary>
    public async Task Send(string register, string line)
    {
        using var scope = Services.CreateScope();
        using var client = new HttpClient { BaseAddress = Address };
        client.DefaultRequestHeaders.Authorization = new("Bearer",
            (await scope.ServiceProvider.GetRequiredService<RegisterKeys>()
                .Make(register, new(new("p01"), "Odile Marchetti", Role.Supervisor),
                    new(new("p02"), "Tamsin Okafor", Role.Manager))).Value);
        using var answer = await client.PostAsync($"/api/registers/{register}/journal", new StringContent(line));
        answer.EnsureSuccessStatusCode();
    }

    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        builder.UseEnvironment("Development");
        builder.UseSetting("data", _folder);
        builder.UseSetting("demo", "true");
        builder.UseSetting("quiet", "true");
        builder.UseSetting("weeks", "0");
        builder.ConfigureServices(services =>
        {
            _clock = new((TimeProvider)services.Last(s => s.ServiceType == typeof(TimeProvider)).ImplementationInstance!);
            services.Replace(ServiceDescriptor.Singleton<TimeProvider>(_clock));
            // a hundred times as quick as what keeps PINs in a store
            services.Configure<PasswordHasherOptions>(o => o.IterationCount = 1_000);
        });
    }

    /// <summary>The clock of the demo, put on by a test.</summary>
    private sealed class LaterClock(TimeProvider clock) : TimeProvider
    {
        public TimeSpan By { get; set; }

        public override DateTimeOffset GetUtcNow() => clock.GetUtcNow() + By;
    }

    protected override void Dispose(bool disposing)
    {
        base.Dispose(disposing);
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        if (Directory.Exists(_folder))
        {
            Directory.Delete(_folder, recursive: true);
        }
    }
}
