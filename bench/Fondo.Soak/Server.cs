using System.Diagnostics;
using System.Net.Sockets;
using System.Text.RegularExpressions;

namespace Fondo.Soak;

/// <summary>The server as its own process, which can be killed.</summary>
internal sealed partial class Server(string program, string data)
{
    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(60);

    private Process? _process;
    private TaskCompletionSource<string> _ready = new();

    public int Port { get; } = FreePort();

    /// <summary>The code of the first start.</summary>
    public string? Code { get; private set; }

    /// <param name="now">What its clock shows.</param>
    public void Start(DateTimeOffset now)
    {
        _ready = new();
        var start = new ProcessStartInfo(program,
            ["--data", data, "--urls", $"http://127.0.0.1:{Port}", "--now", now.ToString("O", CultureInfo.InvariantCulture)])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            WorkingDirectory = Path.GetDirectoryName(program),
            Environment = { ["ASPNETCORE_ENVIRONMENT"] = "Production" },
        };
        _process = Process.Start(start)!;
        var ready = _ready;
        _process.OutputDataReceived += (_, e) => Heard(e.Data, ready);
        _process.ErrorDataReceived += (_, _) => { };
        _process.BeginOutputReadLine();
        _process.BeginErrorReadLine();
    }

    /// <summary>Until it answers.</summary>
    /// <exception cref="InvalidOperationException">It does not.</exception>
    public async Task Ready()
    {
        var came = await Task.WhenAny(_ready.Task, Task.Delay(_patience), _process!.WaitForExitAsync());
        if (came != _ready.Task)
        {
            throw new InvalidOperationException(_process.HasExited
                ? $"The server ended by itself with {_process.ExitCode}."
                : "The server did not come up within a minute.");
        }
    }

    /// <summary>Without a word (SIGKILL).</summary>
    public void Kill()
    {
        _process!.Kill();
        _process.WaitForExit(TimeSpan.FromSeconds(10));
    }

    private void Heard(string? line, TaskCompletionSource<string> ready)
    {
        if (line is null)
        {
            return;
        }

        if (CodeSaid().Match(line) is { Success: true } code)
        {
            Code = code.Groups[1].Value;
        }

        if (line.Contains("Ctrl-C ends it", StringComparison.Ordinal))
        {
            ready.TrySetResult(line);
        }
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    [GeneratedRegex("code ([0-9]{4} [0-9]{4})")]
    private static partial Regex CodeSaid();
}
