using System.Net;
using Microsoft.AspNetCore.HostFiltering;
using Microsoft.AspNetCore.HttpOverrides;
using Microsoft.AspNetCore.Server.Kestrel.Core;

namespace Fondo.Web.Hosting;

/// <summary>Where Fondo answers: on the machine itself; on the store's network with TLS of its own; or behind a proxy.</summary>
internal static class Network
{
    /// <summary>Where a tablet takes the store's authority from.</summary>
    public const string AuthorityPath = "/authority.pem";

    public static void AddNetwork(this WebApplicationBuilder builder, RunOptions options)
    {
        builder.Services.Configure<HostFilteringOptions>(o =>
            o.AllowedHosts = [.. options.Proxy is not null ? options.Hosts.Append("localhost").Append("127.0.0.1")
                : options.Listen is null ? ["localhost", "127.0.0.1", "[::1]", .. options.Hosts]
                : Bracketed(options)]);
        builder.Services.AddHsts(o => o.MaxAge = TimeSpan.FromDays(365));
        if (options.Proxy is { } proxy)
        {
            builder.Services.Configure<ForwardedHeadersOptions>(o =>
            {
                o.ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto | ForwardedHeaders.XForwardedHost;
                o.KnownProxies.Clear();
                o.KnownIPNetworks.Clear();
                o.KnownProxies.Add(proxy);
            });
        }

        if (options.Listen is not { } listen)
        {
            return;
        }

        builder.WebHost.ConfigureKestrel((_, kestrel) =>
        {
            void Answer(ListenOptions at)
            {
                at.Protocols = HttpProtocols.Http1AndHttp2;
                if (listen.Scheme == Uri.UriSchemeHttps)
                {
                    var certificate = kestrel.ApplicationServices.GetRequiredService<StoreCertificate>();
                    certificate.Current();
                    at.UseHttps(https => https.ServerCertificateSelector = (_, _) => certificate.Current());
                }
            }

            if (IPAddress.TryParse(listen.Host.Trim('[', ']'), out var address))
            {
                kestrel.Listen(address, listen.Port, Answer);
            }
            else if (listen.Host == "localhost")
            {
                kestrel.ListenLocalhost(listen.Port, Answer);
            }
            else
            {
                kestrel.ListenAnyIP(listen.Port, Answer);
            }
        });
    }

    public static void UseNetwork(this WebApplication app, RunOptions options)
    {
        if (options.Proxy is not null)
        {
            app.UseForwardedHeaders();
        }

        if (options.IsSecure)
        {
            app.UseHsts();
        }

        if (options.Listen?.Scheme == Uri.UriSchemeHttps && options.Certificate is null)
        {
            app.MapGet(AuthorityPath, (StoreCertificate certificate) => Results.File(certificate.AuthorityFile,
                "application/x-x509-ca-cert", "fondo-authority.pem")).AllowAnonymous().ExcludeFromDescription();
        }
    }

    private static IEnumerable<string> Bracketed(RunOptions options) =>
        StoreCertificate.Names(options).Select(n => n.Contains(':', StringComparison.Ordinal) ? $"[{n}]" : n);
}
