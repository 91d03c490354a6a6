using System.Collections.Concurrent;
using System.IO.Compression;
using Fondo.Core.Checks;
using Fondo.Core.SetUp;
using Fondo.Standins.Machines;
using Fondo.Standins.Registers;
using Fondo.Standins.Terminals;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Demo;

/// <summary>Runs the stand-in registers of the demo beside the application. They reach it only through its HTTP door, each with its own
/// key.</summary>
public sealed class StandInHost(RunOptions options, IServiceScopeFactory scopes, IHttpClientFactory clients, IServer server,
    TimeProvider clock, ILogger<StandInHost> log) : IDisposable
{
    /// <summary>The name of the client that reaches this application.</summary>
    public const string Client = "fondo-itself";

    private static readonly Person _by = new(new("stand-in"), "Stand-in", Role.Supervisor),
        _second = new(new("stand-in-2"), "Stand-in", Role.Supervisor);

    private readonly SemaphoreSlim _one = new(1);
    private readonly ConcurrentDictionary<string, StandInRegister> _registers = [];
    private readonly ConcurrentDictionary<string, RegisterLink> _lines = [];
    private readonly ConcurrentDictionary<string, CountingDevice> _devices = [];

    public void Dispose() => _one.Dispose();

    public bool IsThere => options.IsDemo;

    /// <summary>The day that is being played, or was last.</summary>
    public PlayedDay? Played { get; private set; }

    /// <summary>The register as it stands there; null when the set-up names no such register with a drawer.</summary>
    public async Task<StandInRegister?> Register(string id)
    {
        await _one.WaitAsync();
        try
        {
            return _registers.TryGetValue(id, out var known) ? known : await Make(id);
        }
        finally
        {
            _one.Release();
        }
    }

    /// <summary>Takes a register away, so that the next use sets it up afresh: for the next drawer session.</summary>
    public void Forget(string id) => _registers.TryRemove(id, out _);

    /// <summary>The processor and the benefit host of all stand-in terminals.</summary>
    public TerminalHost Processor { get; } = new(clock, Path.Combine(options.StandIns, "terminals.json"));

    /// <summary>Plays a generated day; at its end the day's other files lie in the watched folder.</summary>
    public async Task Play(int seed, DateOnly date, int tickets, int faults, double speed)
    {
        Setup setup;
        await using (var scope = scopes.CreateAsyncScope())
        {
            setup = (await scope.ServiceProvider.GetRequiredService<SetupBook>().For(date))!.Setup;
        }

        var lines = new Dictionary<string, RegisterLink>();
        foreach (var register in setup.Registers)
        {
            lines[register.Id.Value] = await LineOf(register.Id.Value);
        }

        var played = Played = new PlayedDay(seed, date, tickets, faults, (int)(CardRate(setup) * 1000));
        _ = Task.Run(async () =>
        {
            try
            {
                await played.Play(lines, Processor, Automatic(setup, date), speed, CancellationToken.None);
                PutIntoInbox(played, date);
            }
            catch (IOException e)
            {
                log.LogWarning("The played day's files could not be put into the inbox: {Why}", e.Message);
            }
        });
    }

    /// <summary>A stand-in machine, with its own key.</summary>
    public async Task<CountingDevice> Device(string name)
    {
        await _one.WaitAsync();
        try
        {
            if (!_devices.TryGetValue(name, out var device))
            {
                await using var scope = scopes.CreateAsyncScope();
                var (key, _) = await scope.ServiceProvider.GetRequiredService<RegisterKeys>().Make(MachineDesk.KeyOf(name), _by, _second);
                device = _devices[name] = new(name, Reach, key!, clock);
            }

            return device;
        }
        finally
        {
            _one.Release();
        }
    }

    private void PutIntoInbox(PlayedDay played, DateOnly date)
    {
        Directory.CreateDirectory(options.Inbox);
        var path = Path.Combine(options.Inbox, $"day-{date:yyyy-MM-dd}.zip");
        using (var zip = new ZipArchive(File.Create(path + ".part"), ZipArchiveMode.Create))
        {
            // Batches come from the terminals themselves, when they settle.
            foreach (var (name, text) in played.Files.Where(f => f.Key is not ("batches.csv" or "batch-totals.csv")))
            {
                using var writer = new StreamWriter(zip.CreateEntry(name).Open());
                writer.Write(text);
            }
        }

        File.Move(path + ".part", path, overwrite: true);
    }

    private async Task<StandInRegister?> Make(string id)
    {
        await using var scope = scopes.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
        if (await scope.ServiceProvider.GetRequiredService<SetupBook>().Now() is not { Setup: var setup }
            || setup.Find(new Core.Journal.RegisterId(id)) is not { Kind: not RegisterKind.Online } register)
        {
            return null;
        }

        // What it could not send before it was last switched off goes first.
        var line = await LineOf(id);
        await line.Flush();

        // What a register remembers by itself: its numbering and its drawer sessions.
        var day = setup.TradingDay.Date;
        var last = await db.Events.Where(e => e.Register == id).MaxAsync(e => e.Number) ?? 0;
        var sessions = await db.Events.Where(e => e.Day == day && e.Register == id && e.Drawer != null).GroupBy(e => e.Drawer!)
            .Select(g => new
            {
                Drawer = g.Key,
                Cashier = g.Max(e => e.Cashier),
                Closed = g.Any(e =>
                e.Kind == Core.Journal.EventKind.Close)
            }).ToListAsync();
        var open = sessions.FirstOrDefault(s => !s.Closed);
        var drawer = open?.Drawer ?? Enumerable.Range(0, 26).Select(n => $"{id}-{(char)('A' + n)}")
            .First(d => sessions.All(s => s.Drawer != d));
        var terminal = setup.Terminals.FirstOrDefault(t => t.Register == register.Id)?.Terminal.Value ?? $"T-{id}";
        var made = new StandInRegister(
            id, register.Name, drawer, open?.Cashier ?? setup.People.FirstOrDefault(p => p.Role == Role.Cashier)?.Id.Value ?? "p01", last,
            new CardReader(terminal, Processor, clock), line, clock,
            setup.TimeZone.GetUtcOffset(clock.GetUtcNow()), open is not null);
        made.CardRate = CardRate(setup);
        return _registers[id] = made;
    }

    /// <summary>When the terminals that settle by themselves do so on that date.</summary>
    public static IEnumerable<(string Terminal, DateTimeOffset At)> Automatic(Setup setup, DateOnly date) =>
        setup.Terminals.Where(t => t is { IsConnected: true, SettlesAt: not null }).DistinctBy(t => t.Terminal).Select(t =>
    {
        var local = date.ToDateTime(t.SettlesAt!.Value);
        return (t.Terminal.Value, new DateTimeOffset(local, setup.TimeZone.GetUtcOffset(local)));
    });

    /// <summary>What credit cards pay more, by the set-up.</summary>
    private static decimal CardRate(Setup setup) =>
        setup.Policy.PriceProgramme is var programme && programme.AsksFee(Core.Journal.TenderId.Credit) ? programme.Rate : 0;

    private async Task<RegisterLink> LineOf(string register)
    {
        if (!_lines.TryGetValue(register, out var line))
        {
            await using var scope = scopes.CreateAsyncScope();
            var (key, _) = await scope.ServiceProvider.GetRequiredService<RegisterKeys>().Make(register, _by, _second);
            Directory.CreateDirectory(options.StandIns);
            line = _lines[register] = new(Reach(), register, key!, Path.Combine(options.StandIns, $"{register}.jsonl"));
        }

        return line;
    }

    /// <summary>A client that reaches this application at its own address.</summary>
    internal HttpClient Reach()
    {
        var client = clients.CreateClient(Client);
        client.BaseAddress ??= new Uri(server.Features.Get<IServerAddressesFeature>()?.Addresses.FirstOrDefault()?.Replace("[::]",
            "127.0.0.1", StringComparison.Ordinal) ?? "http://localhost/");
        return client;
    }
}
