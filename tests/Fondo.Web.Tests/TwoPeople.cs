using System.Net;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>Two people means two people: nobody gets around a second person, whatever the way.</summary>
public sealed class TwoPeople : IDisposable
{
    private static readonly DateOnly _day = new(2026, 11, 21), _next = new(2026, 11, 22);

    private static readonly Person _tamsin = new(new("p02"), "Tamsin Okafor", Role.Manager);

    private readonly Shop _shop = new();

    public void Dispose() => _shop.Dispose();

    private Task<Fondo.Store.Outcome<SetupSaved>> Save(DateOnly from, string part, string by) =>
        _shop.Ask<SetupBook, Fondo.Store.Outcome<SetupSaved>>(async book =>
        await book.Save(from, (await book.Now())!.Json.Replace(part, by, StringComparison.Ordinal), Shop.Odile));

    private Task<Setup> Held(DateOnly day) => _shop.Ask<SetupBook, Setup>(async book => (await book.For(day))!.Setup);

    private Task<Store.Outcome> Approve(int id, Person by) => _shop.Ask<SetupBook, Store.Outcome>(book => book.Approve(id, by));

    [Fact]
    public async Task Tonights_tolerance_cannot_be_raised_so_that_tonights_short_proves()
    {
        const string Was = "\"cashTolerance\":\"2.00\"", Becomes = "\"cashTolerance\":\"500.00\"";
        Assert.Contains("It can hold from 2026-11-22 on at the earliest", (await Save(_day, Was, Becomes)).Objection,
            StringComparison.Ordinal);
        Assert.Equal(2_00, (await Held(_day)).Policy.CashTolerance.Minor);
        var saved = await Save(_next, Was, Becomes);
        Assert.Equal(["the tolerance of cash from 2.00 to 500.00"], saved.Value!.Loosens);
        Assert.Equal(2_00, (await Held(_next)).Policy.CashTolerance.Minor); // it waits
        var id = await _shop.InStore(db => db.Setups.MaxAsync(s => s.Id));
        Assert.Contains("You cannot approve your own", (await Approve(id, Shop.Odile)).Objection, StringComparison.Ordinal);
        Assert.Contains("is not a manager", (await Approve(id, new(new("p11"), "Ansel Ruiz", Role.Supervisor))).Objection,
            StringComparison.Ordinal);
        Assert.Null((await Approve(id, _tamsin)).Objection);
        Assert.Equal(500_00, (await Held(_next)).Policy.CashTolerance.Minor);
        Assert.Equal(2_00, (await Held(_day)).Policy.CashTolerance.Minor);

        // The board of the day it holds for says so, and tonight's does not.
        var supervisor = await _shop.SignedIn();
        Assert.Null((await supervisor.Page($"{Shop.Day}/board")).QuerySelector(".loosened"));
        _shop.Clock.Advance(TimeSpan.FromHours(12));
        supervisor = await _shop.SignedIn();
        await supervisor.Post("/days?handler=Begin", [], "/days");
        Assert.Contains("the tolerance of cash from 2.00 to 500.00; by Odile Marchetti, approved by Tamsin Okafor",
            (await supervisor.Page("/2026-11-22/board")).QuerySelector(".loosened")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_waited_while_the_set_up_changed_undoes_nothing()
    {
        await Save(_next, "\"cashTolerance\":\"2.00\"", "\"cashTolerance\":\"500.00\"");
        var id = await _shop.InStore(db => db.Setups.MaxAsync(s => s.Id));
        Assert.True((await Save(_next, "\"approvalAbove\":\"20.00\"", "\"approvalAbove\":\"10.00\"")).IsDone); // stricter: at once
        Assert.Contains("would undo that change", (await Approve(id, _tamsin)).Objection, StringComparison.Ordinal);
        Assert.Equal(10_00, (await Held(_next)).Policy.ApprovalAbove.Minor);
        await Save(_next.AddDays(1), "\"cashTolerance\":\"2.00\"", "\"cashTolerance\":\"3.00\"");
        id = await _shop.InStore(db => db.Setups.MaxAsync(s => s.Id));
        _shop.Clock.Advance(TimeSpan.FromDays(3));
        Assert.Contains("has begun. A looser control", (await Approve(id, _tamsin)).Objection, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("p98", "Supervisor", null, null, "Adding or changing someone who can approve takes two people")] // a second self
    [InlineData("p98", "Manager", "p01", "2580", "is not a manager")] // oneself as the second one
    [InlineData("p98", "Manager", "p02", "0000", "does not belong to this person")]
    [InlineData("p98", "Supervisor", "p15", "1590", "is not a manager")]
    [InlineData("p02", "Cashier", "p02", "7410", "The person you are changing cannot be the second person")]
    [InlineData("p01", "Manager", "p02", "7410", "You cannot change your own")]
    public async Task Nobody_makes_their_own_second_person(string id, string role, string? second, string? pin, string why)
    {
        var supervisor = await _shop.SignedIn();
        var form = new Dictionary<string, string> { ["PersonId"] = id, ["Name"] = "Somebody", ["Role"] = role, ["Pin"] = "826419" };
        if (second is not null)
        {
            (form["second"], form["second-pin"]) = (second, pin!);
        }

        Assert.Contains(why, (await supervisor.PostForPage("/people", form)).QuerySelector("#people-says")!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal([("p01", Role.Supervisor), ("p02", Role.Manager)],
            (await _shop.Ask<PeopleRegister, IReadOnlyList<Person>>(p => p.All())).Where(p => p.May(Right.Supervise))
                .Select(p => (p.Id.Value, p.Role)).Order());
    }

    [Fact]
    public async Task A_new_supervisor_is_made_by_two_and_approves_only_with_a_PIN_of_their_own()
    {
        var supervisor = await _shop.SignedIn();
        using (var made = await supervisor.Post("/people",
            new()
            {
                ["PersonId"] = "p09",
                ["Name"] = "Chidi Lindqvist",
                ["Role"] = "Supervisor",
                ["Pin"] = "826419",
                ["second"] = "p02",
                ["second-pin"] = "7410"
            }))
        {
            Assert.Equal(HttpStatusCode.Redirect, made.StatusCode);
        }

        Task<Fondo.Store.Outcome<StorePerson>> Prove(string pin) =>
            _shop.Ask<PinSignIn, Fondo.Store.Outcome<StorePerson>>(p => p.Prove("p09", pin, PinDoor.Approve));
        Assert.Contains("choose their own PIN", (await Prove("826419")).Objection, StringComparison.Ordinal); // Odile knows this one
        var chidi = await _shop.SignedIn("p09", "826419");
        await chidi.Post("/pin", new() { ["old"] = "826419", ["pin"] = "731946", ["again"] = "731946" });
        Assert.NotNull((await Prove("731946")).Value);
        var said = await _shop.InStore(db => db.Trail.Where(t => t.On == "p09").OrderBy(t => t.Number).Select(t => $"{t.By}: {t.Says}")
            .ToListAsync());
        Assert.Equal("p01: made: Chidi Lindqvist, supervisor", said[0]);
        Assert.Contains("p09: chose a PIN", said);
    }

    [Fact]
    public async Task Whoever_is_switched_off_is_out_at_once_and_stays_in_the_books()
    {
        var cashier = await _shop.Cashier();
        await cashier.Page($"{Shop.Day}/count");
        var supervisor = await _shop.SignedIn();
        await supervisor.Post("/people?handler=Switch", new() { ["id"] = "p15", ["off"] = "true" }, "/people");
        using (var answer = await cashier.Get($"{Shop.Day}/count"))
        {
            Assert.StartsWith("/sign-in", answer.Headers.Location!.ToString(), StringComparison.Ordinal);
        }

        Assert.Contains("Choose your name",
            (await cashier.PostForPage("/sign-in", new() { ["Who"] = "p15", ["Pin"] = "1590" })).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.DoesNotContain("Esme", (await _shop.Visit().Page("/sign-in")).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Esme Whitlock", (await supervisor.Page("/people")).Body!.TextContent, StringComparison.Ordinal);
        var only = await supervisor.PostForPage("/people?handler=Switch",
            new() { ["id"] = "p02", ["off"] = "true", ["second"] = "p02", ["second-pin"] = "7410" }, "/people");
        Assert.Contains("The person you are changing cannot be the second person", only.QuerySelector("#people-says")!.TextContent,
            StringComparison.Ordinal);
    }

    private const string Lane4 = $"{Shop.Day}/count/L4-A";

    private static Dictionary<string, string> Count(int twenties) =>
        new() { ["form"] = Guid.NewGuid().ToString(), ["attempt"] = "1", ["p2000"] = $"{twenties}" };

    private Task<DayView> View() => _shop.Ask<DayStore, DayView>(async d => (await d.View(_day))!);

    [Theory]
    [InlineData("watch", false)]
    [InlineData("drawer/L4-A", false)]
    [InlineData("cell/L4/L4-A/cash", false)]
    [InlineData("board", true)]
    [InlineData("drawer/L3-A", true)]
    public async Task Whoever_has_seen_what_should_be_there_does_not_count_blind(string page, bool isBlind)
    {
        var supervisor = await _shop.SignedIn();
        await supervisor.Page($"{Shop.Day}/{page}");
        Assert.Equal(isBlind, (await supervisor.Page(Lane4)).QuerySelector("main")!.TextContent
            .Contains("You count blind", StringComparison.Ordinal));
        await supervisor.Post(Lane4, Count(20));
        var count = Assert.Single((await View()).CountsOf(new("L4-A")));
        Assert.Equal(isBlind, count.IsBlind);
        Assert.Equal(!isBlind, await _shop.InStore(db =>
            db.Records.AnyAsync(r => r.Key == count.Id && r.Json.Contains("\"blind\":false"))));
    }

    [Fact]
    public async Task A_drawer_that_is_still_open_is_counted_on_the_spot_and_shows_nothing()
    {
        var ansel = await _shop.SignedIn("p11", "3571");
        await ansel.Post($"{Shop.Day}/open/L2", new() { ["form"] = Guid.NewGuid().ToString(), ["accept"] = "true" });
        var drawer = (await View()).Overview.Sessions.Single(s => s.Until is null).Drawer;
        var path = $"{Shop.Day}/count/{drawer}";
        Assert.Contains("spot count", (await ansel.Page(path)).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        var closing = await ansel.PostForPage(path, Count(10)); // as if it were closed
        Assert.Contains("The session has not ended", closing.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        var spot = Count(10);
        spot["kind"] = "Spot";
        await ansel.Post(path, spot);
        var page = (await ansel.Page(path)).QuerySelector("main")!.TextContent;
        Assert.Contains("Noted at", page, StringComparison.Ordinal);
        Assert.DoesNotContain("200.00", page, StringComparison.Ordinal);
        Assert.Empty((await View()).CountsOf(drawer));
        Assert.Single((await View()).CountsOf(drawer, CountKind.Spot));
    }

    [Fact]
    public async Task Opening_shows_the_float_that_was_left_only_after_the_count()
    {
        var supervisor = await _shop.SignedIn();
        var page = (await supervisor.Page($"{Shop.Day}/open/L1")).QuerySelector("main")!.TextContent;
        Assert.DoesNotContain("200.00", page, StringComparison.Ordinal);
        await supervisor.Post($"{Shop.Day}/open/L1", new() { ["form"] = Guid.NewGuid().ToString(), ["p2000"] = "9" });
        Assert.Contains("180.00", (await supervisor.Page($"{Shop.Day}/open")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Whoever_the_set_up_does_not_list_opens_no_register()
    {
        await _shop.Ask<PeopleRegister, object>(async people =>
            (await people.Save(new(new("p77"), "Dara Petrov", Role.Cashier), "826419", Shop.Odile, null)).IsDone);
        var dara = await _shop.SignedIn("p77", "826419");
        await dara.Post("/pin", new() { ["old"] = "826419", ["pin"] = "731946", ["again"] = "731946" });
        var page = await dara.PostForPage($"{Shop.Day}/open/L2", new() { ["form"] = Guid.NewGuid().ToString(), ["accept"] = "true" });
        Assert.Contains("Dara Petrov is not in the set-up", page.QuerySelector(".objection")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_entry_rests_only_on_what_the_day_holds()
    {
        var supervisor = await _shop.SignedIn();
        var view = await View();
        var off = view.Bridges.Values.First(b => b.IsUnresolved && b.Cell.Key.Drawer is not null);
        var path = Pages.Day.CellModel.Href(view.Setup.TradingDay, off.Cell.Key);
        async Task<string> Make(string evidence)
        {
            var form = new Dictionary<string, string>
            {
                ["Id"] = Guid.NewGuid().ToString(),
                ["Kind"] = "Record",
                ["Amount"] = "1.00",
                ["Reason"] = "seen",
                ["Evidence"] = evidence
            };
            using var answer = await supervisor.Post($"{path}?handler=Entry", form, path);
            return answer.StatusCode == HttpStatusCode.Redirect
                ? "made"
                : (await Visitor.Read(answer)).QuerySelector("#entry-says")!.TextContent;
        }

        Assert.Contains("is not part of this day", await Make("L1-999999#1"), StringComparison.Ordinal);
        Assert.Contains("is not part of this day", await Make("4000 0000 0000 0002 12/26"), StringComparison.Ordinal);
        Assert.Equal("made", await Make($"{view.Day.Journal.OfType<Core.Journal.Ticket>().First().Id}#1"));
        Assert.Equal("made", await Make(view.Day.Rows!.Value[0].Key.ToString()));
    }

    [Fact]
    public async Task The_same_form_with_other_contents_is_not_answered_as_made()
    {
        var cashier = await _shop.Cashier();
        var form = Count(20);
        Assert.Equal(HttpStatusCode.Redirect, (await cashier.Post(Lane4, form)).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await cashier.Post(Lane4, new(form))).StatusCode); // twice the same is once
        var other = new Dictionary<string, string>(form) { ["p2000"] = "21" };
        Assert.Contains("already handed in with different values",
            (await cashier.PostForPage(Lane4, other)).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.Single((await View()).CountsOf(new("L4-A")));
    }

    [Fact]
    public async Task Two_people_who_count_one_drawer_see_each_other_and_neither_loses_anything()
    {
        var (cashier, supervisor) = (await _shop.Cashier(), await _shop.SignedIn());
        await cashier.Post($"{Lane4}?handler=Draft", new() { ["attempt"] = "1", ["p2000"] = "7" }, Lane4);
        var sheet = await supervisor.Page(Lane4);
        Assert.Contains("Esme Whitlock is also typing in this count", sheet.QuerySelector(".notice")!.TextContent,
            StringComparison.Ordinal);
        Assert.True(string.IsNullOrEmpty(sheet.QuerySelector("input[name=p2000]")!.GetAttribute("value")));
        using (var saved = await supervisor.Post($"{Lane4}?handler=Draft", new() { ["attempt"] = "1", ["p2000"] = "8" }, Lane4))
        {
            Assert.Contains("Esme Whitlock is typing", await saved.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }

        Assert.Equal("7", (await cashier.Page(Lane4)).QuerySelector("input[name=p2000]")!.GetAttribute("value"));
        Assert.Equal("8", (await supervisor.Page(Lane4)).QuerySelector("input[name=p2000]")!.GetAttribute("value"));
        Assert.Equal("7", (await supervisor.Page($"{Lane4}?of=p15")).QuerySelector("input[name=p2000]")!.GetAttribute("value"));
    }
}
