using System.Globalization;

namespace Fondo.Web.Hosting;

/// <summary>How this run of the application was asked to be: <c>--data DIR</c>, <c>--demo true</c>, <c>--now TIME</c>, <c>--listen
/// ADDRESS</c>.</summary>
/// <param name="IsQuiet">Says nothing on the console.</param>
/// <param name="DataFolder">Where the database and the keys lie.</param>
/// <param name="Weeks">How many weeks of closed days the demo has behind it.</param>
/// <param name="StartsAt">The time that the clock shows at the start; null for the real one.</param>
public sealed record RunOptions(string DataFolder, bool IsDemo, bool IsQuiet, int Weeks, DateTimeOffset? StartsAt)
{
    /// <summary>Makes the demo and ends: what it made is copied wherever a demo begins.</summary>
    public bool OnlyMakes { get; init; }

    /// <summary>Where it answers, as a URL; null: as the host says.</summary>
    public Uri? Listen { get; init; }

    /// <summary>The certificate of the name under which it answers, and its key, as PEM files; null: the store's own.</summary>
    public (string Certificate, string Key)? Certificate { get; init; }

    /// <summary>The proxy that stands before it and speaks TLS for it; null where none does.</summary>
    public System.Net.IPAddress? Proxy { get; init; }

    /// <summary>Further names under which browsers reach it.</summary>
    public IReadOnlyList<string> Hosts { get; init; } = [];

    /// <summary>The file with the secret that encrypts its keys; null: one in the data folder.</summary>
    public string? Secret { get; init; }

    /// <summary>The processor of the terminals, as a URL that ends in a slash; null: in the demo its stand-in, else none.</summary>
    public Uri? Processor { get; init; }

    /// <summary>Between two rounds that look after settlements.</summary>
    public TimeSpan Rounds { get; init; } = TimeSpan.FromSeconds(2);

    /// <summary>So long one waits for an answer of the processor.</summary>
    public TimeSpan Patience { get; init; } = TimeSpan.FromSeconds(5);

    /// <summary>So long a page waits for what goes on in the background, before it shows how far that is.</summary>
    public TimeSpan PageWait { get; init; } = TimeSpan.FromMilliseconds(700);

    /// <summary>Where copies of the backups go besides; null: nowhere.</summary>
    public string? SecondBackups { get; init; }

    /// <summary>Whether browsers reach it by https alone.</summary>
    public bool IsSecure => Listen?.Scheme == Uri.UriSchemeHttps || Proxy is not null;

    /// <summary>Where uploads lie while they come in.</summary>
    public string Spool => Path.Combine(DataFolder, "spool");

    public string Backups => Path.Combine(DataFolder, "backups");

    /// <summary>Where closes are laid for the bookkeeper.</summary>
    public string Closes => Path.Combine(DataFolder, "closes");


    public string Logs => Path.Combine(DataFolder, "logs");

    public string Database => Path.Combine(DataFolder, "fondo.db");

    /// <summary>The folder that is watched for journals and days.</summary>
    public string Inbox => Path.Combine(DataFolder, "inbox");

    /// <summary>Where the stand-in mailbox lies.</summary>
    public string Mailbox => Path.Combine(DataFolder, "mailbox");

    /// <summary>Where the stand-in registers keep what they could not send.</summary>
    public string StandIns => Path.Combine(DataFolder, "stand-ins");

    /// <summary>Whoever writes waits for the one who writes already, rather than fail.</summary>
    public string Connection => $"Data Source={Path.Combine(DataFolder, "fondo.db")};Default Timeout=120";

    /// <param name="parts">What the host adds; null: nothing, and it has no demo.</param>
    public static RunOptions From(IConfiguration configuration, IServerParts? parts = null)
    {
        var folder = configuration["data"] ?? throw new InvalidOperationException("Give the data folder: --data DIR.");
        Directory.CreateDirectory(folder);
        var isDemo = configuration.GetValue("demo", false);
        if (isDemo && parts is null)
        {
            throw new InvalidOperationException("This program has no demo: start ./fondo demo.");
        }

        DateTimeOffset? now = configuration["now"] is { } text ? DateTimeOffset.Parse(text, CultureInfo.InvariantCulture)
            : isDemo ? parts!.StartsAt
            : null;
        var (certificate, key) = (configuration["certificate"], configuration["key"]);
        if (certificate is null != key is null)
        {
            throw new InvalidOperationException("A certificate and its key belong together: --certificate FILE --key FILE.");
        }

        return new(Path.GetFullPath(folder), isDemo, configuration.GetValue("quiet", false), configuration.GetValue("weeks", 8), now)
        {
            OnlyMakes = configuration.GetValue("make-only", false),
            Listen = configuration["listen"] is not { } listen ? null
                : Uri.TryCreate(listen, UriKind.Absolute, out var uri) && uri.Scheme is "http" or "https" ? uri
                : throw new InvalidOperationException($"{listen} is not an address to listen on. Give one like https://0.0.0.0:8443."),
            Certificate = certificate is null ? null : (certificate, key!),
            Proxy = configuration["behind-proxy"] is not { } proxy ? null : System.Net.IPAddress.TryParse(proxy, out var address) ? address
                : throw new InvalidOperationException($"{proxy} is not a proxy address. Give one like 127.0.0.1."),
            Hosts = configuration["host"]?.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                ?? (configuration["behind-proxy"] is null
                    ? []
                    : throw new InvalidOperationException("Behind a proxy, say under which name browsers reach it: --host NAME.")),
            Secret = configuration["secret"] is not { } secret || File.Exists(secret)
                ? configuration["secret"]
                : throw new InvalidOperationException($"{secret} is not there: it should hold the secret that encrypts the keys."),
            SecondBackups = configuration["second-backups"],
            Processor = configuration["processor"] is not { } processor ? null
                : Uri.TryCreate(processor.TrimEnd('/') + "/", UriKind.Absolute, out var host) && host.Scheme is "http" or "https" ? host
                : throw new InvalidOperationException(
                    $"{processor} is not a processor address. Give one like https://processor.example/api/."),
            Rounds = TimeSpan.FromSeconds(configuration.GetValue("rounds", 2.0)),
            Patience = TimeSpan.FromSeconds(configuration.GetValue("patience", 5.0)),
            PageWait = TimeSpan.FromSeconds(configuration.GetValue("page-wait", 0.7)),
        };
    }
}

/// <summary>The real clock, set to another time: the demo's evening runs on as evenings do.</summary>
internal sealed class ShiftedClock(DateTimeOffset startsAt) : TimeProvider
{
    private readonly TimeSpan _shift = startsAt - System.GetUtcNow();

    public override DateTimeOffset GetUtcNow() => System.GetUtcNow() + _shift;
}
