using System.Net;
using System.Net.NetworkInformation;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;

namespace Fondo.Web.Hosting;

/// <summary>The store's own authority and the certificate that it signed for this machine: made once, kept in the data folder with mode
/// 600, their keys encrypted.
/// A tablet that trusts the authority goes on trusting when the certificate is made anew.</summary>
internal sealed class StoreCertificate(RunOptions options, KeySecret secret, TimeProvider clock)
{
    private const int AuthorityYears = 10, Days = 390, RenewBefore = 30;

    private string Folder => Path.Combine(options.DataFolder, "tls");

    /// <summary>The authority as tablets take it.</summary>
    public string AuthorityFile => Path.Combine(Folder, "authority.pem");

    /// <summary>What one compares on the tablet: SHA-256 of the authority, in pairs.</summary>
    public string Fingerprint =>
        string.Join(':', Convert.ToHexString(SHA256.HashData(Load("authority").RawData)).Chunk(2).Select(c => new string(c)));

    /// <summary>The names and addresses under which this machine is reached.</summary>
    public static IReadOnlyList<string> Names(RunOptions options) =>
    [
        .. new[] { "localhost", Environment.MachineName, $"{Environment.MachineName}.local", "127.0.0.1", "::1" },
        .. NetworkInterface.GetAllNetworkInterfaces().SelectMany(i => i.GetIPProperties().UnicastAddresses).Select(a => a.Address)
            .Where(a => !a.IsIPv6LinkLocal && !IPAddress.IsLoopback(a)).Select(a => a.ToString()),
        .. options.Hosts,
    ];

    private static readonly TimeSpan _looks = TimeSpan.FromHours(1);

    private readonly Lock _gate = new();

    private (X509Certificate2 Certificate, DateTimeOffset LookedAt)? _current;

    /// <summary>The certificate for a connection now. It is renewed while the application runs: once an hour it is looked at
    /// again.</summary>
    /// <remarks>One that is replaced stays open: connections may still use it.</remarks>
    public X509Certificate2 Current()
    {
        lock (_gate)
        {
            var now = clock.GetUtcNow();
            if (_current is { } known && now - known.LookedAt < _looks)
            {
                return known.Certificate;
            }

            try
            {
                _current = (Get(), now);
            }
            catch (Exception e) when (_current is not null && e is IOException or UnauthorizedAccessException or CryptographicException)
            {
                _current = (_current!.Value.Certificate, now); // a disk that is full for a while ends no connection
            }

            return _current!.Value.Certificate;
        }
    }

    /// <summary>The certificate with its key; made, or made anew, when there is none, it ends soon, or the machine has another
    /// name.</summary>
    public X509Certificate2 Get()
    {
        if (options.Certificate is { } given)
        {
            using var pem = X509Certificate2.CreateFromPemFile(given.Certificate, given.Key);
            return Usable(pem);
        }

        Directory.CreateDirectory(Folder);
        if (!File.Exists(AuthorityFile))
        {
            MakeAuthority();
        }

        var names = Names(options).Distinct(StringComparer.OrdinalIgnoreCase).ToList();
        if (!File.Exists(Path.Combine(Folder, "server.pem")) || IsOver(names))
        {
            MakeServer(names);
        }

        return Usable(Load("server"));
    }

    private bool IsOver(List<string> names)
    {
        using var server = Load("server");
        return server.NotAfter.ToUniversalTime() < clock.GetUtcNow().UtcDateTime.AddDays(RenewBefore)
            || names.Any(n => !server.MatchesHostname(n, allowCommonName: false));
    }

    private void MakeAuthority()
    {
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest($"CN=Fondo authority of {Environment.MachineName}", key, HashAlgorithmName.SHA256);
        request.CertificateExtensions.Add(new X509BasicConstraintsExtension(true, true, 0, true));
        request.CertificateExtensions.Add(new X509KeyUsageExtension(X509KeyUsageFlags.KeyCertSign | X509KeyUsageFlags.CrlSign, true));
        request.CertificateExtensions.Add(new X509SubjectKeyIdentifierExtension(request.PublicKey, false));
        var now = clock.GetUtcNow();
        using var made = request.CreateSelfSigned(now.AddDays(-1), now.AddYears(AuthorityYears));
        Keep("authority", made, key);
    }

    private void MakeServer(List<string> names)
    {
        using var authority = Load("authority");
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest($"CN={Environment.MachineName}", key, HashAlgorithmName.SHA256);
        request.CertificateExtensions.Add(new X509BasicConstraintsExtension(false, false, 0, true));
        request.CertificateExtensions.Add(new X509KeyUsageExtension(X509KeyUsageFlags.DigitalSignature, true));
        request.CertificateExtensions.Add(new X509EnhancedKeyUsageExtension([new("1.3.6.1.5.5.7.3.1")], false));
        var alternatives = new SubjectAlternativeNameBuilder();
        foreach (var name in names)
        {
            if (IPAddress.TryParse(name, out var address))
            {
                alternatives.AddIpAddress(address);
            }
            else
            {
                alternatives.AddDnsName(name);
            }
        }

        request.CertificateExtensions.Add(alternatives.Build());
        var now = clock.GetUtcNow();
        using var made = request.Create(authority, now.AddDays(-1), now.AddDays(Days), RandomNumberGenerator.GetBytes(16));
        Keep("server", made, key);
    }

    private void Keep(string name, X509Certificate2 certificate, ECDsa key)
    {
        File.WriteAllText(Path.Combine(Folder, $"{name}.key"),
            key.ExportEncryptedPkcs8PrivateKeyPem(secret.Text, new(PbeEncryptionAlgorithm.Aes256Cbc, HashAlgorithmName.SHA256, 100_000)));
        File.WriteAllText(Path.Combine(Folder, $"{name}.pem"), certificate.ExportCertificatePem());
    }

    private X509Certificate2 Load(string name) =>
        X509Certificate2.CreateFromEncryptedPemFile(Path.Combine(Folder, $"{name}.pem"), secret.Text, Path.Combine(Folder, $"{name}.key"));

    /// <summary>With its key in a form that the TLS of every platform takes.</summary>
    private static X509Certificate2 Usable(X509Certificate2 pem) =>
        X509CertificateLoader.LoadPkcs12(pem.Export(X509ContentType.Pkcs12), null);
}
