using System.Net;
using System.Net.Http.Json;
using System.Text;
using AngleSharp;
using AngleSharp.Dom;
using Fondo.Core.SetUp;
using Fondo.Standins.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Fondo.Store.Settling;
using Fondo.Web.Hosting;
using Fondo.Web.Intake;
using Fondo.Web.Settling;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.ModelBinding;
using Microsoft.AspNetCore.Mvc.ModelBinding.Metadata;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.DependencyInjection.Extensions;
using Microsoft.Extensions.Time.Testing;

namespace Fondo.Web.Tests;

/// <summary>The application in process, with the demo day or empty, on a throw-away folder.</summary>
public sealed class Shop : WebApplicationFactory<DemoParts>, IAsyncLifetime
{
    /// <summary>Without the demo: nobody can sign in, and no day is there.</summary>
    public bool IsEmpty { get; init; }

    /// <summary>How many weeks of closed days lie behind the demo day.</summary>
    public int Weeks { get; init; }

    /// <summary>So long a page waits for what goes on in the background: until it is done, unless a test looks at what comes
    /// before.</summary>
    public TimeSpan PageWait { get; init; } = TimeSpan.FromMinutes(2);

    public const string Day = "/2026-11-21";

    public static readonly Person Odile = new(new("p01"), "Odile Marchetti", Role.Supervisor),
        Tamsin = new(new("p02"), "Tamsin Okafor", Role.Manager);

    public static readonly MadeDay Made = DayMaker.Make(21);

    /// <summary>How many cells of the demo day are off.</summary>
    public static readonly int Off = Made.Troubles.SelectMany(t => t.Cells).Distinct().Count();

    /// <summary>What is known of the models of pages by their types, the same for all shops: to find it out is a seventh of a
    /// start.</summary>
    private static IModelMetadataProvider? _knownModels;

    private bool _isTemplate;

    public string Folder { get; } = Directory.CreateTempSubdirectory("fondo-web-").FullName;

    public FakeTimeProvider Clock { get; } = new(new DateTimeOffset(2026, 11, 21, 21, 42, 0, TimeSpan.FromHours(-5)));

    public Commands Sent { get; } = new();

    public FullDisk Disk { get; } = new();

    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        if (!_isTemplate && !File.Exists(Path.Combine(Folder, "fondo.db")))
        {
            Begun.As(IsEmpty, Weeks, Folder);
        }

        builder.UseEnvironment("Development");
        builder.UseSetting("data", Folder);
        builder.UseSetting("demo", IsEmpty ? "false" : "true");
        builder.UseSetting("quiet", "true");
        builder.UseSetting("rounds", "3600");
        builder.UseSetting("page-wait", $"{PageWait.TotalSeconds}");
        builder.UseSetting("weeks", $"{Weeks}");
        builder.ConfigureServices(services =>
        {
            services.Replace(ServiceDescriptor.Singleton<TimeProvider>(Clock));
            // a hundred times as quick as what keeps PINs in a store
            services.Configure<PasswordHasherOptions>(o => o.IterationCount = 1_000);
            services.Replace(ServiceDescriptor.Singleton<IModelMetadataProvider>(s =>
                _knownModels ??= s.GetRequiredService<DefaultModelMetadataProvider>())).AddSingleton<DefaultModelMetadataProvider>();
            services.AddSingleton<IStartupFilter, FromAnAddress>();
            services.AddHttpClient(StandInHost.Client).ConfigurePrimaryHttpMessageHandler(() => Server.CreateHandler());
            services.ConfigureDbContext<StoreContext>(o => o.AddInterceptors(Sent, Disk));
        });
    }

    protected override void Dispose(bool disposing)
    {
        base.Dispose(disposing);
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        for (var tries = 0; Directory.Exists(Folder); tries++)
        {
            try
            {
                Directory.Delete(Folder, recursive: true);
            }
            catch (IOException) when (tries < 20)
            {
                Thread.Sleep(50); // what works in the background puts its last things down
            }
        }
    }

    /// <summary>A data folder as a first start leaves it, made once for all shops that begin alike.</summary>
    private static class Begun
    {
        private static readonly System.Collections.Concurrent.ConcurrentDictionary<(bool IsEmpty, int Weeks), Lazy<string>> _folders =
            new();

        public static void As(bool isEmpty, int weeks, string folder)
        {
            var begun = _folders.GetOrAdd((isEmpty, weeks), k => new(() => Make(k.IsEmpty, k.Weeks))).Value;
            foreach (var file in Directory.EnumerateFiles(begun, "*", SearchOption.AllDirectories))
            {
                var to = Path.Combine(folder, Path.GetRelativePath(begun, file));
                Directory.CreateDirectory(Path.GetDirectoryName(to)!);
                File.Copy(file, to);
            }
        }

        private static string Make(bool isEmpty, int weeks)
        {
            var kept = Directory.CreateTempSubdirectory("fondo-web-begun-").FullName;
            AppDomain.CurrentDomain.ProcessExit += (_, _) => Directory.Delete(kept, recursive: true);
            using var shop = new Shop { IsEmpty = isEmpty, Weeks = weeks, _isTemplate = true };
            shop.StartServer();
            using (var scope = shop.Services.CreateScope())
            {
                scope.ServiceProvider.GetRequiredService<StoreContext>().Database
                    .ExecuteSql($"VACUUM INTO {Path.Combine(kept, "fondo.db")}");
            }

            if (Path.Combine(shop.Folder, "stand-ins") is var standIns && Directory.Exists(standIns))
            {
                foreach (var file in Directory.EnumerateFiles(standIns))
                {
                    Directory.CreateDirectory(Path.Combine(kept, "stand-ins"));
                    File.Copy(file, Path.Combine(kept, "stand-ins", Path.GetFileName(file)));
                }
            }

            return kept;
        }
    }

    /// <summary>The factory starts its server at the first asking, without a lock: so the first asking is here, alone.</summary>
    public ValueTask InitializeAsync()
    {
        StartServer();
        return ValueTask.CompletedTask;
    }

    public Visitor Visit(string? address = null)
    {
        var client = CreateClient(new() { AllowAutoRedirect = false });
        if (address is not null)
        {
            client.DefaultRequestHeaders.Add("Test-Address", address);
        }

        return new(client);
    }

    public async Task<Visitor> SignedIn(string who = "p01", string pin = "2580")
    {
        var visitor = Visit();
        var answer = await visitor.Post("/sign-in", new() { ["Who"] = who, ["Pin"] = pin });
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return visitor;
    }

    /// <summary>An empty store's first two people; the first one is signed in.</summary>
    public async Task<Visitor> Opened()
    {
        await Visit().Post("/set-up", FirstPeople(Services.GetRequiredService<SetUpCode>().Value));
        return await SignedIn();
    }

    public Task<Visitor> Manager() => SignedIn("p02", "7410");

    public Task<Visitor> Cashier() => SignedIn("p15", "1590");

    public Task<T> InStore<T>(Func<StoreContext, Task<T>> ask) => Ask(ask);

    /// <summary>Changes what no door lets anybody change, as somebody could who has the file of the database in hands.</summary>
    public Task<T> Tamper<T>(Func<StoreContext, Task<T>> change) => Ask(async (StoreContext db) =>
    {
        foreach (var trigger in await db.Database.SqlQuery<string>($"SELECT name AS Value FROM sqlite_master WHERE type = 'trigger'")
            .ToListAsync())
        {
            var drop = $"DROP TRIGGER \"{trigger}\"";
            await db.Database.ExecuteSqlRawAsync(drop);
        }

        return await change(db);
    });

    /// <summary>What names the first two people on the first start.</summary>
    public static Dictionary<string, string> FirstPeople(string code, string pin = "2580", string secondPin = "7410") => new()
    {
        ["Code"] = code,
        ["People[0].Name"] = "Odile Marchetti",
        ["People[0].Id"] = "p01",
        ["People[0].Pin"] = pin,
        ["People[1].Name"] = "Tamsin Okafor",
        ["People[1].Id"] = "p02",
        ["People[1].Pin"] = secondPin,
    };

    /// <summary>Asks a service of the application, in a scope of its own.</summary>
    public async Task<T> Ask<TService, T>(Func<TService, Task<T>> ask)
        where TService : notnull
    {
        using var scope = Services.CreateScope();
        return await ask(scope.ServiceProvider.GetRequiredService<TService>());
    }

    /// <summary>The set-up that holds now.</summary>
    public async Task<Setup> SetUp() => (await Ask<SetupBook, HeldSetup?>(b => b.Now()))!.Setup;

    /// <summary>Another set-up from a day on; what it loosens is approved.</summary>
    public async Task SetUpFrom(DateOnly from, string json)
    {
        var saved = await Ask<SetupBook, Fondo.Store.Outcome<SetupSaved>>(b => b.Save(from, json, Odile));
        Assert.True(saved.IsDone, saved.Objection);
        if (saved.Value!.Loosens.Count > 0)
        {
            var id = await InStore(db => db.Setups.MaxAsync(s => s.Id));
            Assert.Null((await Ask<SetupBook, Store.Outcome>(b => b.Approve(id, Tamsin))).Objection);
        }
    }

    /// <summary>Settles what a terminal of the stand-in holds, whether the page would offer it or not.</summary>
    public async Task SettleWhatIsHeld(DateOnly day, string terminal)
    {
        var (key, held) = (Guid.NewGuid(), Services.GetRequiredService<StandInHost>().Processor.Running(terminal).Rows);
        var orders = Services.GetRequiredService<SettlementOrders>();
        orders.Expect(key);
        var lookedAt = Clock.GetUtcNow() + TimeSpan.FromTicks(1);
        var begun = await Ask<SettlementDesk, SettlementBegun>(d => d.Begin(day, terminal, key, Odile, lookedAt));
        if (begun.IsNew)
        {
            await orders.Send(key, new(terminal, Agrees: true, held.Count, held.Sum(r => r.IsRefund ? -r.Amount : r.Amount)));
        }
    }

    /// <summary>A key, made by two.</summary>
    public async Task<string> KeyOf(string holder) =>
        (await Ask<RegisterKeys, Fondo.Store.Outcome<string>>(k => k.Make(holder, Odile, Tamsin))).Value!;

    /// <summary>A register with a key of its own.</summary>
    public async Task<HttpClient> Register(string register)
    {
        var client = CreateClient();
        client.DefaultRequestHeaders.Authorization = new("Bearer", await KeyOf(register));
        return client;
    }

    /// <summary>Sends a part of a register's journal, and is answered.</summary>
    public static async Task<PartAnswer> Send(HttpClient client, string register, params string[] lines)
    {
        using var answer = await client.PostAsync($"/api/registers/{register}/journal",
            new StringContent(string.Join('\n', lines), Encoding.UTF8, "application/jsonl"));
        Assert.True(answer.StatusCode == HttpStatusCode.OK, $"{answer.StatusCode}: {await answer.Content.ReadAsStringAsync()}");
        return (await answer.Content.ReadFromJsonAsync<PartAnswer>())!;
    }

    /// <summary>A request that names an address comes from there; all others from the machine itself.</summary>
    private sealed class FromAnAddress : IStartupFilter
    {
        public Action<IApplicationBuilder> Configure(Action<IApplicationBuilder> next) => app =>
        {
            app.Use(async (context, then) =>
            {
                if (context.Request.Headers.TryGetValue("Test-Address", out var address))
                {
                    context.Connection.RemoteIpAddress = IPAddress.Parse(address!);
                }

                await then(context);
            });
            next(app);
        };
    }

    /// <summary>As if the disk had no room left: the database may not grow any more.</summary>
    public sealed class FullDisk : DbConnectionInterceptor, IDbCommandInterceptor
    {
        public bool IsFull { get; set; }

        /// <summary>Not one byte more can be written, not even into a page that the database has.</summary>
        public bool HasNoByteLeft { get; set; }

        public ValueTask<InterceptionResult<System.Data.Common.DbDataReader>> ReaderExecutingAsync(
            System.Data.Common.DbCommand command, CommandEventData eventData, InterceptionResult<System.Data.Common.DbDataReader> result,
            CancellationToken cancellationToken = default)
        {
            Look(command);
            return ValueTask.FromResult(result);
        }

        public ValueTask<InterceptionResult<int>> NonQueryExecutingAsync(
            System.Data.Common.DbCommand command, CommandEventData eventData, InterceptionResult<int> result,
            CancellationToken cancellationToken = default)
        {
            Look(command);
            return ValueTask.FromResult(result);
        }

        private void Look(System.Data.Common.DbCommand command)
        {
            if (HasNoByteLeft && (command.CommandText.Contains("INSERT INTO", StringComparison.Ordinal)
                || command.CommandText.TrimStart().StartsWith("UPDATE", StringComparison.Ordinal)
                || command.CommandText.TrimStart().StartsWith("DELETE", StringComparison.Ordinal)))
            {
                throw new Microsoft.Data.Sqlite.SqliteException("database or disk is full", 13);
            }
        }

        public override async Task ConnectionOpenedAsync(System.Data.Common.DbConnection connection, ConnectionEndEventData eventData,
            CancellationToken cancellationToken = default)
        {
            await using var command = connection.CreateCommand();
            command.CommandText = $"PRAGMA max_page_count = {(IsFull ? 1 : int.MaxValue)}";
            await command.ExecuteNonQueryAsync(cancellationToken);
        }
    }

    /// <summary>How many commands went to the database.</summary>
    public sealed class Commands : DbCommandInterceptor
    {
        private int _number;

        public int Number => _number;

        public override ValueTask<InterceptionResult<System.Data.Common.DbDataReader>> ReaderExecutingAsync(
            System.Data.Common.DbCommand command, CommandEventData eventData, InterceptionResult<System.Data.Common.DbDataReader> result,
            CancellationToken cancellationToken = default)
        {
            Interlocked.Increment(ref _number);
            return base.ReaderExecutingAsync(command, eventData, result, cancellationToken);
        }
    }
}

/// <summary>A browser without a screen: keeps cookies, sends the antiforgery token that the page gave it.</summary>
public sealed class Visitor(HttpClient client)
{
    private static readonly IBrowsingContext _parser = BrowsingContext.New(Configuration.Default);

    public HttpClient Client => client;

    public Task<HttpResponseMessage> Get(string path) => client.GetAsync(path);

    public async Task<IDocument> Page(string path)
    {
        using var answer = await client.GetAsync(path);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return await Read(answer);
    }

    public static async Task<IDocument> Read(HttpResponseMessage answer)
    {
        var html = await answer.Content.ReadAsStringAsync();
        return await _parser.OpenAsync(r => r.Content(html));
    }

    /// <summary>Posts a form as the page at <paramref name="from"/> would.</summary>
    public async Task<HttpResponseMessage> Post(string path, Dictionary<string, string> fields, string? from = null)
    {
        fields["__RequestVerificationToken"] = await Token(from ?? path.Split('?')[0]);
        return await client.PostAsync(path, new FormUrlEncodedContent(fields));
    }

    public async Task<IDocument> PostForPage(string path, Dictionary<string, string> fields, string? from = null)
    {
        using var answer = await Post(path, fields, from);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return await Read(answer);
    }

    /// <summary>Another person agrees to every upload that waits.</summary>
    public async Task AgreeToFiles(string who = "p02", string pin = "7410")
    {
        foreach (var id in (await Page("/take-in")).QuerySelectorAll("form[action*='handler=Held'] input[name=id]")
            .Select(i => i.GetAttribute("value")!).ToList())
        {
            using var answer =
                await Post("/take-in?handler=Held", new() { ["id"] = id, ["how"] = "agree", ["who"] = who, ["pin"] = pin }, "/take-in");
        }
    }

    /// <summary>Sends files as the form at <paramref name="path"/> does, and reads the page that says what became of them.</summary>
    public async Task<IDocument> Upload(string path, params (string Name, byte[] Bytes)[] files)
    {
        using var form = new MultipartFormDataContent { { new StringContent(await Token(path)), "__RequestVerificationToken" } };
        foreach (var (name, bytes) in files)
        {
            form.Add(new ByteArrayContent(bytes), "files", name);
        }

        var day = path.Split('/')[1];
        using var answer = await client.PostAsync($"/take-in/files{(day == "take-in" ? "" : $"?day={day}")}", form);
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return await Page(answer.Headers.Location!.ToString());
    }

    public async Task<string> Token(string path)
    {
        using var answer = await client.GetAsync(path);
        return (await Read(answer)).QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
    }
}
