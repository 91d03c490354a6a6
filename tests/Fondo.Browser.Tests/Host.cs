using Fondo.Browser.Tests;
using Fondo.Standins.Days;
using Fondo.Web.Pages;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;

[assembly: Xunit.v3.Parallelization(Mode = Xunit.Sdk.ParallelMode.None)]
[assembly: AssemblyFixture(typeof(Browser))]

namespace Fondo.Browser.Tests;

/// <summary>The application on a free loopback port, with a demo day of its own.</summary>
public sealed class Host : WebApplicationFactory<IndexModel>
{
    private readonly string _folder = Directory.CreateTempSubdirectory("fondo-browser-").FullName;

    public static readonly MadeDay Made = DayMaker.Make(21);

    /// <summary>How many cells of the demo day are off.</summary>
    /// <remarks>Of the bag that nobody recorded, the drawer is a cell and the bag is one.</remarks>
    public static readonly int Off = Made.Troubles.SelectMany(t => t.Cells).Distinct().Count() + 1;

    public Host()
    {
        UseKestrel(0);
        StartServer();
    }

    public Uri Address => ClientOptions.BaseAddress;

    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        builder.UseEnvironment("Development");
        builder.UseSetting("data", _folder);
        builder.UseSetting("demo", "true");
        builder.UseSetting("quiet", "true");
        builder.UseSetting("weeks", "0");
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
