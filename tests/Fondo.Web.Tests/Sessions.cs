using System.Net;
using Fondo.Web.Hosting;
using Fondo.Store.People;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>How long a session lasts, and what ends it; how often a PIN may be tried, and from where.</summary>
public sealed class Sessions : IDisposable
{
    private readonly Shop _shop = new();

    public void Dispose() => _shop.Dispose();

    private static async Task<bool> IsIn(Visitor visitor, bool byItself = false)
    {
        using var ask = new HttpRequestMessage(HttpMethod.Get, $"{Shop.Day}/board");
        if (byItself)
        {
            ask.Headers.Add(PersonSessions.ByItself, "yes");
        }

        using var answer = await visitor.Client.SendAsync(ask);
        return answer.StatusCode == HttpStatusCode.OK;
    }

    [Fact]
    public async Task It_ends_half_an_hour_after_the_persons_last_act_and_what_a_page_does_by_itself_is_none()
    {
        var (acting, polling) = (await _shop.SignedIn(), await _shop.SignedIn());
        for (var minutes = 0; minutes < 60; minutes += 20)
        {
            Assert.True(await IsIn(acting));
            _shop.Clock.Advance(TimeSpan.FromMinutes(20));
            Assert.Equal(minutes == 0, await IsIn(polling, byItself: true));
        }

        Assert.True(await IsIn(acting));
        Assert.False(await IsIn(polling));
    }

    [Fact]
    public async Task It_ends_after_twelve_hours_whatever_is_done()
    {
        var visitor = await _shop.SignedIn();
        for (var time = TimeSpan.Zero; time < PersonSessions.Longest - TimeSpan.FromMinutes(20); time += TimeSpan.FromMinutes(20))
        {
            _shop.Clock.Advance(TimeSpan.FromMinutes(20));
            Assert.True(await IsIn(visitor));
        }

        _shop.Clock.Advance(TimeSpan.FromMinutes(20));
        Assert.False(await IsIn(visitor));
    }

    [Fact]
    public async Task Signing_out_ends_it_on_the_server_whatever_a_browser_still_holds()
    {
        var visitor = _shop.Visit();
        using var answer = await visitor.Post("/sign-in", new() { ["Who"] = "p01", ["Pin"] = "2580" });
        var cookie = answer.Headers.GetValues("Set-Cookie").First(c => c.StartsWith("fondo=", StringComparison.Ordinal)).Split(';')[0];
        async Task<bool> Thief()
        {
            using var client = _shop.CreateClient(new() { AllowAutoRedirect = false, HandleCookies = false });
            client.DefaultRequestHeaders.Add("Cookie", cookie);
            using var page = await client.GetAsync($"{Shop.Day}/board");
            return page.StatusCode == HttpStatusCode.OK;
        }

        Assert.True(await Thief());
        await visitor.Post("/sign-out", [], $"{Shop.Day}/board");
        Assert.False(await Thief());
        Assert.Equal(0, await _shop.InStore(db => db.Sessions.CountAsync()));
    }

    [Fact]
    public async Task A_new_pin_ends_the_others_and_signing_in_as_somebody_else_leaves_nothing_of_the_first()
    {
        var (here, elsewhere) = (await _shop.SignedIn(), await _shop.SignedIn());
        using (var wrong = await here.Post("/pin", new() { ["old"] = "9999", ["pin"] = "3619", ["again"] = "3619" }))
        {
            Assert.Equal(HttpStatusCode.OK, wrong.StatusCode);
        }

        await here.Post("/pin", new() { ["old"] = "2580", ["pin"] = "3619", ["again"] = "3619" });
        Assert.True(await IsIn(here));
        Assert.False(await IsIn(elsewhere));
        await here.Post("/sign-in", new() { ["Who"] = "p15", ["Pin"] = "1590" });
        Assert.False(await IsIn(here)); // a cashier has no board
        Assert.Equal(["p15"], await _shop.InStore(db => db.Sessions.Select(s => s.Person).ToListAsync()));
    }

    [Theory]
    [InlineData("/people?handler=Switch", "/people", "id", "p15")]
    [InlineData("/store?handler=Key", "/store", "register", "L1")]
    [InlineData("/machines?handler=Code", "/machines", "x", "")]
    public async Task Sensitive_acts_ask_for_the_pin_again_and_keep_what_was_typed(string path, string page, string field, string value)
    {
        var visitor = await _shop.SignedIn();
        _shop.Clock.Advance(TimeSpan.FromMinutes(6));
        var before = await _shop.InStore(db => db.RegisterKeys.CountAsync());
        var asked = await visitor.PostForPage(path, new() { [field] = value, ["off"] = "true" }, page);
        Assert.Contains("Type your PIN again to continue", asked.QuerySelector("#my-pin-says")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("does not belong",
            (await visitor.PostForPage(path, new() { [field] = value, ["off"] = "true", ["my-pin"] = "0000" }, page))
                .QuerySelector("#my-pin-says")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(before, await _shop.InStore(db => db.RegisterKeys.CountAsync()));
        Assert.False(await _shop.InStore(db => db.Users.AnyAsync(p => p.IsOff)));
        using var done = await visitor.Post(path,
            new() { [field] = value, ["off"] = "true", ["my-pin"] = "2580", ["second"] = "p02", ["second-pin"] = "7410" }, page);
        Assert.True(done.StatusCode == HttpStatusCode.Redirect || (await Visitor.Read(done)).QuerySelector(".notice") is not null);
    }

    [Fact]
    public async Task Wrong_pins_at_the_desk_where_a_person_works_only_slow_that_person_down()
    {
        await _shop.SignedIn();
        var desk = _shop.Visit();
        for (var n = 0; n < PinSignIn.FreeTries; n++)
        {
            await Try(desk, "0000");
        }

        Assert.Equal("in", await Try(desk, "2580")); // worked here today: the right PIN is looked at
        for (var n = 0; n < PinSignIn.FreeTries + 1; n++)
        {
            await Try(desk, "0000");
        }

        Assert.Contains("Too many", await Try(desk, "2580"), StringComparison.Ordinal); // one look every half minute
        _shop.Clock.Advance(TimeSpan.FromSeconds(31));
        Assert.Equal("in", await Try(desk, "2580"));
        Assert.True(await _shop.InStore(db => db.Trail.AnyAsync(t => t.By == "p01" && t.Says.Contains("made to wait"))));

        // Whoever did not work here today waits.
        for (var n = 0; n < PinSignIn.FreeTries; n++)
        {
            await Try(desk, "0000", "p15");
        }

        Assert.Contains("Too many", await Try(desk, "1590", "p15"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_person_is_told_of_the_last_sign_in_and_ends_sessions_elsewhere()
    {
        var (here, elsewhere) = (await _shop.SignedIn(), await _shop.SignedIn());
        await Try(_shop.Visit(), "0000");
        var third = await _shop.SignedIn();
        var said = (await third.Page($"{Shop.Day}/board")).QuerySelector(".last-sign-in")!.TextContent;
        Assert.Contains("You last signed in on", said, StringComparison.Ordinal);
        Assert.Contains("1 wrong PIN was given for you", said, StringComparison.Ordinal);
        Assert.Null((await third.Page($"{Shop.Day}/board")).QuerySelector(".last-sign-in"));

        var others = (await third.Page("/pin")).QuerySelectorAll("input[name=session]").Select(i => i.GetAttribute("value")!).ToList();
        Assert.Equal(2, others.Count);
        foreach (var session in others)
        {
            await third.Post("/pin?handler=End", new() { ["session"] = session }, "/pin");
        }

        Assert.False(await IsIn(here));
        Assert.False(await IsIn(elsewhere));
        Assert.True(await IsIn(third));
        var cashier = await _shop.Cashier();
        var own = await _shop.InStore(db => db.Sessions.Where(x => x.Person == "p01").Select(x => x.Hash).SingleAsync());
        await cashier.Post("/pin?handler=End", new() { ["session"] = own[..16] }, "/pin");
        Assert.True(await IsIn(third)); // nobody ends another's
    }

    [Theory]
    [InlineData("https://localhost", true)]
    [InlineData("http://localhost", false)]
    public async Task Where_TLS_is_spoken_the_cookie_of_forms_never_goes_without_it(string address, bool isSecure)
    {
        using var client = _shop.CreateClient(new() { BaseAddress = new(address), AllowAutoRedirect = false });
        using var page = await client.GetAsync("/sign-in", TestContext.Current.CancellationToken);
        var cookie = page.Headers.GetValues("Set-Cookie").Single(c => c.Contains("Antiforgery", StringComparison.Ordinal));
        Assert.Equal(isSecure, cookie.Contains("; secure", StringComparison.OrdinalIgnoreCase));
    }

    private static async Task<string> Try(Visitor visitor, string pin, string who = "p01")
    {
        using var answer = await visitor.Post("/sign-in", new() { ["Who"] = who, ["Pin"] = pin });
        return answer.StatusCode == HttpStatusCode.Redirect
            ? "in"
            : (await Visitor.Read(answer)).QuerySelector("#sign-in-says")!.TextContent;
    }

    [Fact]
    public async Task Tries_from_elsewhere_do_not_lock_a_person_out_of_their_own_desk()
    {
        await _shop.Ask<PeopleRegister, object>(async people => (await people.ChoosePin(new("p01"), "258036", null)).IsDone);
        Assert.Equal("in", await Try(_shop.Visit(), "258036"));
        foreach (var address in Enumerable.Range(1, 9).Select(n => $"10.0.0.{n}"))
        {
            var stranger = _shop.Visit(address);
            for (var i = 0; i < 6; i++)
            {
                await Try(stranger, "000000");
            }
        }

        // even the right one, from where nobody knows her
        Assert.Contains("Too many wrong PINs", await Try(_shop.Visit("10.0.0.99"), "258036"), StringComparison.Ordinal);
        Assert.Equal("in", await Try(_shop.Visit(), "258036"));
    }

    [Fact]
    public async Task A_clock_that_is_set_back_locks_nobody_out_for_longer_than_the_wait()
    {
        for (var i = 0; i < 5; i++)
        {
            await Try(_shop.Visit(), "0000");
        }

        Assert.Contains("Too many wrong PINs", await Try(_shop.Visit(), "2580"), StringComparison.Ordinal);
        // As if the wait had been begun by a clock that was two hours ahead.
        await _shop.InStore(db => db.PinTries.Where(t => t.WaitUntil != null)
            .ExecuteUpdateAsync(s => s.SetProperty(t => t.WaitUntil, _shop.Clock.GetUtcNow().AddHours(2))));
        Assert.Equal("in", await Try(_shop.Visit(), "2580"));
    }

    [Fact]
    public async Task Four_digits_are_enough_only_where_the_store_knows_the_machine()
    {
        var tablet = _shop.Visit("10.0.0.7");
        Assert.Contains("your PIN needs 6 digits or more", await Try(tablet, "2580"), StringComparison.Ordinal);
        var desk = await _shop.SignedIn();
        var code = (await desk.PostForPage("/machines?handler=Code", [], "/machines")).QuerySelector("code.code")!.TextContent;
        Assert.Contains("This code is wrong",
            (await tablet.PostForPage("/pair", new() { ["Code"] = "0000 0000", ["Name"] = "counting table" })).Body!.TextContent,
            StringComparison.Ordinal);
        using (var paired = await tablet.Post("/pair", new() { ["Code"] = code, ["Name"] = "counting table" }))
        {
            Assert.Equal(HttpStatusCode.Redirect, paired.StatusCode);
        }

        // it serves once
        Assert.Contains("This code is wrong",
            (await _shop.Visit("10.0.0.8").PostForPage("/pair", new() { ["Code"] = code, ["Name"] = "another" })).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal("in", await Try(tablet, "2580"));
        Assert.Equal("counting table",
            await _shop.InStore(db => db.Trail.OrderByDescending(t => t.Number).Select(t => t.Machine).FirstAsync()));
        var id = await _shop.InStore(db => db.Machines.Select(m => m.Id).SingleAsync());
        await desk.Post("/machines?handler=End", new() { ["id"] = id.ToString() }, "/machines");
        Assert.Contains("6 digits", await Try(tablet, "2580"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_code_is_over_after_ten_minutes_and_after_ten_wrong_ones()
    {
        var desk = await _shop.SignedIn();
        async Task<string> Code() => (await desk.PostForPage("/machines?handler=Code", new() { ["my-pin"] = "2580" }, "/machines"))
            .QuerySelector("code.code")!.TextContent;
        async Task<bool> Pair(string code)
        {
            using var answer = await _shop.Visit("10.0.0.7").Post("/pair", new() { ["Code"] = code, ["Name"] = "table" });
            return answer.StatusCode == HttpStatusCode.Redirect;
        }

        var old = await Code();
        _shop.Clock.Advance(TimeSpan.FromMinutes(11));
        Assert.False(await Pair(old));
        var guessed = await Code();
        for (var i = 0; i < 10; i++)
        {
            Assert.False(await Pair("1"));
        }

        Assert.False(await Pair(guessed));
        Assert.True(await Pair(await Code()));
    }

    [Fact]
    public async Task An_approval_form_tells_nothing_to_whoever_may_not_use_it()
    {
        var (supervisor, auditor) = (await _shop.SignedIn(), await _shop.SignedIn("p21", "9631"));
        var path = $"{Shop.Day}/cell/L2/L2-A/cash";
        await supervisor.Post($"{path}?handler=Entry",
            new() { ["Id"] = Guid.NewGuid().ToString(), ["Kind"] = "Accept", ["Amount"] = "30.00", ["Reason"] = "not found" }, path);
        var entry = await _shop.InStore(db => db.Entries.Select(e => e.Id).SingleAsync());
        Assert.Empty((await auditor.Page(path)).QuerySelectorAll("form.approve"));
        using (var oracle = await auditor.Post($"{path}?handler=Approve",
            new() { ["entry"] = entry.ToString(), ["approver"] = "p02", ["pin"] = "7410" }, "/pin"))
        {
            Assert.Equal(HttpStatusCode.Redirect, oracle.StatusCode);
            Assert.Contains("/trouble", oracle.Headers.Location!.ToString(), StringComparison.Ordinal);
        }

        Assert.False(await _shop.InStore(db => db.Set<Fondo.Store.Model.ApprovalRow>().AnyAsync()));
        // Tries to approve are counted apart from tries to sign in.
        for (var i = 0; i < 6; i++)
        {
            await supervisor.Post($"{path}?handler=Approve", new() { ["entry"] = entry.ToString(), ["approver"] = "p02", ["pin"] = "0000" },
                path);
        }

        Assert.Equal("in", await Try(_shop.Visit(), "7410", "p02"));
    }
}
