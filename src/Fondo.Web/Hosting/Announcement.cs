using Fondo.Store.People;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;

namespace Fondo.Web.Hosting;

/// <summary>What the console says once the application answers.</summary>
internal static class Announcement
{
    public static void Print(WebApplication app, RunOptions options, IServerParts? parts)
    {
        var address = app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()?.Addresses.FirstOrDefault();
        if (address is null)
        {
            return;
        }

        Console.WriteLine();
        Console.WriteLine($"Fondo is ready at {address}");
        if (options.IsDemo && parts is not null)
        {
            parts.Announce(Console.Out, options);
        }
        else
        {
            using var scope = app.Services.CreateScope();
            if (scope.ServiceProvider.GetRequiredService<PeopleRegister>().StillMissing().GetAwaiter().GetResult() > 0)
            {
                Console.WriteLine(
                    $"First start: open {address}/set-up and name the first two people who approve, with the code "
                        + $"{app.Services.GetRequiredService<SetUpCode>().Value}");
            }
        }

        if (options.Listen?.Scheme == Uri.UriSchemeHttps && options.Certificate is null)
        {
            Console.WriteLine(
                $"Fondo uses its own certificate. On each tablet, open {address}{Network.AuthorityPath} once, install it as an authority, "
                    + "and compare the fingerprint (SHA-256):");
            Console.WriteLine($"  {app.Services.GetRequiredService<StoreCertificate>().Fingerprint}");
        }

        Console.WriteLine("Ctrl-C ends it.");
    }
}
