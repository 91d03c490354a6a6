using System.Net;
using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Store.Days;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>A lead is taken as it was shown, once; what changed meanwhile is said, and nothing is made of it.</summary>
public sealed class TakingLeads : IAsyncLifetime
{
    private const string Lane1Cash = Shop.Day + "/cell/L1/L1-A/cash", Lane2Cash = Shop.Day + "/cell/L2/L2-A/cash",
        Approvals = Shop.Day + "/approvals";

    private readonly Shop _shop = new();

    public ValueTask InitializeAsync() => _shop.InitializeAsync();

    public ValueTask DisposeAsync() => _shop.DisposeAsync();

    private static async Task<Dictionary<string, string>> Form(Visitor visitor, string cell, string? reason = null)
    {
        var form = (await visitor.Page($"{cell}?lead=1")).QuerySelector("form.take")!;
        return form.QuerySelectorAll("input[name]").Where(i => i.GetAttribute("name") != "__RequestVerificationToken")
            .ToDictionary(i => i.GetAttribute("name")!,
                i => i.GetAttribute("name") == "reason" && reason is not null ? reason : i.GetAttribute("value") ?? "");
    }

    private Task<List<Store.Model.EntryRow>> Entries() =>
        _shop.InStore(db => db.Entries.AsNoTracking().Include(e => e.Postings).OrderBy(e => e.At).ToListAsync());

    /// <summary>40.00 given and 1.11 back are the 38.89 that the terminal settled.</summary>
    [Fact]
    public async Task What_cash_brought_in_stands_beside_what_the_card_did()
    {
        var page = await (await _shop.SignedIn()).Page($"{Lane1Cash}?lead=1");
        var amount = page.QuerySelectorAll("main tr").First(r => r.QuerySelector("th")?.TextContent.Trim() == "Amount");
        Assert.Contains("38.89; 40.00 given, 1.11 change", amount.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("differs", amount.ClassName ?? "", StringComparison.Ordinal);
    }

    [Fact]
    public async Task One_swap_explains_both_cells_and_is_taken_once()
    {
        var odile = await _shop.SignedIn();
        var form = await Form(odile, Lane1Cash, "seen with Ansel");
        for (var i = 0; i < 2; i++)
        {
            Assert.Equal(HttpStatusCode.Redirect, (await odile.Post($"{Lane1Cash}?handler=Take", form, Lane1Cash)).StatusCode);
        }

        var entry = Assert.Single(await Entries());
        Assert.Equal((EntryKind.Reclassify, "seen with Ansel", 0L, 2),
            (entry.Kind, entry.Reason, entry.Postings.Sum(p => p.Amount.Minor), entry.Postings.Count));
        Assert.Contains("L1", entry.Evidence, StringComparison.Ordinal);
    }

    /// <summary>Rules §11: no more is accepted than a cell is off by; what one form accepts is one sum.</summary>
    [Fact]
    public async Task What_is_accepted_together_is_judged_as_one_sum()
    {
        await _shop.SignedIn();
        var (day, key) = (new DateOnly(2026, 11, 21), new CellKey.Takings(new("L1"), new("L1-A"), TenderId.Cash));
        var left = (await _shop.Ask((DayStore d) => d.View(day)))!.Bridges[key].Left!.Value;
        Assert.False(left.IsZero);
        var (back, more) = (new Money(-left.Sign * 40_00), new Money(left.Sign * 1_00));
        Proposal Accept(Money amount) => new(EntryKind.Accept, [new(key, amount)], null, "as it was", []);
        Assert.Contains("so you cannot accept",
            (await _shop.Ask((Resolving r) => r.Add(day, Guid.NewGuid(), [Accept(back)], Shop.Odile))).Objection!,
            StringComparison.Ordinal);
        Assert.Contains("so you cannot accept", (await _shop.Ask((Resolving r) =>
            r.Add(day, Guid.NewGuid(), [Accept(back), Accept(left - back + more)], Shop.Odile))).Objection!, StringComparison.Ordinal);
        Assert.Null((await _shop.Ask((Resolving r) =>
            r.Add(day, Guid.NewGuid(), [Accept(back), Accept(left - back)], Shop.Odile))).Objection);
        Assert.True((await _shop.Ask((DayStore d) => d.View(day)))!.Bridges[key].ToExplain is { IsZero: true });
        Assert.All(await Entries(), e => Assert.True(e.NeedsApproval));
    }

    /// <summary>Two supervisors on one cell: whoever comes second is told what it is now.</summary>
    [Fact]
    public async Task Whoever_comes_second_is_told_and_nothing_is_made_twice()
    {
        var (odile, tamsin) = (await _shop.SignedIn(), await _shop.Manager());
        const string cell = Shop.Day + "/cell/SB/-/credit";
        var (hers, his) = (await Form(odile, cell), await Form(tamsin, cell));
        Assert.Equal(HttpStatusCode.Redirect, (await odile.Post($"{cell}?handler=Take", hers, cell)).StatusCode);
        var page = await tamsin.PostForPage($"{cell}?handler=Take", his, cell);
        Assert.Contains("This cell has changed since you opened it: 15.45 was left, now 0.00 is", page.Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Single(await Entries());

        // The same for an entry by hand.
        var typed = new Dictionary<string, string>
        {
            ["Id"] = Guid.NewGuid().ToString(),
            ["Seen"] = "1545",
            ["Kind"] = "Record",
            ["Movement"] = "Sale",
            ["Amount"] = "15.45",
            ["Reason"] = "not rung"
        };
        page = await tamsin.PostForPage($"{cell}?handler=Entry", typed, cell);
        Assert.Contains("has changed since you opened it", page.QuerySelector("#entry-says")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("not rung", page.QuerySelector("form.entry [name=Reason]")!.GetAttribute("value"));
        Assert.Single(await Entries());
    }

    /// <summary>A part of a journal arrives while an entry is being confirmed.</summary>
    [Fact]
    public async Task What_arrives_in_between_is_said()
    {
        var odile = await _shop.SignedIn();
        var form = await Form(odile, Lane2Cash);
        var register = await _shop.Register("L2");
        await Shop.Send(register, "L2",
            """{"id":"L2-990001","register":"L2","drawer":"L2-A","cashier":"p13","at":"2026-11-21T20:55:00-05:00","kind":"paid-out","amount":"4.00","reason":"stamps"}""");
        var page = await odile.PostForPage($"{Lane2Cash}?handler=Take", form, Lane2Cash);
        Assert.Contains("This cell has changed since you opened it", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Empty(await Entries());
        Assert.Contains("short 296.00", page.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_lead_that_is_none_any_more_makes_nothing()
    {
        var odile = await _shop.SignedIn();
        var form = await Form(odile, Lane2Cash);
        form["lead"] = new string('0', 20);
        var page = await odile.PostForPage($"{Lane2Cash}?handler=Take", form, Lane2Cash);
        Assert.Contains("The evidence has changed", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Empty(await Entries());
        form["lead"] = (await Form(odile, Lane2Cash))["lead"];
        form["reason"] = "card 7992 7398 7100 04";
        page = await odile.PostForPage($"{Lane2Cash}?handler=Take", form, Lane2Cash);
        Assert.Contains("full card number", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("7992", page.Source.Text, StringComparison.Ordinal);
        Assert.Empty(await Entries());
    }

    /// <summary>What waits is one list, signed by one PIN as a whole or in part; not by whoever made it, nor by whoever may not.</summary>
    [Fact]
    public async Task One_PIN_signs_what_waits()
    {
        var odile = await _shop.SignedIn();
        foreach (var cell in new[] { Lane1Cash, Lane2Cash, Shop.Day + "/cell/GY/GY-A/cash" })
        {
            await odile.Post($"{cell}?handler=Take", await Form(odile, cell), cell);
        }

        var page = await odile.Page(Approvals);
        var ids = page.QuerySelectorAll("input[name=entry]").Select(i => i.GetAttribute("value")!).ToList();
        Assert.Equal(3, ids.Count);
        Assert.Equal("p02", page.QuerySelector("select[name=approver] option")!.GetAttribute("value"));
        async Task<AngleSharp.Dom.IDocument> Refused(string who, string pin, string id) =>
            await odile.PostForPage(Approvals, new() { ["entry"] = id, ["approver"] = who, ["pin"] = pin });
        Assert.Contains("You cannot approve your own entry",
            (await Refused("p01", "2580", ids[0])).QuerySelector("#sign-says")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("cannot approve entries", (await Refused("p15", "1590", ids[0])).QuerySelector("#sign-says")!.TextContent,
            StringComparison.Ordinal);
        var wrong = await Refused("p02", "0000", ids[1]);
        Assert.Contains("does not belong to this person", wrong.QuerySelector("#sign-says")!.TextContent, StringComparison.Ordinal);
        // what was chosen stays chosen
        Assert.Equal([ids[1]], wrong.QuerySelectorAll("input[name=entry][checked]").Select(i => i.GetAttribute("value")!));
        Assert.Equal(0, await _shop.InStore(db => db.Set<Store.Model.ApprovalRow>().CountAsync()));

        var token = await odile.Token(Approvals);
        using var part = await odile.Client.PostAsync(Approvals,
            new FormUrlEncodedContent([new("__RequestVerificationToken", token), new("entry", ids[0]), new("entry", ids[2]),
                new("approver", "p02"), new("pin", "7410")]));
        Assert.Equal(HttpStatusCode.Redirect, part.StatusCode);
        Assert.Equal(2, await _shop.InStore(db => db.Set<Store.Model.ApprovalRow>().CountAsync()));
        page = await odile.Page(Approvals);
        Assert.Contains("One entry waits", page.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("signed 2 entries", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("What it is based on", page.Body.TextContent, StringComparison.Ordinal);
    }

    /// <summary>What was taken as one is undone as one.</summary>
    [Fact]
    public async Task What_was_taken_together_is_taken_back_together()
    {
        var odile = await _shop.SignedIn();
        var form = Guid.NewGuid();
        var cash = new Core.Days.CellKey.Takings(new("L2"), new("L2-A"), new("cash"));
        var outcome = await _shop.Ask((Resolving r) => r.Add(new(2026, 11, 21), form,
        [
            new(EntryKind.Record, [new(cash, new(-12_00))], new EntryDetail.Moved(MovementKind.PaidOut), "stamps", []),
            new(EntryKind.Record, [new(cash, new(-5_00))], new EntryDetail.Moved(MovementKind.PaidOut), "milk", []),
        ], Shop.Odile));
        Assert.True(outcome.IsDone);
        var entries = await Entries();
        Assert.Equal([form, form], entries.Select(e => e.Together!.Value));
        var page = await odile.Page(Lane2Cash);
        Assert.Contains("short 283.00", page.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("taken together with 1 other", page.Body!.TextContent, StringComparison.Ordinal);
        await odile.Post($"{Lane2Cash}?handler=Reverse",
            new() { ["entry"] = entries[1].Id.ToString(), ["id"] = Guid.NewGuid().ToString(), ["reason"] = "another day’s" }, Lane2Cash);
        Assert.Equal(4, (await Entries()).Count);
        Assert.Contains("short 300.00", (await odile.Page(Lane2Cash)).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);

        // One of several that may not be made: none is.
        var refused = await _shop.Ask((Resolving r) => r.Add(new(2026, 11, 21), Guid.NewGuid(),
            [
                new(EntryKind.Record, [new(cash, new(-1_00))], new EntryDetail.Moved(MovementKind.PaidOut), "stamps", []),
                new(EntryKind.Record, [new(cash, new(-1_00))], null, "milk", [])
            ], Shop.Odile));
        Assert.StartsWith("Say what moved", refused.Objection, StringComparison.Ordinal);
        Assert.Equal(4, (await Entries()).Count);
    }

    /// <summary>Evidence lies side by side, with names and times; a key stands behind them.</summary>
    [Theory]
    [InlineData("/cell/GY/-/credit", ".beside-slips .differs", "refund")]
    [InlineData("/cell/GY/GY-A/cash", ".beside-slips.counts .differs", "7")]
    [InlineData("/cell/L2/L2-A/cash", ".side-by-side .one-slip", "15 × 20.00")]
    [InlineData("/cell/SB/-/credit", ".beside-slips .differs", "taken back")]
    [InlineData("/cell/WO/-/online", ".one-ticket", "Hand trowel")]
    public async Task The_things_themselves_lie_side_by_side(string cell, string where, string what)
    {
        var page = await (await _shop.SignedIn()).Page(Shop.Day + cell + "?lead=1");
        Assert.Contains(what, string.Concat(page.QuerySelectorAll(where).Select(e => e.TextContent)), StringComparison.Ordinal);
        Assert.DoesNotMatch(@"\b[A-Z]{2}-\d{6}|T-\d\d/\d+/\d+", page.QuerySelector(".lead h3")!.TextContent);
    }
}
