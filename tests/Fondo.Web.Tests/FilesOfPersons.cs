using System.Text;
using AngleSharp.Dom;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>What a person brings in a file is that person's word: it waits where it changes what others judged.</summary>
public sealed class FilesOfPersons : InOwnShop
{
    private const string TakeIn = $"{Shop.Day}/take-in";

    private static readonly DateOnly _day = new(2026, 11, 21);

    private static readonly CellKey _laneTwo = new CellKey.Takings(new("L2"), new("L2-A"), new("cash"));

    private Task<Cell> LaneTwo() => Shop.Ask(async (DayStore days) => (await days.View(_day))!.Bridges[_laneTwo].Cell);

    private static string PaidOut(string id, string amount) =>
        $$"""{"id":"{{id}}","register":"L2","drawer":"L2-A","cashier":"p13","at":"2026-11-21T17:30:00-05:00","kind":"paid-out","amount":"{{amount}}","reason":"supplies"}""";

    private static Task<IDocument> Bring(Visitor visitor, string name, string text) =>
        visitor.Upload(TakeIn, (name, Encoding.UTF8.GetBytes(text)));

    private static async Task<IDocument> Answer(Visitor visitor, string id, string how, string who = "", string pin = "")
    {
        using var answer =
            await visitor.Post($"{TakeIn}?handler=Held", new() { ["id"] = id, ["how"] = how, ["who"] = who, ["pin"] = pin }, TakeIn);
        return answer.StatusCode == System.Net.HttpStatusCode.Redirect ? await visitor.Page(TakeIn) : await Visitor.Read(answer);
    }

    private async Task<string> Held() => (await Shop.Ask((HeldFiles h) => h.All())).Single().Id.ToString();

    [Fact]
    public async Task A_paid_out_in_a_file_does_not_explain_a_counted_drawer_alone()
    {
        var (odile, before) = (await Shop.SignedIn(), await LaneTwo());
        Assert.True(before.Variance!.Value.Abs() > new Core.Amounts.Money(100_00));
        var amount = (before.Variance.Value.Abs().Minor / 100m).ToString("0.00", System.Globalization.CultureInfo.InvariantCulture);
        var page = await Bring(odile, "late.jsonl", PaidOut("L2-990001", amount));
        Assert.Contains("Nothing is imported yet", page.QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(before, await LaneTwo());
        Assert.Equal(0, await Shop.InStore(db => db.Events.CountAsync(e => e.Key == "L2-990001")));
        var held = await odile.Page(TakeIn);
        Assert.Contains("Waits for another supervisor or manager", held.QuerySelector("#held + .slips")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("right", held.QuerySelector("#held + .slips tbody")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("1 upload", (await odile.Page($"{Shop.Day}/board")).QuerySelector(".look.waits")!.TextContent,
            StringComparison.Ordinal);

        var id = await Held();
        Assert.Contains("Someone else must agree",
            (await Answer(odile, id, "agree", "p01", "2580")).QuerySelector(".slip .objection, li .objection")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("does not belong", (await Answer(odile, id, "agree", "p02", "0000")).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("are not waiting for", (await Answer(odile, id, "agree", "p15", "1590")).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal(before, await LaneTwo());
        Assert.Contains("1 new record", (await Answer(odile, id, "agree", "p02", "7410")).QuerySelector(".notice")!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal(CellState.Proved, (await LaneTwo()).State);
        Assert.Empty(await Shop.Ask((HeldFiles h) => h.All()));
        var cell = await odile.Page($"{Shop.Day}/cell/L2/L2-A/cash");
        Assert.Contains("Tamsin Okafor agreed", cell.QuerySelector(".flagged")!.TextContent, StringComparison.Ordinal);
        var sources = (await odile.Page($"{Shop.Day}/cell/L2/L2-A/cash?handler=Sources")).Body!.TextContent;
        Assert.Contains("late.jsonl, imported by Odile Marchetti", sources, StringComparison.Ordinal);
        Assert.Contains("late.jsonl", (await odile.Page($"{Shop.Day}/board")).QuerySelector(".brought")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("already imported or discarded", (await Answer(odile, id, "agree", "p02", "7410")).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Null((await Shop.Ask((Verification v) => v.Run())).Break);
    }

    [Fact]
    public async Task Slices_below_the_limit_add_up()
    {
        var odile = await Shop.SignedIn();
        var limit = await Shop.Ask(async (DayStore days) => (await days.View(_day))!.Setup.Policy.ApprovalAbove);
        var slice = ((limit.Minor / 2) + 1) / 100m;
        var text = slice.ToString("0.00", System.Globalization.CultureInfo.InvariantCulture);
        Assert.Contains("1 new record", (await Bring(odile, "a.jsonl", PaidOut("L2-990001", text))).QuerySelector(".notice")!.TextContent,
            StringComparison.Ordinal);
        var between = await LaneTwo();
        Assert.Contains("Nothing is imported yet",
            (await Bring(odile, "b.jsonl", PaidOut("L2-990002", text))).QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(between, await LaneTwo());
        var (id, cashier) = (Guid.Parse(await Held()), new Core.SetUp.Person(new("p15"), "", Core.SetUp.Role.Cashier));
        Assert.Contains("Only a supervisor", (await Shop.Ask((HeldFiles h) => h.GiveUp(id, cashier))).Objection, StringComparison.Ordinal);
        Assert.Contains("were not imported", (await Answer(odile, await Held(), "give-up")).Body!.TextContent, StringComparison.Ordinal);
        Assert.Empty(await Shop.Ask((HeldFiles h) => h.All()));
        Assert.False(Directory.Exists(Path.Combine(Shop.Folder, "held"))
            && Directory.EnumerateFileSystemEntries(Path.Combine(Shop.Folder, "held")).Any());
    }

    [Fact]
    public async Task A_slice_by_file_and_a_slice_by_entry_add_up()
    {
        var odile = await Shop.SignedIn();
        var limit = await Shop.Ask(async (DayStore days) => (await days.View(_day))!.Setup.Policy.ApprovalAbove);
        var slice = (((limit.Minor / 2) + 1) / 100m).ToString("0.00", System.Globalization.CultureInfo.InvariantCulture);
        await Bring(odile, "a.jsonl", PaidOut("L2-990001", slice));
        const string cell = $"{Shop.Day}/cell/L2/L2-A/cash";
        await odile.Post($"{cell}?handler=Entry",
            new()
            {
                ["Id"] = Guid.NewGuid().ToString(),
                ["Kind"] = "Record",
                ["Amount"] = slice,
                ["Reason"] = "petty cash",
                ["Moved"] = "PaidOut"
            }, cell);
        Assert.True((await Shop.InStore(db => db.Entries.SingleAsync())).NeedsApproval);
    }

    [Fact]
    public async Task What_changed_meanwhile_is_looked_at_again()
    {
        var odile = await Shop.SignedIn();
        await Bring(odile, "late.jsonl", PaidOut("L2-990001", "300.00"));
        var id = await Held();
        using var register = await Shop.Register("L2");
        await Shop.Send(register, "L2", PaidOut("L2-990002", "10.00"));
        Assert.Contains("would now change something else", (await Answer(odile, id, "agree", "p02", "7410")).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal(0, await Shop.InStore(db => db.Events.CountAsync(e => e.Key == "L2-990001")));
        Assert.NotEqual(id, await Held());
        await Answer(odile, await Held(), "agree", "p02", "7410");
        Assert.Equal(1, await Shop.InStore(db => db.Events.CountAsync(e => e.Key == "L2-990001")));
    }

    [Fact]
    public async Task Counts_in_a_file_wait_for_whom_they_name()
    {
        var odile = await Shop.SignedIn();
        const string counts =
            """[{"id":"k-file","kind":"closing","drawer":"L4-A","by":"p15","witness":"p01","at":"2026-11-21T21:30:00-05:00","attempt":1,"cash":{"20.00":3}}]""";
        Assert.Contains("other people’s counts", (await Bring(odile, "counts.json", counts)).QuerySelector(".notice")!.TextContent,
            StringComparison.Ordinal);
        var id = await Held();
        Assert.Contains("are not waiting for", (await Answer(odile, id, "agree", "p02", "7410")).Body!.TextContent,
            StringComparison.Ordinal);
        await Answer(odile, id, "agree", "p15", "1590");
        Assert.Equal(1, await Shop.InStore(db => db.Records.CountAsync(r => r.Key == "k-file")));
        Assert.Contains("1 new record",
            (await Bring(odile, "counts.json",
                counts.Replace("k-file", "k-own", StringComparison.Ordinal)
                    .Replace("\"attempt\":1", "\"attempt\":2", StringComparison.Ordinal).Replace("p15", "p01", StringComparison.Ordinal)
                    .Replace(",\"witness\":\"p01\"", "", StringComparison.Ordinal))).QuerySelector(".notice")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_first_journal_of_a_register_and_its_first_batch_are_one_press()
    {
        // Neither changes what anybody judged: the shop that brings its exports by hand needs nobody else.
        var odile = await Shop.SignedIn();
        const string sale =
            """{"id":"L4-990001","register":"L4","drawer":"L4-A","cashier":"p15","at":"2026-11-21T17:30:00-05:00","kind":"sale","lines":[],"subtotal":"900.00","tax":"0.00","total":"900.00","tenders":[{"type":"cash","amount":"900.00"}]}""";
        Assert.Contains("1 new record", (await Bring(odile, "lane 4.jsonl", sale)).QuerySelector(".notice")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_set_up_in_a_file_is_compared_and_used_for_nothing()
    {
        var odile = await Shop.SignedIn();
        var before =
            await Shop.InStore(db => db.Records.Where(r => r.Kind == Files.Reading.RecordKind.Setup).Select(r => r.Json).ToListAsync());
        var loose = System.Text.Json.Nodes.JsonNode.Parse(Shop.Made.Files["day.json"])!;
        loose["policy"]!["approvalAbove"] = "9000.00";
        foreach (var date in new[] { "2026-11-21", "2026-11-22" })
        {
            loose["tradingDay"] = date;
            var page = await odile.Upload("/take-in", ("day.json", Encoding.UTF8.GetBytes(loose.ToJsonString())));
            Assert.Contains("policy.approvalAbove: 9000.00 instead of", page.QuerySelector(".findings")!.TextContent,
                StringComparison.Ordinal);
        }

        Assert.All(await Shop.InStore(db => db.Records.Where(r => r.Kind == Files.Reading.RecordKind.Setup).Select(r => r.Json)
            .ToListAsync()), json => Assert.DoesNotContain("9000.00", json, StringComparison.Ordinal));
        Assert.All(before, json => Assert.DoesNotContain("9000.00", json, StringComparison.Ordinal));
    }

    [Fact]
    public async Task Nobody_decides_between_a_line_and_another_that_they_brought()
    {
        var odile = await Shop.SignedIn();
        await Bring(odile, "lane 4.jsonl", PaidOut("L4-990001", "4.00").Replace("L2", "L4", StringComparison.Ordinal));
        await Bring(odile, "lane 4.jsonl", PaidOut("L4-990001", "400.00").Replace("L2", "L4", StringComparison.Ordinal));
        var aside = await Shop.InStore(db => db.Aside.SingleAsync(a => a.Key == "L4-990001"));
        foreach (var how in new[] { "instead", "out" })
        {
            var answer = await odile.PostForPage($"{TakeIn}?handler=Decide",
                new() { ["id"] = $"{aside.Id}", ["how"] = how, ["reason"] = "it is right" }, TakeIn);
            Assert.Contains("You imported one of the two", answer.QuerySelector(".objection")!.TextContent, StringComparison.Ordinal);
        }

        Assert.Null(await Shop.InStore(db => db.Aside.Where(a => a.Id == aside.Id).Select(a => a.Decision).SingleAsync()));
        var tamsin = await Shop.Manager();
        await tamsin.Post($"{TakeIn}?handler=Decide",
            new() { ["id"] = $"{aside.Id}", ["how"] = "instead", ["reason"] = "the slip says so" }, TakeIn);
        Assert.Equal("taken instead", await Shop.InStore(db => db.Aside.Where(a => a.Id == aside.Id).Select(a => a.Decision)
            .SingleAsync()));
    }

    [Fact]
    public async Task A_key_is_made_by_two()
    {
        var odile = await Shop.SignedIn();
        var keys = await Shop.InStore(db => db.RegisterKeys.CountAsync());
        foreach (var (handler, field) in new[] { ("Key", "register"), ("DeviceKey", "device") })
        {
            var alone = await odile.PostForPage($"/store?handler={handler}", new() { [field] = "L4" }, "/store");
            Assert.Contains("takes two people", alone.Body!.TextContent, StringComparison.Ordinal);
            await odile.PostForPage($"/store?handler={handler}", new() { [field] = "L4", ["second"] = "p01", ["second-pin"] = "2580" },
                "/store");
            await odile.PostForPage($"/store?handler={handler}", new() { [field] = "L4", ["second"] = "p15", ["second-pin"] = "1590" },
                "/store");
        }

        Assert.Equal(keys, await Shop.InStore(db => db.RegisterKeys.CountAsync()));
        await odile.Post("/store?handler=Key", new() { ["register"] = "L4", ["second"] = "p02", ["second-pin"] = "7410" }, "/store");
        Assert.Equal("p02", (await Shop.InStore(db => db.RegisterKeys.OrderByDescending(k => k.MadeAt).FirstAsync())).Witness);
    }
}
