using System.Text.RegularExpressions;
using Fondo.Demo;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;

namespace Fondo.Bench;

/// <summary>The application with the demo's store, over a real socket.</summary>
internal sealed partial class BenchShop(string folder) : WebApplicationFactory<DemoParts>
{
    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        builder.UseEnvironment("Development");
        builder.UseContentRoot(AppContext.BaseDirectory);
        builder.UseSetting("data", folder);
        builder.UseSetting("demo", "true");
        builder.UseSetting("quiet", "true");
        builder.UseSetting("weeks", "0");
    }

    public static async Task SignIn(HttpClient client)
    {
        var page = await client.GetStringAsync("/sign-in");
        var token = TokenOf(page);
        using var form = new FormUrlEncodedContent(new Dictionary<string, string>
        {
            ["Who"] = "p01",
            ["Pin"] = "2580",
            ["__RequestVerificationToken"] = token
        });
        using var answer = await client.PostAsync("/sign-in", form);
        if (answer.StatusCode != System.Net.HttpStatusCode.Redirect)
        {
            throw new InvalidOperationException("The bench could not sign in.");
        }
    }

    /// <summary>What a form of the page sends along against forgery.</summary>
    public static string TokenOf(string page) => TokenField().Match(page).Groups[1].Value;

    [GeneratedRegex("__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex TokenField();
}
