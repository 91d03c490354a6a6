using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using System.Text.RegularExpressions;
using Fondo.Core.SetUp;
using Fondo.Store.Intake;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Bench;

/// <summary>Eight people and eight registers at work on one day at once, over a real socket: how long each act takes while all of them
/// write. A person rests as long as a quick hand would; a register sends what it rang.</summary>
internal static class TurnsBench
{
    public const int UsualSeconds = 60;

    private const string Day = "/2026-11-21",
        RowsHead = "terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n";

    private static readonly (string Who, string Pin)[] _people = [("p01", "2580"), ("p02", "7410")];

    private static readonly string[] _registers = ["L1", "L2", "L3", "L4", "SA", "SB", "GY", "BK"];

    private static readonly TimeSpan _rest = TimeSpan.FromMilliseconds(700), _ringing = TimeSpan.FromMilliseconds(900),
        _arriving = TimeSpan.FromSeconds(1);

    public static async Task<int> Run(TextWriter to, int seconds)
    {
        var folder = Directory.CreateTempSubdirectory("fondo-bench-");
        try
        {
            await using var shop = new BenchShop(folder.FullName);
            shop.UseKestrel(0);
            shop.StartServer();
            var (times, faults) = (new ConcurrentDictionary<string, ConcurrentBag<double>>(), new ConcurrentBag<string>());
            var keys = new Dictionary<string, string>();
            foreach (var register in _registers)
            {
                using var scope = shop.Services.CreateScope();
                var (key, _) = await scope.ServiceProvider.GetRequiredService<RegisterKeys>().Make(register,
                    new(new("p01"), "Odile Marchetti", Role.Supervisor), new(new("p02"), "Tamsin Okafor", Role.Manager));
                keys[register] = key!;
            }

            // A server that has run for a while: what it does first, it compiles first.
            await Person(shop, new([], []), 0, CancellationToken.None);
            var clock = new Clock(times, faults);
            using var stop = new CancellationTokenSource(TimeSpan.FromSeconds(seconds));
            await Task.WhenAll([
                .. Enumerable.Range(0, _registers.Length).Select(async n =>
                {
                    await Task.Delay(_arriving * n);
                    await Again(() => Person(shop, clock, n, stop.Token), stop.Token);
                }),
                .. _registers.Select(r => Again(() => Register(shop, clock, r, keys[r], stop.Token), stop.Token)),
            ]);
            foreach (var (act, taken) in times.OrderBy(t => t.Key, StringComparer.Ordinal))
            {
                var sorted = taken.Order().ToList();
                to.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"{act,-28} {sorted.Count,5} times: median {sorted[sorted.Count / 2],6:0} ms, p95 "
                        + $"{sorted[(int)(sorted.Count * 0.95)],6:0} ms, slowest {sorted[^1],6:0} ms"));
            }

            to.WriteLine($"{faults.Count} answers of 500 and above{string.Concat(faults.Distinct().Take(5).Select(f => $"\n  {f}"))}");
            return faults.IsEmpty ? 0 : 1;
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private static async Task Again(Func<Task> work, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            try
            {
                await Task.Run(work, CancellationToken.None);
            }
            catch (OperationCanceledException) when (stop.IsCancellationRequested)
            {
                return;
            }
        }
    }

    /// <summary>One evening's round of a person: signs in, looks, counts, explains, takes a file in, looks again, and signs out.</summary>
    private static async Task Person(BenchShop shop, Clock clock, int number, CancellationToken stop)
    {
        using var client = new HttpClient(new SocketsHttpHandler { AllowAutoRedirect = false, CookieContainer = new() })
        {
            BaseAddress = shop.ClientOptions.BaseAddress
        };
        var (who, pin) = _people[number % _people.Length];
        var drawer = $"{_registers[number]}-A";
        var cell = $"{Day}/cell/{_registers[number]}/{drawer}/cash";
        await Post("sign in", "/sign-in", "/sign-in", new() { ["Who"] = who, ["Pin"] = pin });
        await Get("board", $"{Day}/board");
        await Get("cell", cell);
        var count = await Get("count sheet", $"{Day}/count/{drawer}");
        if (Field(count, "attempt") is { } attempt)
        {
            await Post("count", $"{Day}/count/{drawer}", $"{Day}/count/{drawer}", new()
            {
                ["form"] = Field(count, "form") ?? "",
                ["attempt"] = attempt,
                ["kind"] = Field(count, "kind") ?? "",
                ["p2000"] = $"{Random.Shared.Next(40)}",
                ["reason"] = "counted again",
            });
        }

        await Post("entry", $"{cell}?handler=Entry", cell, new()
        {
            ["Id"] = Guid.NewGuid().ToString(),
            ["Kind"] = "Record",
            ["Moved"] = "PaidIn",
            ["Amount"] = "0.01",
            ["Reason"] = "a cent that was found",
        });
        await Get("watch", $"{Day}/watch");
        await Upload();
        await Get("close page", $"{Day}/close");
        await Get("board", $"{Day}/board");

        async Task<string> Get(string act, string path)
        {
            await Task.Delay(_rest, stop);
            return await clock.Time(act, () => client.GetAsync(path, CancellationToken.None));
        }

        async Task Post(string act, string path, string from, Dictionary<string, string> fields)
        {
            fields["__RequestVerificationToken"] = BenchShop.TokenOf(await Get($"{act}: its form", from));
            await Task.Delay(_rest, stop);
            await clock.Time(act, () => client.PostAsync(path, new FormUrlEncodedContent(fields), CancellationToken.None));
        }

        // Rows of a terminal whose cells were judged: what they change is worked out and weighed.
        async Task Upload()
        {
            var token = BenchShop.TokenOf(await Get("file: its form", $"{Day}/take-in"));
            var id = Random.Shared.Next(1, 999_999);
            var row =
                $"T-0{number + 1},{900 + number},{id},2026-11-21T18:00:00-05:00,sale,0.05,,,heron,1234,{id:000000},{id:000000},chip,\n";
            using var form = new MultipartFormDataContent
            {
                { new StringContent(token), "__RequestVerificationToken" },
                { new ByteArrayContent(Encoding.UTF8.GetBytes(RowsHead + row)), "files", "batches.csv" },
            };
            await Task.Delay(_rest, stop);
            await clock.Time("file taken in", () => client.PostAsync($"/take-in/files?day={Day[1..]}", form, CancellationToken.None));
        }
    }

    /// <summary>A part of what a register rang.</summary>
    private static async Task Register(BenchShop shop, Clock clock, string register, string key, CancellationToken stop)
    {
        using var client = new HttpClient { BaseAddress = shop.ClientOptions.BaseAddress };
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", key);
        for (var number = 700_001; !stop.IsCancellationRequested; number += 5)
        {
            await Task.Delay(_ringing, stop);
            var lines = string.Concat(Enumerable.Range(number, 5).Select(n =>
                $$"""{"id":"{{register}}-{{n}}","register":"{{register}}","drawer":"{{register}}-A","cashier":"p13","at":"2026-11-21T12:00:00-05:00","kind":"sale","lines":[],"subtotal":"4.00","tax":"0.00","total":"4.00","tenders":[{"type":"cash","amount":"4.00"}]}"""
                    + "\n"));
            await clock.Time("part of a register", () => client.PostAsync($"/api/registers/{register}/journal",
                new StringContent(lines, Encoding.UTF8, "application/jsonl"), CancellationToken.None));
        }
    }

    private static string? Field(string page, string name) =>
        Regex.Match(page, $"name=\"{name}\"[^>]*value=\"([^\"]*)\"") is { Success: true } m ? m.Groups[1].Value : null;

    /// <summary>Takes the time of acts, and keeps what the server could not do.</summary>
    private sealed class Clock(ConcurrentDictionary<string, ConcurrentBag<double>> times, ConcurrentBag<string> faults)
    {
        public async Task<string> Time(string act, Func<Task<HttpResponseMessage>> send)
        {
            var began = Stopwatch.GetTimestamp();
            using var answer = await send();
            var text = await answer.Content.ReadAsStringAsync();
            var isRefused = answer is { StatusCode: System.Net.HttpStatusCode.OK, RequestMessage.Method.Method: "POST" }
                && answer.Content.Headers.ContentType?.MediaType == "text/html";
            times.GetOrAdd(isRefused ? $"{act}, refused" : act, _ => []).Add(Stopwatch.GetElapsedTime(began).TotalMilliseconds);
            if ((int)answer.StatusCode >= 500)
            {
                faults.Add($"{act}: {(int)answer.StatusCode}");
            }

            return text;
        }
    }
}
