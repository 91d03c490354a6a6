using System.Net;
using System.Net.Security;
using System.Security.Cryptography.X509Certificates;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Time.Testing;

namespace Fondo.Web.Tests;

/// <summary>The store's own authority and certificate, and what is private on the disk.</summary>
public sealed class OnTheNetwork : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("fondo-tls-").FullName;
    private readonly FakeTimeProvider _clock = new(DateTimeOffset.UtcNow);

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private RunOptions Options => new(_folder, false, true, 0, null) { Listen = new("https://127.0.0.1:0") };

    private StoreCertificate Certificate => new(Options, new KeySecret(Options), _clock);

    private static RunOptions Read(string folder, params (string Key, string Value)[] words) => RunOptions.From(new ConfigurationBuilder()
        .AddInMemoryCollection(words.Append(("data", folder)).Select(w => KeyValuePair.Create(w.Item1, (string?)w.Item2))).Build());

    /// <summary>An application that runs for a year renews its certificate while it runs; connections between get the one that
    /// holds.</summary>
    [Fact]
    public void It_is_renewed_while_the_application_runs()
    {
        var running = Certificate;
        var first = running.Current();
        _clock.Advance(TimeSpan.FromDays(300));
        Assert.Equal(first.Thumbprint, running.Current().Thumbprint);
        _clock.Advance(TimeSpan.FromDays(65));
        var renewed = running.Current();
        Assert.NotEqual(first.Thumbprint, renewed.Thumbprint);
        Assert.True(renewed.NotAfter > first.NotAfter);
        Assert.Same(renewed, running.Current());
    }

    [Fact]
    public void It_is_made_once_by_an_authority_of_the_stores_own_and_made_anew_before_it_ends()
    {
        using var first = Certificate.Get();
        using var again = Certificate.Get();
        Assert.Equal(first.Thumbprint, again.Thumbprint);
        using var authority = X509CertificateLoader.LoadCertificateFromFile(Certificate.AuthorityFile);
        using var chain =
            new X509Chain { ChainPolicy = { TrustMode = X509ChainTrustMode.CustomRootTrust, RevocationMode = X509RevocationMode.NoCheck } };
        chain.ChainPolicy.CustomTrustStore.Add(authority);
        Assert.True(chain.Build(first), string.Join("; ", chain.ChainStatus.Select(s => s.StatusInformation)));
        Assert.All(new[] { "localhost", Environment.MachineName, "127.0.0.1" }, name => Assert.True(first.MatchesHostname(name), name));
        var fingerprint = Certificate.Fingerprint;
        _clock.Advance(TimeSpan.FromDays(370));
        using var later = Certificate.Get();
        Assert.NotEqual(first.Thumbprint, later.Thumbprint);
        Assert.Equal(fingerprint, Certificate.Fingerprint); // tablets go on trusting
        Assert.DoesNotContain("BEGIN PRIVATE KEY",
            string.Concat(Directory.GetFiles(Path.Combine(_folder, "tls"), "*.key").Select(File.ReadAllText)), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_browser_that_trusts_the_authority_comes_in_over_tls_with_http_2_and_no_other_name()
    {
        var builder = WebApplication.CreateBuilder();
        builder.Services.AddSingleton(Options).AddSingleton(Certificate);
        builder.AddNetwork(Options);
        builder.Services.AddAuthorization();
        await using var app = builder.Build();
        app.UseNetwork(Options);
        app.MapGet("/", () => "in");
        await app.StartAsync(TestContext.Current.CancellationToken);
        var address = app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.Single();
        using var authority = X509CertificateLoader.LoadCertificateFromFile(Certificate.AuthorityFile);
        using var handler = new SocketsHttpHandler
        {
            SslOptions = new()
            {
                CertificateChainPolicy = new()
                {
                    TrustMode = X509ChainTrustMode.CustomRootTrust,
                    RevocationMode = X509RevocationMode.NoCheck,
                    CustomTrustStore = { authority }
                }
            },
        };
        using var client = new HttpClient(handler)
        {
            DefaultRequestVersion = HttpVersion.Version20,
            DefaultVersionPolicy = HttpVersionPolicy.RequestVersionExact
        };
        using var answer = await client.GetAsync(address, TestContext.Current.CancellationToken);
        Assert.Equal((HttpStatusCode.OK, HttpVersion.Version20), (answer.StatusCode, answer.Version));
        using var pem = await client.GetAsync(address + Network.AuthorityPath, TestContext.Current.CancellationToken);
        Assert.Equal(await File.ReadAllTextAsync(Certificate.AuthorityFile, TestContext.Current.CancellationToken),
            await pem.Content.ReadAsStringAsync(TestContext.Current.CancellationToken));
        using var other =
            new HttpRequestMessage(HttpMethod.Get, address) { Headers = { Host = "elsewhere.example" }, Version = HttpVersion.Version11 };
        using var anyName = new HttpClient(new SocketsHttpHandler
        {
            SslOptions = new()
            {
                RemoteCertificateValidationCallback = (_, _, _, errors) => errors is SslPolicyErrors.None
                    or SslPolicyErrors.RemoteCertificateNameMismatch
                    or (SslPolicyErrors.RemoteCertificateNameMismatch | SslPolicyErrors.RemoteCertificateChainErrors)
            },
        });
        using var refused = await anyName.SendAsync(other, TestContext.Current.CancellationToken);
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
    }

    [Theory]
    [InlineData("certificate", "c.pem", "belong together")]
    [InlineData("listen", "0.0.0.0", "not an address to listen on")]
    [InlineData("listen", "ftp://0.0.0.0:1", "not an address to listen on")]
    [InlineData("behind-proxy", "proxy", "not a proxy address")]
    [InlineData("behind-proxy", "127.0.0.1", "--host NAME")]
    [InlineData("secret", "/nowhere/secret", "is not there")]
    public void What_makes_no_sense_is_said_in_a_sentence(string word, string value, string why) =>
        Assert.Contains(why, Assert.Throws<InvalidOperationException>(() => Read(_folder, (word, value),
            word == "behind-proxy" && value == "proxy" ? ("host", "x") : ("quiet", "true"))).Message, StringComparison.Ordinal);

    [Fact]
    public void Loopback_is_the_default_and_the_network_asks_for_secure_cookies()
    {
        Assert.False(Read(_folder).IsSecure);
        Assert.Null(Read(_folder).Listen);
        Assert.True(Read(_folder, ("listen", "https://0.0.0.0:8443")).IsSecure);
        Assert.True(Read(_folder, ("behind-proxy", "127.0.0.1"), ("host", "till.example")).IsSecure);
    }

    [Fact]
    [System.Runtime.Versioning.SupportedOSPlatform("linux")]
    public void The_data_folder_is_private_and_its_keys_are_encrypted()
    {
        using var shop = new Shop { IsEmpty = true };
        using (shop.CreateClient())
        {
            Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute, File.GetUnixFileMode(shop.Folder));
            Assert.All(Directory.GetFiles(shop.Folder, "*", SearchOption.AllDirectories),
                file => Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(file)));
            shop.Services.GetRequiredService<Microsoft.AspNetCore.DataProtection.IDataProtectionProvider>();
            var keys = Directory.GetFiles(Path.Combine(shop.Folder, "keys"), "*.xml");
            Assert.NotEmpty(keys);
            Assert.All(keys, k => Assert.DoesNotContain("<masterKey", File.ReadAllText(k), StringComparison.Ordinal));
        }
    }
}
