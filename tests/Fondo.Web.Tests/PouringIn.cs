using System.Net;
using System.Text;
using System.Text.Json.Nodes;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Web.Intake;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Screens while much comes in, and files on their way.</summary>
public sealed class PouringIn : InOwnShop
{
    private static readonly DateOnly _day = new(2026, 11, 21);

    private static string Sale(string id, string amount, string register = "L2") =>
        $$"""{"id":"{{id}}","register":"{{register}}","drawer":"{{register}}-A","cashier":"p13","at":"2026-11-21T17:00:00-05:00","kind":"sale","lines":[],"subtotal":"{{amount}}","tax":"0.00","total":"{{amount}}","tenders":[{"type":"cash","amount":"{{amount}}"}]}""";

    private async Task Send(params string[] ids)
    {
        foreach (var id in ids)
        {
            using var scope = Shop.Services.CreateScope();
            Assert.Equal(1, (await scope.ServiceProvider.GetRequiredService<JournalIntake>()
                .TakePart(new MemoryStream(Encoding.UTF8.GetBytes(Sale(id, "1.00"))), "L2")).Taken);
        }
    }

    private static async Task<string> All(Visitor visitor) =>
        (await visitor.Page($"{Shop.Day}/watch")).QuerySelector("tfoot td.n")!.TextContent;

    [Fact]
    public async Task A_large_day_is_shown_as_of_a_moment_ago_but_never_without_what_a_person_did()
    {
        var visitor = await Shop.SignedIn();
        var before = await All(visitor);
        var cache = Shop.Services.GetRequiredService<DayCache>();
        // As if the day were so large that it takes a second to work out.
        cache.Keep(_day, cache.Find(_day)! with { Took = TimeSpan.FromSeconds(1) });
        await Send("L2-600001", "L2-600002");
        Assert.NotEqual(before, before = await All(visitor)); // a few parts are shown at once

        cache.Keep(_day, cache.Find(_day)! with { Took = TimeSpan.FromSeconds(1) });
        await Send("L2-600003", "L2-600004", "L2-600005", "L2-600006", "L2-600007");
        Assert.Equal(before, await All(visitor)); // it is worked out in the background meanwhile
        for (var tries = 0; tries < 100 && await All(visitor) == before; tries++)
        {
            await Task.Delay(50);
        }

        Assert.NotEqual(before, before = await All(visitor));
        Assert.Equal(HttpStatusCode.OK, (await visitor.Get($"{Shop.Day}/ticket/L2-600007")).StatusCode);

        cache.Keep(_day, cache.Find(_day)! with { Took = TimeSpan.FromSeconds(1) });
        await Send("L2-600008", "L2-600009", "L2-600010", "L2-600011", "L2-600012");
        Assert.Equal(HttpStatusCode.OK, (await visitor.Get($"{Shop.Day}/ticket/L2-600012")).StatusCode); // asked for by name, it is there
        cache.Keep(_day, cache.Find(_day)! with { Took = TimeSpan.FromSeconds(1) });
        await Send("L2-600013", "L2-600014", "L2-600015", "L2-600016", "L2-600017");
        Assert.Equal(HttpStatusCode.Redirect,
            (await visitor.Post($"{Shop.Day}/open/GY", new() { ["form"] = Guid.NewGuid().ToString(), ["accept"] = "true" })).StatusCode);
        Assert.Contains("GY-B", (await visitor.Page($"{Shop.Day}/open")).Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_contradicts_in_an_uploaded_journal_waits_for_a_person_and_the_rest_is_taken()
    {
        var visitor = await Shop.SignedIn();
        var page = await visitor.Upload($"{Shop.Day}/take-in",
            ("lane 2.jsonl", Encoding.UTF8.GetBytes(Sale("L2-610001", "4.00") + "\n" + Sale("L2-610002", "5.00"))));
        Assert.Contains("2 new records", page.QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
        page = await visitor.Upload($"{Shop.Day}/take-in",
            ("lane 2.jsonl", Encoding.UTF8.GetBytes(Sale("L2-610002", "50.00") + "\n" + Sale("L2-610003", "6.00"))));
        var notice = page.QuerySelector(".notice")!.TextContent;
        Assert.Contains("1 new record", notice, StringComparison.Ordinal);
        Assert.Contains("1 line contradicts earlier ones and waits for a person", notice, StringComparison.Ordinal);
        Assert.Contains("L2-610002", string.Join(" ", page.QuerySelectorAll(".slip").Select(s => s.TextContent)), StringComparison.Ordinal);
        Assert.Equal(5_00, await Shop.InStore(db => db.Events.Where(e => e.Key == "L2-610002").Select(e => e.Amount).SingleAsync()));
    }

    [Fact]
    public async Task On_a_full_disk_people_sign_in_and_read_and_it_is_noted_once_there_is_room()
    {
        var visitor = Shop.Visit();
        Shop.Disk.HasNoByteLeft = true;
        using (var wrong = await visitor.Post("/sign-in", new() { ["Who"] = "p01", ["Pin"] = "0000" }))
        {
            Assert.Contains("The disk is full: the next try is possible in 30 seconds.", await wrong.Content.ReadAsStringAsync(),
                StringComparison.Ordinal);
        }

        using (var soon = await visitor.Post("/sign-in", new() { ["Who"] = "p01", ["Pin"] = "2580" }))
        {
            Assert.Contains("only one PIN every 30 seconds", await soon.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }

        using (var right = await visitor.Post("/sign-in", new() { ["Who"] = "p15", ["Pin"] = "1590" }))
        {
            Assert.Equal(HttpStatusCode.Redirect, right.StatusCode);
        }

        Assert.Equal(HttpStatusCode.OK, (await visitor.Get($"{Shop.Day}/count")).StatusCode);
        Assert.Equal(0, await Shop.InStore(db => db.Sessions.CountAsync(s => s.Person == "p15")));

        Shop.Disk.HasNoByteLeft = false;
        Assert.Equal(HttpStatusCode.OK, (await visitor.Get($"{Shop.Day}/count")).StatusCode);
        Assert.Equal(1, await Shop.InStore(db => db.Sessions.CountAsync(s => s.Person == "p15")));
        Assert.Equal(1, await Shop.InStore(db => db.Trail.CountAsync(t => t.By == "p15" && t.Says.Contains("while the disk was full"))));

        // What ended while there was no room has ended.
        Shop.Disk.HasNoByteLeft = true;
        using var end = await visitor.Post("/sign-out", [], $"{Shop.Day}/count");
        Shop.Disk.HasNoByteLeft = false;
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.Get($"{Shop.Day}/count")).StatusCode);
        await Shop.SignedIn();
        Assert.Equal(0, await Shop.InStore(db => db.Sessions.CountAsync(s => s.Person == "p15")));
    }

    [Fact]
    public async Task On_a_full_disk_uploads_and_forms_say_so_and_work_goes_on_once_there_is_room()
    {
        var visitor = await Shop.SignedIn();
        var (path, token) = ($"{Shop.Day}/take-in", await visitor.Token($"{Shop.Day}/take-in"));
        var journal = Encoding.UTF8.GetBytes(string.Join('\n', Enumerable.Range(630_001, 600).Select(n => Sale($"L4-{n}", "1.00", "L4"))));
        var count = new Dictionary<string, string>
        {
            ["form"] = Guid.NewGuid().ToString(),
            ["attempt"] = "1",
            ["p2000"] = "5",
            ["__RequestVerificationToken"] = token
        };
        // Until the file is full to the last page, a small record may still find room.
        Shop.Disk.IsFull = true;
        try
        {
            var page = await visitor.Upload(path, ("lane 4.jsonl", journal));
            Assert.Contains("The disk is full. Nothing from these files was imported", page.QuerySelector("main")!.TextContent,
                StringComparison.Ordinal);
            Assert.Equal(0, await Shop.InStore(db => db.Events.CountAsync(e => e.Key.StartsWith("L4-63"))));
            HttpResponseMessage answer;
            var tries = 0;
            do
            {
                count["form"] = Guid.NewGuid().ToString();
                count["attempt"] = $"{++tries}";
                count["reason"] = new string('x', 450);
                answer = await visitor.Client.PostAsync($"{Shop.Day}/count/L4-A", new FormUrlEncodedContent(count));
            }
            while (answer.StatusCode == HttpStatusCode.Redirect && tries < 200);
            Assert.Equal(HttpStatusCode.InsufficientStorage, answer.StatusCode);
            Assert.Contains("The disk is full. Nothing was changed", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
            Assert.Equal(HttpStatusCode.OK, (await visitor.Get($"{Shop.Day}/board")).StatusCode); // what is there can be read
        }
        finally
        {
            Shop.Disk.IsFull = false;
        }

        Assert.Contains("600 new records", (await visitor.Upload(path, ("lane 4.jsonl", journal))).QuerySelector(".notice")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_upload_tells_how_far_it_has_come_and_nobody_once_it_is_over()
    {
        var uploads = Shop.Services.GetRequiredService<Uploads>();
        var visitor = await Shop.SignedIn();
        var upload = Guid.NewGuid();
        using var gate = new SemaphoreSlim(0);
        using var slow = new SlowStream(
            Encoding.UTF8.GetBytes(string.Join('\n', Enumerable.Range(620_001, 3_000).Select(n => Sale($"L4-{n}", "1.00", "L4")))), gate);
        var taking = Task.Run(() => uploads.Take(upload, [new("long.jsonl", () => slow)], null, _day, new("p01")));
        JsonNode? now = null;
        for (var tries = 0; tries < 200 && (double?)now?["part"] is not (> 0 and < 1); tries++)
        {
            await Task.Delay(20);
            using var answer = await visitor.Get($"/take-in/progress/{upload}");
            now = answer.StatusCode == HttpStatusCode.OK ? JsonNode.Parse(await answer.Content.ReadAsStringAsync()) : null;
        }

        Assert.Equal("of long.jsonl read", (string?)now?["says"]);
        Assert.InRange((double)now!["part"]!, 0.01, 0.99);
        gate.Release();
        await taking;
        Assert.Equal(3_000, uploads.Result(upload)!.Added);
        Assert.Equal(HttpStatusCode.NoContent, (await visitor.Get($"/take-in/progress/{upload}")).StatusCode);
        Assert.NotEqual(HttpStatusCode.OK, (await Shop.Visit().Get($"/take-in/progress/{upload}")).StatusCode);
    }

    /// <summary>Stops in the middle until the gate opens.</summary>
    private sealed class SlowStream(byte[] bytes, SemaphoreSlim gate) : MemoryStream(bytes)
    {
        private bool _open;

        public override int Read(byte[] buffer, int offset, int count)
        {
            if (!_open && Position >= Length / 2)
            {
                gate.Wait();
                _open = true;
            }

            return base.Read(buffer, offset, (int)Math.Min(count, _open ? count : (Length / 2) - Position + 1));
        }
    }
}
