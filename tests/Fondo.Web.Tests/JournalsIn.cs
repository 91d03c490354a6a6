using System.Net;
using System.Text;
using System.Text.Json;
using Fondo.Store.Intake;
using Fondo.Web.Intake;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>The door for registers, and the watched folder.</summary>
public sealed class JournalsIn : InOwnShop
{
    private static string Sale(string id, string register, string drawer, string total = "12.93", string at = "2026-11-21T18:30:00-05:00",
        string tender = """{"type":"cash","amount":"12.93"}""", string more = "") =>
        $$"""{"id":"{{id}}","register":"{{register}}","drawer":"{{drawer}}","cashier":"p15","at":"{{at}}","kind":"sale","lines":[],"subtotal":"{{total}}","tax":"0.00","total":"{{total}}","tenders":[{{tender}}]{{more}}}""";

    private static string Event(string id, string register, string drawer, string kind, string more,
        string at = "2026-11-21T18:31:00-05:00") =>
        $$"""{"id":"{{id}}","register":"{{register}}","drawer":"{{drawer}}","cashier":"p15","at":"{{at}}","kind":"{{kind}}"{{more}}}""";

    [Fact]
    public async Task A_part_is_taken_and_a_second_time_changes_nothing()
    {
        using var client = await Shop.Register("SA");
        var part = new[] { Sale("SA-900001", "SA", "SA-A"), Sale("SA-900002", "SA", "SA-A") };
        var first = await Shop.Send(client, "SA", part);
        Assert.Equal((2, 0), (first.Taken, first.Known));
        var revision =
            await Shop.InStore(db => db.Days.Where(d => d.Date == new DateOnly(2026, 11, 21)).Select(d => d.Revision).SingleAsync());
        var second = await Shop.Send(client, "SA", [.. part.Reverse()]);
        Assert.Equal((0, 2), (second.Taken, second.Known));
        Assert.Equal(revision, await Shop.InStore(db => db.Days.Where(d => d.Date == new DateOnly(2026, 11, 21)).Select(d => d.Revision)
            .SingleAsync()));
        Assert.Equal(2, await Shop.InStore(db => db.Events.CountAsync(e => e.Key.StartsWith("SA-90000"))));

    }

    [Fact]
    public async Task The_same_id_with_other_contents_waits_for_a_person_and_the_rest_is_taken()
    {
        using var client = await Shop.Register("SB");
        await Shop.Send(client, "SB", Sale("SB-900001", "SB", "SB-A"));
        var answer = await Shop.Send(client, "SB",
            Sale("SB-900001", "SB", "SB-A", tender: """{"type":"cash","amount":"20.00","change":"7.07"}"""),
            Sale("SB-900002", "SB", "SB-A"));
        Assert.Equal((1, 0), (answer.Taken, answer.Known));
        var aside = Assert.Single(answer.Aside);
        Assert.True(aside.Kept);
        Assert.Contains("different contents", aside.Why, StringComparison.Ordinal);
        var row = await Shop.InStore(db => db.Aside.SingleAsync(a => a.Key == "SB-900001"));
        Assert.True(row.IsConflict);

        // A person lets the later contents stand; both are kept, and the day reads the later.
        using var scope = Shop.Services.CreateScope();
        Assert.True((await scope.ServiceProvider.GetRequiredService<Waiting>()
            .TakeInstead(row.Id, "the register printed it again", Shop.Odile)).IsDone);
        var versions = await Shop.InStore(db => db.Records.Where(r => r.Key == "SB-900001").OrderBy(r => r.Version).ToListAsync());
        Assert.Equal([1, 2], versions.Select(v => v.Version));
        var view = await scope.ServiceProvider.GetRequiredService<Store.Days.DayStore>().View(new(2026, 11, 21));
        var ticket = view!.Day.Journal.OfType<Core.Journal.Ticket>().Single(t => t.Id.Value == "SB-900001");
        Assert.Equal(7_07, ticket.Tenders[0].Change.Minor);
    }

    [Fact]
    public async Task What_contradicts_the_set_up_waits_and_is_taken_once_the_set_up_is_mended()
    {
        using var client = await Shop.Register("GY");
        var answer = await Shop.Send(client, "GY",
            Sale("GY-900001", "GY", "GY-A",
                tender: """{"type":"credit","amount":"12.93","terminal":"T-77","brand":"heron","card":"1234"}"""),
            Sale("GY-900002", "GY", "L1-A"), Sale("L1-900003", "L1", "L1-A"),
            Event("GY-900004", "GY", "GY-A", "void", ",\"original\":\"GY-777777\""),
            Sale("GY-900005", "GY", "GY-A", at: "2026-11-23T10:00:00-05:00"), Event("GY-900006", "GY", "GY-A", "no-sale", ""));
        Assert.Equal(1, answer.Taken);
        Assert.Equal(
            ["T-77", "belongs to register L1", "sent with the key of GY", "does not have yet", "clock is wrong"],
            answer.Aside.Zip(new[] { "T-77", "belongs to register L1", "sent with the key of GY", "does not have yet", "clock is wrong" },
                (a, part) => a.Why.Contains(part, StringComparison.Ordinal) ? part : a.Why));
        // What another register is said to have done is not even kept: a key opens its own register.
        Assert.Equal([true, true, false, true, true], answer.Aside.Select(a => a.Kept));
    }

    [Fact]
    public async Task A_full_card_number_is_neither_taken_nor_kept()
    {
        using var client = await Shop.Register("L3");
        const string number = "4000000000000002";
        var answer = await Shop.Send(client, "L3", Sale("L3-900001", "L3", "L3-A", more: $",\"note\":\"card {number}\""),
            "{\"id\":\"L3-900002\"", Sale("L3-900003", "L3", "L3-A"));
        Assert.Equal(1, answer.Taken);
        Assert.All(answer.Aside, a => Assert.False(a.Kept));
        Assert.DoesNotContain(number, JsonSerializer.Serialize(answer), StringComparison.Ordinal);
        Assert.Equal(0, await Shop.InStore(db => db.Aside.CountAsync(a => a.Json.Contains(number))));
    }

    [Fact]
    public async Task Gaps_in_the_numbering_are_told_until_they_are_filled_or_explained()
    {
        using var client = await Shop.Register("BK");
        var answer = await Shop.Send(client, "BK", Sale("BK-000900", "BK", "BK-A", at: "2026-11-21T14:00:00-05:00"),
            Sale("BK-000904", "BK", "BK-A", at: "2026-11-21T14:01:00-05:00"));
        Assert.Contains(new MissingAnswer("BK-000901", "BK-000903"), answer.Missing);
        answer = await Shop.Send(client, "BK", Sale("BK-000902", "BK", "BK-A", at: "2026-11-21T14:00:30-05:00"));
        Assert.Contains(new MissingAnswer("BK-000901", "BK-000901"), answer.Missing);
        using var scope = Shop.Services.CreateScope();
        var numbering = scope.ServiceProvider.GetRequiredService<Numbering>();
        Assert.False((await numbering.Explain(new(2026, 11, 21), "BK", 901, 901, " ", "p01")).IsDone);
        Assert.True((await numbering.Explain(new(2026, 11, 21), "BK", 901, 901, "the printer test", "p01")).IsDone);
        Assert.DoesNotContain(await numbering.Missing(new(2026, 11, 21), "BK"), m => m.First == 901);
    }

    /// <summary>However a register numbers: as wide as before, wider from some number on, each day anew.</summary>
    [Theory]
    [InlineData("BK", "BK-W0007", "BK-W0009", "BK-W0008")]
    [InlineData("BK", "BK-Q999", "BK-Q1001", "BK-Q1000")]
    [InlineData("SA", "SA-1121-8", "SA-1121-11", "SA-1121-9")]
    [InlineData("SA", "SA-d21-001", "SA-d21-003", "SA-d21-002")]
    public async Task A_gap_is_told_with_the_part_behind_it_and_on_the_day(string register, string before, string behind, string missing)
    {
        using var client = await Shop.Register(register);
        string Rung(string id, int minute) => Sale(id, register, $"{register}-A", at: $"2026-11-21T15:{minute:00}:00-05:00");
        Assert.DoesNotContain(await Missing(), m => m.FirstId == missing);
        await Shop.Send(client, register, Rung(before, 10));
        var answer = await Shop.Send(client, register, Rung(behind, 12));
        Assert.Contains(answer.Missing, m => m.First == missing);
        Assert.Contains(await Missing(), m => m.FirstId == missing);
        answer = await Shop.Send(client, register, Rung(missing, 11));
        Assert.DoesNotContain(answer.Missing, m => m.First == missing);
        Assert.DoesNotContain(await Missing(), m => m.FirstId == missing);

        Task<IReadOnlyList<MissingNumbers>> Missing() =>
            Shop.Ask<Numbering, IReadOnlyList<MissingNumbers>>(n => n.Missing(new(2026, 11, 21), register));
    }

    [Fact]
    public async Task A_sale_after_the_close_belongs_to_the_next_trading_day()
    {
        using var client = await Shop.Register("L1");
        await Shop.Send(client, "L1", Sale("L1-900011", "L1", "L1-A", at: "2026-11-21T20:00:00-05:00"));
        using var scope = Shop.Services.CreateScope();
        var days = scope.ServiceProvider.GetRequiredService<Store.Days.DayStore>();
        // It begins no day: it waits for the next one with trade, and its own day says so.
        Assert.Null(await days.View(new(2026, 11, 22)));
        Assert.Contains("rung after its drawer closed",
            (await (await Shop.SignedIn()).Page($"{Shop.Day}/board")).QuerySelector(".look-first")!.TextContent, StringComparison.Ordinal);
        // Sent again, it is known there.
        Assert.Equal(1, (await Shop.Send(client, "L1", Sale("L1-900011", "L1", "L1-A", at: "2026-11-21T20:00:00-05:00"))).Known);
    }

    [Fact]
    public async Task A_key_opens_its_own_register_until_it_is_revoked()
    {
        using var client = await Shop.Register("L2");
        async Task<(HttpStatusCode, string)> Ask(HttpClient by, string register)
        {
            using var answer = await by.PostAsync($"/api/registers/{register}/journal", new StringContent(""));
            return (answer.StatusCode, await answer.Content.ReadAsStringAsync());
        }

        Assert.Equal(HttpStatusCode.OK, (await Ask(client, "L2")).Item1);
        var (status, why) = await Ask(client, "L1");
        Assert.Equal(HttpStatusCode.Forbidden, status);
        Assert.Contains("of L2, not of L1", why, StringComparison.Ordinal);
        using (var scope = Shop.Services.CreateScope())
        {
            var keys = scope.ServiceProvider.GetRequiredService<RegisterKeys>();
            foreach (var key in (await keys.All()).Where(k => k.Register == "L2"))
            {
                await keys.Revoke(key.Id, Shop.Odile);
            }
        }

        (status, why) = await Ask(client, "L2");
        Assert.Equal(HttpStatusCode.Unauthorized, status);
        Assert.Contains("revoked", why, StringComparison.Ordinal);
        using var stranger = Shop.CreateClient();
        Assert.Equal(HttpStatusCode.Unauthorized, (await Ask(stranger, "L2")).Item1);
    }

    [Fact]
    public async Task On_a_full_disk_nothing_is_taken_and_the_register_is_told_to_keep_it()
    {
        using var client = await Shop.Register("L4");
        string[] part =
            [.. Enumerable.Range(910_000, 400).Select(n => Sale($"L4-{n}", "L4", "L4-A", more: $",\"note\":\"{new string('x', 300)}\""))];
        Shop.Disk.IsFull = true;
        try
        {
            using var answer = await client.PostAsync("/api/registers/L4/journal",
                new StringContent(string.Join('\n', part), Encoding.UTF8, "application/jsonl"));
            Assert.Equal(HttpStatusCode.InsufficientStorage, answer.StatusCode);
            Assert.Contains("Keep this part and send it again", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }
        finally
        {
            Shop.Disk.IsFull = false;
        }

        Assert.Equal(0, await Shop.InStore(db => db.Events.CountAsync(e => e.Key.StartsWith("L4-91"))));
        Assert.Equal(400, (await Shop.Send(client, "L4", part)).Taken);
    }

    [Fact]
    public async Task A_file_that_is_still_being_written_is_left_alone()
    {
        var file = Path.Combine(Shop.Folder, "inbox", "slow.jsonl");
        Directory.CreateDirectory(Path.GetDirectoryName(file)!);
        for (var n = 0; n < 10; n++)
        {
            await File.AppendAllTextAsync(file, Sale($"SA-92000{n}", "SA", "SA-A") + "\n", TestContext.Current.CancellationToken);
            await Task.Delay(250, TestContext.Current.CancellationToken);
            Assert.True(File.Exists(file));
        }

        for (var wait = 0; wait < 600 && File.Exists(file); wait++)
        {
            await Task.Delay(100, TestContext.Current.CancellationToken);
        }

        Assert.Equal(10, await Shop.InStore(db => db.Events.CountAsync(e => e.Key.StartsWith("SA-92000"))));
    }

    [Fact]
    public async Task The_door_is_described_as_open_api()
    {
        using var client = Shop.CreateClient();
        using var document = JsonDocument.Parse(await client.GetStringAsync("/openapi/v1.json"));
        var post = document.RootElement.GetProperty("paths").GetProperty("/api/registers/{register}/journal").GetProperty("post");
        Assert.True(post.GetProperty("requestBody").GetProperty("content").TryGetProperty("application/jsonl", out _));
        Assert.True(post.GetProperty("responses").TryGetProperty("507", out _));
    }

    [Fact]
    public async Task A_watched_file_is_taken_when_it_is_complete_or_refused_with_its_reasons()
    {
        var inbox = Path.Combine(Shop.Folder, "inbox");
        Directory.CreateDirectory(inbox);
        var (good, bad, half) =
            (Path.Combine(inbox, "good.jsonl"), Path.Combine(inbox, "bad.jsonl"), Path.Combine(inbox, "half.jsonl.part"));
        await File.WriteAllTextAsync(good, Sale("L4-900001", "L4", "L4-A") + "\n");
        await File.WriteAllTextAsync(bad,
            Sale("L4-900002", "L4", "L4-A") + "\n{\"id\":\"L4-900003\",\"at\":\"2026-11-21T21:30:00-05:00\",\"kind\":\"sale\"}\n");
        await File.WriteAllTextAsync(half, "{");
        for (var wait = 0; wait < 400 && !(File.Exists(Path.Combine(inbox, "refused", "bad.jsonl.reasons.txt"))
            && File.Exists(Path.Combine(inbox, "taken", "good.jsonl"))); wait++)
        {
            await Task.Delay(150, TestContext.Current.CancellationToken);
        }

        Assert.True(File.Exists(Path.Combine(inbox, "taken", "good.jsonl")));
        Assert.StartsWith("bad.jsonl:2: register",
            await File.ReadAllTextAsync(Path.Combine(inbox, "refused", "bad.jsonl.reasons.txt"), TestContext.Current.CancellationToken),
            StringComparison.Ordinal);
        Assert.True(File.Exists(half));
        Assert.Equal(["L4-900001"], await Shop.InStore(db => db.Events.Where(e => e.Key.StartsWith("L4-90000")).Select(e => e.Key)
            .ToListAsync()));
    }
}
