using System.Collections.Concurrent;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Fondo.Standins.Days;

namespace Fondo.Soak;

/// <summary>What several clients do at once, and what of it was answered as done.</summary>
internal sealed class Evening(Server server, int seed)
{
    public static readonly DateOnly Today = new(2026, 11, 21);

    private const string Supervisor = "p01", Pin = "258036", SecondPin = "741052";

    private readonly IReadOnlyList<(DateOnly Date, MadeDay Day)> _history = DayMaker.MakeHistory(seed, 60);
    private readonly Lock _one = new();
    private readonly ConcurrentDictionary<string, Browser> _browsers = [];
    private readonly Dictionary<string, string> _keys = [];
    private readonly Dictionary<string, int> _numbers = [];
    private int _folders, _counts;

    /// <summary>The ids of events that a register was told are taken, or known.</summary>
    public HashSet<string> Events { get; } = [];

    /// <summary>The forms of counts, entries and openings that led on.</summary>
    public HashSet<Guid> Counts { get; } = [];

    public HashSet<Guid> Entries { get; } = [];

    /// <summary>Days that were said to be taken in whole, and those said to be closed.</summary>
    public HashSet<DateOnly> TakenIn { get; } = [];

    public HashSet<DateOnly> Closed { get; } = [];

    /// <summary>Two people, the first day, two registers with keys, one drawer that is off.</summary>
    public async Task Begin()
    {
        using var browser = new Browser(server.Port);
        await browser.Post("/set-up", "/set-up", new()
        {
            ["Code"] = server.Code!,
            ["People[0].Name"] = "Odile Marchetti",
            ["People[0].Id"] = Supervisor,
            ["People[0].Pin"] = Pin,
            ["People[1].Name"] = "Tamsin Okafor",
            ["People[1].Id"] = "p02",
            ["People[1].Pin"] = SecondPin,
        });
        await browser.SignIn(Supervisor, Pin);
        await TakeInAndClose(browser);
        foreach (var register in new[] { "L1", "L2" })
        {
            await browser.Post("/store?handler=Key", "/store",
                new() { ["register"] = register, ["second"] = "p02", ["second-pin"] = SecondPin });
            _keys[register] = Regex.Match(await browser.Get("/store"), "<code>([a-z]{20,})</code>").Groups[1].Value;
        }

        await Send("L1", ("open", ",\"amount\":\"200.00\""), ("sale", Sale));
        await Send("L2", ("open", ",\"amount\":\"200.00\""), ("sale", Sale), ("close", ""));
        for (var attempt = 1; attempt <= 2; attempt++)
        {
            await Count(browser, "L2-S");
        }
    }

    /// <summary>All of them, until the server is gone.</summary>
    public async Task Work(int round, CancellationToken stop)
    {
        var random = new Random(HashCode.Combine(seed, round));
        await Task.WhenAll(
            Again(() => Send("L1", [.. Enumerable.Range(0, random.Next(1, 60)).Select(_ => ("sale", Sale))]), stop),
            Again(() => Send("L2", [("no-sale", "")]), stop),
            AsPerson("count", b => Count(b, "L1-S"), stop),
            AsPerson("enter", Enter, stop),
            AsPerson("close", TakeInAndClose, stop));
    }

    private static async Task Again(Func<Task> work, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            try
            {
                await work();
            }
            catch (Exception e) when (e is HttpRequestException or TaskCanceledException or IOException)
            {
                // Not answered: whether it was done nobody knows, and it is done again.
                await Task.Delay(30, CancellationToken.None);
            }
        }
    }

    /// <summary>A session outlives the server: one signs in again only when it has ended.</summary>
    private Task AsPerson(string what, Func<Browser, Task> work, CancellationToken stop) => Again(async () =>
    {
        if (!_browsers.TryGetValue(what, out var browser))
        {
            browser = new Browser(server.Port);
            await browser.SignIn(Supervisor, Pin);
            _browsers[what] = browser;
        }

        try
        {
            await work(browser);
        }
        catch (HttpRequestException e) when (e.Message.EndsWith(" 302", StringComparison.Ordinal))
        {
            _browsers.TryRemove(what, out _);
        }
    }, stop);

    private const string Sale =
        ",\"lines\":[{\"sku\":\"1\",\"name\":\"Bread and "
            + "eggs\",\"qty\":\"1\",\"amount\":\"4.00\",\"tax\":\"0.00\",\"taxRate\":\"0\",\"ebt\":true}],\"subtotal\":\"4.00\",\"discount\":\"0.00\",\"tax\":\"0.00\",\"fee\":\"0.00\",\"rounding\":\"0.00\",\"total\":\"4.00\",\"tenders\":[{\"type\":\"cash\",\"amount\":\"4.00\"}]";

    /// <summary>A part with the register's next numbers. What was not answered is sent again with the next one.</summary>
    private async Task Send(string register, params (string Kind, string More)[] events)
    {
        var ids = new List<string>();
        var lines = new StringBuilder();
        foreach (var (kind, more) in events)
        {
            var number = _numbers[register] = _numbers.GetValueOrDefault(register) + 1;
            var at = new DateTimeOffset(Today, new(kind == "close" ? 20 : 9, 0), TimeSpan.FromHours(-5))
                .AddSeconds(kind == "close" ? 0 : number % 36_000);
            ids.Add($"{register}-S{number:000000}");
            lines.Append(CultureInfo.InvariantCulture,
                $"{{\"id\":\"{ids[^1]}\",\"register\":\"{register}\",\"drawer\":\"{register}-S\",\"cashier\":\"p11\",\"at\":\""
                    + $"{at:yyyy-MM-dd'T'HH:mm:sszzz}\",\"kind\":\"{kind}\"{more}}}\n");
        }

        using var client = new HttpClient { Timeout = TimeSpan.FromSeconds(60) };
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", _keys[register]);
        for (var tries = 0; ; tries++)
        {
            using var part = new StringContent(lines.ToString(), Encoding.UTF8, "application/jsonl");
            using var answer = await client.PostAsync($"http://127.0.0.1:{server.Port}/api/registers/{register}/journal", part);
            if (answer.StatusCode == HttpStatusCode.OK)
            {
                var said = JsonNode.Parse(await answer.Content.ReadAsStringAsync())!;
                if ((int)said["taken"]! + (int)said["known"]! != ids.Count)
                {
                    throw new InvalidOperationException($"A part of {register} was not taken whole: {said}");
                }

                lock (_one)
                {
                    Events.UnionWith(ids);
                }

                return;
            }

            if (answer.StatusCode != HttpStatusCode.InsufficientStorage || tries == 20)
            {
                throw new HttpRequestException($"{(int)answer.StatusCode}");
            }

            await Task.Delay(200);
        }
    }

    private async Task Count(Browser browser, string drawer)
    {
        var path = $"/{Today:yyyy-MM-dd}/count/{drawer}";
        var page = await browser.Get(path);
        var form = Guid.Parse(Browser.Field(page, "form"));
        var fields = new Dictionary<string, string>
        {
            ["form"] = form.ToString(),
            ["attempt"] = Browser.Field(page, "attempt"),
            ["kind"] = Browser.Field(page, "kind"),
            ["p2000"] = $"{Interlocked.Increment(ref _counts) % 900}"
        };
        if (await browser.Post(path, path, fields) is not null)
        {
            lock (_one)
            {
                Counts.Add(form);
            }
        }
    }

    private async Task Enter(Browser browser)
    {
        var path = $"/{Today:yyyy-MM-dd}/cell/L2/L2-S/cash";
        var id = Guid.NewGuid();
        if (await browser.Post($"{path}?handler=Entry", path,
            new() { ["Id"] = id.ToString(), ["Kind"] = "Record", ["Amount"] = "0.01", ["Reason"] = "a cent that was found" }) is not null)
        {
            lock (_one)
            {
                Entries.Add(id);
            }
        }
    }

    /// <summary>A whole day as a zip, and its close.</summary>
    private async Task TakeInAndClose(Browser browser)
    {
        var next = _folders;
        if (next >= _history.Count)
        {
            await Task.Delay(200);
            return;
        }

        var (date, day) = _history[next];
        var page = await browser.Upload("/take-in", "day.zip", day.ToZip());
        foreach (Match held in Regex.Matches(page ?? "", "name=\"id\" value=\"([0-9a-f-]{36})\""))
        {
            // Counts of people who do not sign in here: the second person answers for them.
            await browser.Post("/take-in?handler=Held", "/take-in",
                new() { ["id"] = held.Groups[1].Value, ["how"] = "agree", ["who"] = "p02", ["pin"] = SecondPin });
            page = await browser.Upload("/take-in", "day.zip", day.ToZip());
        }

        if (page is null || !(page.Contains("Imported", StringComparison.Ordinal)
            || page.Contains("known already", StringComparison.Ordinal) || page.Contains("closed as number", StringComparison.Ordinal)))
        {
            return;
        }

        lock (_one)
        {
            TakenIn.Add(date);
        }

        var close = $"/{date:yyyy-MM-dd}/close";
        var isClosed = (await browser.Get(close)).Contains("The day is closed", StringComparison.Ordinal);
        if (isClosed || await browser.Post($"{close}?handler=Close", close, []) is not null)
        {
            lock (_one)
            {
                Closed.Add(date);
            }

            _folders = next + 1;
        }
    }
}
