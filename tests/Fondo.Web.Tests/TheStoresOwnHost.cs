using System.Net;
using Fondo.Web.Hosting;
using Fondo.Web.Pages;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>What a store runs: the server without the demo's parts.</summary>
public sealed class TheStoresOwnHost
{
    private sealed class OwnHost(string folder) : WebApplicationFactory<IndexModel>
    {
        protected override void ConfigureWebHost(IWebHostBuilder builder) =>
            builder.UseEnvironment("Development").UseSetting("data", folder).UseSetting("quiet", "true");
    }

    [Fact]
    public void It_holds_no_stand_in()
    {
        var referenced = typeof(IndexModel).Assembly.GetReferencedAssemblies().Select(a => a.Name).ToList();
        Assert.Contains("Fondo.Store", referenced); // they are really read
        Assert.DoesNotContain("Fondo.Standins", referenced);
        Assert.DoesNotContain("SmtpServer", referenced);
    }

    [Fact]
    public async Task It_answers_and_knows_no_stand_in()
    {
        var folder = Directory.CreateTempSubdirectory("fondo-own-").FullName;
        try
        {
            await using (var host = new OwnHost(folder))
            {
                using var client = host.CreateClient(new() { AllowAutoRedirect = false });
                async Task<HttpStatusCode> StatusOf(string path) => (await client.GetAsync(path)).StatusCode;
                Assert.Equal(HttpStatusCode.OK, await StatusOf("/set-up"));
                Assert.Equal(HttpStatusCode.OK, await StatusOf("/css/fondo.css"));
                Assert.Equal(HttpStatusCode.NotFound, await StatusOf("/openapi/stand-ins.json"));
                var routes = host.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
                    .Select(e => e.RoutePattern.RawText!).ToList();
                Assert.Contains("set-up", routes); // they are really read
                Assert.DoesNotContain(routes, r => r.Contains("stand-in", StringComparison.Ordinal));
            }
        }
        finally
        {
            Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
            Directory.Delete(folder, recursive: true);
        }
    }

    [Fact]
    public void It_has_no_demo()
    {
        var folder = Directory.CreateTempSubdirectory("fondo-own-");
        try
        {
            var asked = new ConfigurationBuilder()
                .AddInMemoryCollection(new Dictionary<string, string?> { ["data"] = folder.FullName, ["demo"] = "true" }).Build();
            Assert.Contains("has no demo", Assert.Throws<InvalidOperationException>(() => RunOptions.From(asked)).Message,
                StringComparison.Ordinal);
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }
}
