using System.Net;
using System.Text;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Standins.Bank;
using Fondo.Store.Days;
using Fondo.Store.Treasury;
using Fondo.Web.Settling;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>What a shop meets on its second evening: days of rest, leads taken twice, change from the bank, an earlier day still
/// open.</summary>
public sealed class ASecondEvening : InOwnShop
{
    private const string Lane1Cash = Shop.Day + "/cell/L1/L1-A/cash", Change = Shop.Day + "/change";

    private static readonly DateOnly _today = new(2026, 11, 21), _sunday = new(2026, 11, 22), _monday = new(2026, 11, 23);

    private Task<DayView> View(DateOnly day) => Shop.Ask(async (DayStore days) => (await days.View(day))!);

    private static Dictionary<string, string> Fields(AngleSharp.Dom.IElement form) =>
        form.QuerySelectorAll("input[name]").Where(i => i.GetAttribute("name") != "__RequestVerificationToken")
            .ToDictionary(i => i.GetAttribute("name")!, i => i.GetAttribute("value") ?? "");

    /// <summary>Rules §11: what waits for a signature comes off before a lead is offered.</summary>
    [Fact]
    public async Task A_lead_that_was_taken_is_not_offered_again_neither_waiting_nor_signed()
    {
        var odile = await Shop.SignedIn();
        var form = Fields((await odile.Page($"{Lane1Cash}?lead=1")).QuerySelector("form.take")!);
        Assert.Equal(HttpStatusCode.Redirect, (await odile.Post($"{Lane1Cash}?handler=Take", form, Lane1Cash)).StatusCode);
        var made = Assert.Single((await View(_today)).Entries);
        Assert.True(made.NeedsApproval);
        foreach (var cell in made.Postings.Select(p => Pages.Day.CellModel.Href(new(_today), p.Cell)))
        {
            Assert.Null((await odile.Page($"{cell}?lead=1")).QuerySelector("form.take"));
        }

        Assert.Equal(1, (await Shop.Ask((Resolving r) => r.Sign(_today, [made.Id], Shop.Tamsin))).Approved);
        Assert.Null((await odile.Page($"{Lane1Cash}?lead=1")).QuerySelector("form.take"));

        // By hand neither.
        var typed = new Dictionary<string, string>
        {
            ["Id"] = Guid.NewGuid().ToString(),
            ["Kind"] = "Record",
            ["Movement"] = "PaidOut",
            ["Amount"] = "5.00",
            ["Reason"] = "stamps"
        };
        Assert.Contains("already explained", (await odile.PostForPage($"{Lane1Cash}?handler=Entry", typed, Lane1Cash)).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Single((await View(_today)).Entries);
    }

    /// <summary>Next goes through every cell that is off, and comes round.</summary>
    [Fact]
    public async Task Next_goes_through_all_cells_that_are_off()
    {
        var view = await View(_today);
        HashSet<Core.Days.CellKey> seen = [];
        for (var cell = view.NextToResolve(null); cell is { } key && seen.Add(key); cell = view.NextToResolve(key))
        {
        }

        Assert.Equal(view.Bridges.Values.Count(b => b.IsUnresolved && !view.IsDecided(b)), seen.Count);
    }

    [Fact]
    public async Task Nothing_is_ticked_before_a_person_ticks_it_and_what_is_alike_is_flagged()
    {
        var odile = await Shop.SignedIn();
        foreach (var cell in new[] { "L1/L1-A", "L2/L2-A" })
        {
            Assert.True((await Shop.Ask((Resolving r) => r.Add(_today, Guid.NewGuid(), [Proposal(cell, -30_00)], Shop.Odile))).IsDone);
        }

        Assert.True((await Shop.Ask((Resolving r) => r.Add(_today, Guid.NewGuid(), [Proposal("L1/L1-A", -30_00)], Shop.Odile))).IsDone);
        var page = await odile.Page($"{Shop.Day}/approvals");
        Assert.Equal(3, page.QuerySelectorAll("input[name=entry]").Length);
        Assert.Empty(page.QuerySelectorAll("input[name=entry][checked]"));
        Assert.Equal(2, page.QuerySelectorAll(".meta.short")
            .Count(m => m.TextContent.Contains("Identical to another entry", StringComparison.Ordinal)));

        static Proposal Proposal(string drawer, long minor) => new(
            EntryKind.Record, [new(new CellKey.Takings(new(drawer.Split('/')[0]), new(drawer.Split('/')[1]), new("cash")), new(minor))],
            new EntryDetail.Moved(MovementKind.PaidOut, null), "a parcel", []);
    }

    /// <summary>Alarms stand outside the column of the page, and on no count sheet.</summary>
    [Fact]
    public async Task An_alarm_never_stands_in_the_page_nor_on_a_count()
    {
        Shop.Services.GetRequiredService<SettlementWatch>().Troubles["B-1"] = new(_today, "L1", "The batch B-1 could not be taken in.");
        var odile = await Shop.SignedIn();
        var board = await odile.Page($"{Shop.Day}/board");
        Assert.NotEmpty(board.QuerySelectorAll(".alarms .overdue"));
        Assert.Null(board.QuerySelector("main .alarms"));
        Assert.Null((await odile.Page($"{Shop.Day}/count/L4-A")).QuerySelector(".alarms"));
    }

    /// <summary>Rules §9: a day closes after the one before it.</summary>
    [Fact]
    public async Task A_day_does_not_close_before_the_one_before_it()
    {
        Shop.Clock.Advance(TimeSpan.FromHours(35));
        await Shop.Send(await Shop.Register("L2"), "L2",
            """{"id":"L2-770001","register":"L2","drawer":"L2-X","cashier":"p11","at":"2026-11-23T08:00:00-05:00","kind":"open","amount":"200.00"}""");
        var odile = await Shop.SignedIn();
        var page = await odile.Page("/2026-11-23/close");
        var gate =
            Assert.Single(page.QuerySelectorAll(".gates > li.left"), g => g.QuerySelector("b")!.TextContent == "The day before is closed");
        Assert.Contains("Saturday, 21 November, is still open. Close it first", gate.TextContent, StringComparison.Ordinal);
        Assert.Equal("/2026-11-21/close", gate.QuerySelector("li a")!.GetAttribute("href"));
        Assert.StartsWith("The day cannot close yet.", (await Shop.Ask((ClosingDesk desk) => desk.Close(_monday, Shop.Odile))).Objection,
            StringComparison.Ordinal);
    }

    /// <summary>A bank books on Sundays: the line waits, the Sunday does not begin, and after signing in a person is led to the day that is
    /// open.</summary>
    [Fact]
    public async Task A_statement_of_a_day_of_rest_begins_no_day()
    {
        Shop.Clock.Advance(TimeSpan.FromHours(18));
        var bank = new StandInBank("4471", "USD", 1_000_00);
        bank.Book(_sunday, -3_50, "ACCOUNT FEE");
        var taken = await Shop.Ask((StatementIntake i) =>
            i.Take("statement.xml", new MemoryStream(Encoding.UTF8.GetBytes(bank.Statement(_sunday, _sunday))), "p01"));
        Assert.Empty(taken.Faults);
        Assert.Equal(1, taken.Taken.Lines);
        Assert.False(await Shop.InStore(db => db.Days.AnyAsync(d => d.Date == _sunday && d.HasTrade)));
        var front = await (await Shop.SignedIn()).Get("/");
        Assert.StartsWith(Shop.Day, front.Headers.Location?.ToString(), StringComparison.Ordinal);
    }

    /// <summary>Rules §9: change leaves the safe against an order, above the limit by two, and never more than lies there.</summary>
    [Fact]
    public async Task Change_leaves_the_safe_by_two_and_never_more_than_lies_there()
    {
        async Task<string?> Move(long minor, Core.SetUp.Person? witness, Guid? form = null) => (await Shop.Ask((SafeDesk desk) => desk.Move(
            _today, new(form ?? Guid.NewGuid(), SafeMovementKind.ChangeGiven, $"{minor / 100m:0.00}", "to the bank") { Order = 1 },
            Shop.Odile, witness))).Objection;

        Assert.Null((await Shop.Ask((SafeDesk desk) =>
            desk.Order(_today, Guid.NewGuid(), new Dictionary<long, string> { [100] = "40" }, Shop.Odile))).Objection);
        Assert.Null(await Move(15_00, null));
        Assert.Contains("two people", await Move(15_00, null), StringComparison.Ordinal); // slices of one sum
        Assert.Contains("Someone else", await Move(25_00, Shop.Odile), StringComparison.Ordinal);
        Assert.NotNull(await Move(9_999_999_00, Shop.Tamsin));
        var form = Guid.NewGuid();
        Assert.Null(await Move(25_00, Shop.Tamsin, form));
        Assert.Null(await Move(25_00, Shop.Tamsin, form));
        var order = Assert.Single((await View(_today)).Money.Orders);
        Assert.Equal(40_00, order.Paid.Minor);
        var odile = await Shop.SignedIn();
        Assert.Contains("paid 40.00, not delivered", (await odile.Page(Change)).Body!.TextContent, StringComparison.Ordinal);
    }
}
