using System.Net;
using System.Text;
using AngleSharp.Dom;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>A file that was imported by mistake is taken back by two, and the right one is imported; what waits alike is decided as
/// one.</summary>
public sealed class FilesTakenBack : InOwnShop
{
    private const string TakeIn = $"{Shop.Day}/take-in";

    private static readonly DateOnly _day = new(2026, 11, 21);

    private static readonly CellKey _laneTwo = new CellKey.Takings(new("L2"), new("L2-A"), new("cash"));

    private Task<Cell> LaneTwo() => Shop.Ask(async (DayStore days) => (await days.View(_day))!.Bridges[_laneTwo].Cell);

    private static string PaidOut(string id, string amount) =>
        $$"""{"id":"{{id}}","register":"L2","drawer":"L2-A","cashier":"p13","at":"2026-11-21T17:30:00-05:00","kind":"paid-out","amount":"{{amount}}","reason":"supplies"}""";

    private Task<IReadOnlyList<ImportedFile>> Imported() => Shop.Ask((ImportedFiles f) => f.In(_day));

    private static Dictionary<string, string> Form(ImportedFile file, string second = "p02", string pin = "7410") => new()
    {
        ["file"] = $"{file.First}",
        ["reason"] = "the wrong file",
        ["second"] = second,
        ["second-pin"] = pin,
    };

    [Fact]
    public async Task What_came_in_is_listed_and_goes_by_two_and_the_right_file_comes()
    {
        var (odile, before) = (await Shop.SignedIn(), await LaneTwo());
        Shop.Clock.Advance(TimeSpan.FromMinutes(1));
        await odile.Upload(TakeIn,
            ("wrong.jsonl", Encoding.UTF8.GetBytes($"{PaidOut("L2-990001", "5.00")}\n{PaidOut("L2-990002", "2.00")}")));
        Assert.Equal(before.Expected.Minor - 7_00, (await LaneTwo()).Expected.Minor);

        var row = (await odile.Page(TakeIn)).QuerySelector(".files tbody tr")!;
        Assert.Equal(["wrong.jsonl", "Odile Marchetti", "2", "21 Nov"],
            row.Children.Select(c => c.TextContent.Trim()).Where((_, i) => i is 0 or 1 or 3 or 4));
        var file = (await Imported()).Single(f => f.Name == "wrong.jsonl");
        var form = await odile.Page(row.QuerySelector("a")!.GetAttribute("href")!);
        Assert.Contains("2 records will no longer count", form.QuerySelector("#back")!.TextContent, StringComparison.Ordinal);

        foreach (var (second, pin, why) in new[]
        {
            ("", "", "takes two people"), ("p01", "2580", ""), ("p02", "0000", ""), ("p15", "1590", "takes two people"),
        })
        {
            var refused = await odile.PostForPage($"{TakeIn}?handler=Back", Form(file, second, pin), TakeIn);
            Assert.Contains(why, refused.QuerySelector("#back .objection")!.TextContent, StringComparison.Ordinal);
            Assert.Equal("the wrong file", refused.QuerySelector("#back input[name=reason]")!.GetAttribute("value"));
        }

        using (var done = await odile.Post($"{TakeIn}?handler=Back", Form(file), TakeIn))
        {
            Assert.Equal(HttpStatusCode.Redirect, done.StatusCode);
        }

        Assert.Equal(before, await LaneTwo());
        Assert.Equal(0, await Shop.InStore(db => db.Events.CountAsync(e => e.Key.StartsWith("L2-99000"))));
        Assert.Contains("no longer counts",
            (await odile.Page(TakeIn)).QuerySelectorAll(".files tbody tr").First(r => r.TextContent.Contains("wrong.jsonl")).TextContent,
            StringComparison.Ordinal);
        Assert.DoesNotContain("wrong.jsonl", (await odile.Page($"{Shop.Day}/board")).Body!.TextContent, StringComparison.Ordinal);
        var again = await odile.PostForPage($"{TakeIn}?handler=Back", Form(file), TakeIn);
        Assert.Contains("Nothing of this file counts any more", again.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains(await Shop.InStore(db => db.Trail.Select(t => t.Says).ToListAsync()),
            s => s == "taken back with p02: 2 of 2 records, the wrong file");

        // The right one, with a ticket of the same number, and the wrong one once more: both are read as new.
        Shop.Clock.Advance(TimeSpan.FromMinutes(1));
        await odile.Upload(TakeIn, ("right.jsonl", Encoding.UTF8.GetBytes(PaidOut("L2-990001", "6.00"))));
        Assert.Equal(before.Expected.Minor - 6_00, (await LaneTwo()).Expected.Minor);
        Shop.Clock.Advance(TimeSpan.FromMinutes(1));
        await odile.Upload(TakeIn, ("more.jsonl", Encoding.UTF8.GetBytes(PaidOut("L2-990002", "2.00"))));
        Assert.Equal(before.Expected.Minor - 8_00, (await LaneTwo()).Expected.Minor);
        Assert.Null((await Shop.Ask((Verification v) => v.Run())).Break);
    }

    /// <summary>A day's files, brought to an empty day: each goes alone, and a day without any trade is no trading day.</summary>
    [Fact]
    public async Task Settled_rows_that_are_taken_back_have_not_come()
    {
        Shop.Clock.Advance(TimeSpan.FromDays(1));
        var day = new DateOnly(2026, 11, 22);
        var rows = Encoding.UTF8.GetBytes("terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n"
            + "T-01,9001,1,2026-11-22T10:00:00-05:00,sale,5.00,0.00,0.00,heron,4417,A1,R900,chip,\n");
        Assert.True((await Shop.Ask((DayIntake i) => i.Take([new("batches.csv", () => new MemoryStream(rows))], day, "p01"))).IsTaken);
        Assert.Single((await Shop.Ask((DayStore d) => d.View(day)))!.Day.Rows!.Value);
        var file = Assert.Single(await Shop.Ask((ImportedFiles f) => f.In(day)));
        Assert.Null((await Shop.Ask((ImportedFiles f) => f.TakeBack(file.First, "of another shop", Shop.Odile, Shop.Tamsin))).Objection);
        Assert.Null((await Shop.Ask((DayStore d) => d.View(day)))!.Day.Rows);
        Assert.False(await Shop.InStore(db => db.Days.Where(d => d.Date == day).Select(d => d.HasTrade).SingleAsync()));
        Assert.Null((await Shop.Ask((Verification v) => v.Run())).Break);
    }

    [Fact]
    public async Task A_file_of_a_closed_day_stays()
    {
        var files = await Imported();
        await Shop.Tamper(async db =>
        {
            db.Closes.Add(new() { Number = 900, Day = _day, Content = "{}", PreviousHash = "", Hash = "", At = Shop.Clock.GetUtcNow() });
            return await db.SaveChangesAsync();
        });
        var closed = await Shop.Ask((ImportedFiles f) =>
            f.TakeBack(files.Single(x => x.Name == "batches.csv").First, "wrong", Shop.Odile, Shop.Tamsin));
        Assert.Contains("is closed with this file", closed.Objection, StringComparison.Ordinal);
    }

    /// <summary>Nine tickets of one swapped terminal are one decision: first by its own words, then by the set-up.</summary>
    [Fact]
    public async Task Lines_that_wait_alike_are_decided_as_one_and_a_swapped_terminal_is_said_in_a_sentence()
    {
        var odile = await Shop.SignedIn();
        using var lane = await Shop.Register("L2");
        string Sale(int n) =>
            $$$"""{"id":"L2-80000{{{n}}}","register":"L2","drawer":"L2-A","cashier":"p13","at":"2026-11-21T17:4{{{n % 10}}}:00-05:00","kind":"sale","lines":[],"subtotal":"5.00","tax":"0.00","total":"5.00","tenders":[{"type":"credit","amount":"5.00","terminal":"T-51","brand":"heron","card":"1234"}]}""";
        Assert.Equal(9, (await Shop.Send(lane, "L2", [.. Enumerable.Range(1, 9).Select(Sale)])).Aside.Count);
        var group = Assert.Single((await odile.Page(TakeIn)).QuerySelectorAll(".slip"), s => s.TextContent.Contains("9 lines"));
        var ids = group.QuerySelectorAll("input[name=id]").Select(i => i.GetAttribute("value")!).ToList();
        Assert.Equal(9, ids.Count);
        var token = await odile.Token(TakeIn);
        async Task<IDocument> Decide(string how, string reason, int count)
        {
            using var answer = await odile.Client.PostAsync($"{TakeIn}?handler=Decide", new FormUrlEncodedContent(
            [
                .. ids.Take(count).Select(i => new KeyValuePair<string, string>("id", i)), new("how", how), new("reason", reason),
                new("__RequestVerificationToken", token),
            ]));
            return answer.StatusCode == HttpStatusCode.Redirect ? await odile.Page(TakeIn) : await Visitor.Read(answer);
        }

        Assert.Contains("still waits", (await Decide("again", "", 9)).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Give a reason", (await Decide("out", "", 2)).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("The 2 lines are left out", (await Decide("out", "rung twice", 2)).Body!.TextContent, StringComparison.Ordinal);

        Task<IDocument> Swap(string replacement, string time, string replaced = "T-02") => odile.PostForPage("/store?handler=Swap",
            new() { ["replaced"] = replaced, ["replacement"] = replacement, ["on"] = "2026-11-21", ["time"] = time }, "/store");
        foreach (var (replacement, time, replaced, why) in new[]
        {
            ("", "17:40", "T-02", "Give the new terminal"), ("T-51", "tea", "T-02", "Give the time"),
            ("T-03", "17:40", "T-02", "stands at Lane 3"), ("T-51", "17:40", "T-77", "Choose the terminal"),
        })
        {
            Assert.Contains(why, (await Swap(replacement, time, replaced)).QuerySelector("#swap-says")!.TextContent,
                StringComparison.Ordinal);
        }

        using (var saved = await odile.Post("/store?handler=Swap",
            new() { ["replaced"] = "T-02", ["replacement"] = "T-51", ["on"] = "2026-11-21", ["time"] = "17:40" }, "/store"))
        {
            Assert.Equal(HttpStatusCode.Redirect, saved.StatusCode);
        }

        Assert.Contains("T-51 stands at Lane 2 from 17:40. 7 waiting lines are imported.",
            (await odile.Page("/store")).QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(7, await Shop.InStore(db => db.Events.CountAsync(e => e.Key.StartsWith("L2-80000"))));
        var view = (await Shop.Ask((DayStore d) => d.View(_day)))!;
        Assert.DoesNotContain(view.Overview.Disagreements, d => d.Kind == Core.Sheets.DisagreementKind.TerminalElsewhere
            && d.Event.Id.Value.StartsWith("L2-80000", StringComparison.Ordinal));
        Assert.Equal("L2", view.Setup.Terminals.Single(t => t.Terminal.Value == "T-51").Register.Value);
    }

    /// <summary>A record that made its day unreadable was set aside; the corrected one of the same key can come.</summary>
    [Fact]
    public async Task What_was_set_aside_can_be_imported_corrected()
    {
        var odile = await Shop.SignedIn();
        await odile.Upload(TakeIn, ("late.jsonl", Encoding.UTF8.GetBytes(PaidOut("L2-990001", "12.00"))));
        await Shop.Tamper(db => db.Database.ExecuteSqlRawAsync(
            "UPDATE Records SET Json = REPLACE(Json, 'paid-out', 'paid-nowhere') WHERE Key = 'L2-990001'"));
        await Shop.Tamper(db => db.Database.ExecuteSqlRawAsync("UPDATE Days SET Revision = Revision + 1"));
        Shop.Services.GetRequiredService<DayCache>().ForgetAssembly(_day);
        Assert.Null((await Shop.Ask((Waiting w) =>
            w.SetRecordAside(_day, Files.Reading.RecordKind.Event, "L2-990001", Shop.Odile))).Objection);
        await odile.Upload(TakeIn, ("right.jsonl", Encoding.UTF8.GetBytes(PaidOut("L2-990001", "7.00"))));
        Assert.Equal(1, await Shop.InStore(db => db.Events.CountAsync(e => e.Key == "L2-990001")));
    }
}
