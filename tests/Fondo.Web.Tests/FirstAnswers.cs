using System.Globalization;
using System.Net;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using Fondo.Core.SetUp;
using Fondo.Web.SetUp;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>From nothing to the first day by nine questions.</summary>
public sealed class FirstAnswers : IDisposable
{
    private readonly Shop _shop = new() { IsEmpty = true };

    public void Dispose() => _shop.Dispose();

    private async Task<Visitor> Odile()
    {
        await _shop.Visit().Post("/set-up", Shop.FirstPeople(_shop.Services.GetRequiredService<Hosting.SetUpCode>().Value));
        return await _shop.SignedIn();
    }

    private static string Address(string question) => $"/store/begin/{question}";

    /// <summary>Answers as the page proposes, but for what is typed.</summary>
    private static async Task<HttpResponseMessage> Answer(Visitor visitor, string question, params (string Name, string Text)[] typed)
    {
        var page = await visitor.Page(Address(question));
        var fields = page.QuerySelectorAll(".first-question [name]")
            .Where(f => f is not IHtmlInputElement { Type: "checkbox" or "radio", IsChecked: false })
            .Select(f => KeyValuePair.Create(f.GetAttribute("name")!, f switch
            {
                IHtmlSelectElement select => select.Value ?? "",
                IHtmlTextAreaElement area => area.Value,
                _ => f.GetAttribute("value") ?? "",
            }))
            .Where(f => typed.All(t => t.Name != f.Key)).Concat(typed.Select(t => KeyValuePair.Create(t.Name, t.Text))).ToList();
        return await visitor.Client.PostAsync(Address(question), new FormUrlEncodedContent(fields));
    }

    private static async Task Taken(Visitor visitor, string question, params (string Name, string Text)[] typed)
    {
        using var answer = await Answer(visitor, question, typed);
        Assert.True(answer.StatusCode == HttpStatusCode.Redirect,
            $"{question}: {(answer.StatusCode == HttpStatusCode.OK ? Says(await Visitor.Read(answer)) : answer.StatusCode)}");
        Assert.Equal(FirstQuestion.Find(question)!.Next, answer.Headers.Location!.OriginalString);
    }

    private static async Task<IDocument> Asked(Visitor visitor, string question, params (string Name, string Text)[] typed)
    {
        using var answer = await Answer(visitor, question, typed);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return await Visitor.Read(answer);
    }

    private static string Says(IDocument page) =>
        string.Join(' ', page.QuerySelectorAll("main .objection").Select(o => o.TextContent.Trim())).Trim();

    [Fact]
    public async Task In_every_country_the_answers_that_are_proposed_make_a_set_up_whose_float_is_made_of_its_pieces()
    {
        var odile = await Odile();
        foreach (var country in Country.All)
        {
            await Taken(odile, "shop", ("store", "Corner shop"), ("country", country.Name));
            foreach (var question in FirstQuestion.All.Where(q => q.Name is not ("shop" or "people")))
            {
                await Taken(odile, question.Name);
            }

            var held = await _shop.SetUp();
            Assert.Equal((country.Currency, country.DecimalMark, country.TimeZones[0]),
                (held.Currency.Code, held.Currency.DecimalMark, held.TimeZone.Id));
            Assert.Equal(country.SmallestCoin, held.Policy.CashRounding.Minor);
            Assert.All(held.Registers, r => Assert.Equal(country.Float, r.Float.Minor));
            Assert.Equal(country.Float, held.Denominations.Sum(d => d.Worth.Minor * d.Kept));
            Assert.Equal(country.TakesBenefits, held.Registers[0].Takes(Core.Journal.TenderId.EbtFood));
        }
    }

    [Fact]
    public async Task Registers_have_names_and_terminals_and_nobody_types_an_id()
    {
        var odile = await Odile();
        await Taken(odile, "registers", ("lane", "3"), ("self", "2"), ("desk", "1"), ("online", "1"));
        await Taken(odile, "tenders");
        var held = await _shop.SetUp();
        Assert.Equal(["Lane 1", "Lane 2", "Lane 3", "Self-service 1", "Self-service 2", "Desk", "Online"],
            held.Registers.Select(r => r.Name));
        Assert.Equal(["L1", "L2", "L3", "S1", "S2", "D1", "O1"], held.Registers.Select(r => r.Id.Value));
        Assert.Equal(7, held.Terminals.Select(t => (t.Terminal, t.Register)).Distinct().Count());
        Assert.False(held.Registers[^1].Takes(Core.Journal.TenderId.Cash));
        Assert.True(held.Registers[^1].Takes(Core.Journal.TenderId.Online));

        // Fewer lanes: those that stay keep what they have.
        await Taken(odile, "registers", ("lane", "1"), ("online", ""));
        held = await _shop.SetUp();
        Assert.Equal(["L1", "S1", "S2", "D1"], held.Registers.Select(r => r.Id.Value));
        Assert.Equal(["L1", "S1", "S2", "D1"], held.Terminals.Select(t => t.Register.Value).Order(StringComparer.Ordinal)
            .OrderBy(r => held.Registers.Select(k => k.Id.Value).ToList().IndexOf(r)));

        Assert.Equal("A shop needs at least one register.",
            Says(await Asked(odile, "registers", ("lane", ""), ("self", "0"), ("desk", ""), ("online", ""))));
        Assert.Equal("Type a number from 0 to 60.", Says(await Asked(odile, "registers", ("self", "many"))));
        Assert.Equal(4, (await _shop.SetUp()).Registers.Length);
    }

    [Fact]
    public async Task Another_float_is_proposed_piece_by_piece_before_it_is_saved()
    {
        var odile = await Odile();
        var page = await Asked(odile, "float", ("float", "lots"));
        Assert.Equal("Amounts look like 200.00.", Says(page));
        page = await Asked(odile, "float", ("float", "87.5"));
        Assert.Equal("87.50", page.QuerySelector("[name=shown]")!.GetAttribute("value"));
        Assert.Equal(87_50, page.QuerySelectorAll("[name^=pieces-]").Sum(i =>
            long.Parse(i.GetAttribute("name")!["pieces-".Length..], CultureInfo.InvariantCulture)
                * int.Parse(i.GetAttribute("value")!, CultureInfo.InvariantCulture)));
        Assert.DoesNotContain("87.50", (await odile.Page(Address("float"))).QuerySelector("main")!.InnerHtml, StringComparison.Ordinal);
        Assert.Equal("Type how many, like 20.", Says(await Asked(odile, "float", ("pieces-25", "some"))));
        await Taken(odile, "float", ("pieces-25", "11"));
        Assert.Equal(11, (await _shop.SetUp()).Denominations.Single(d => d.Worth.Minor == 25).Kept);
    }

    [Fact]
    public async Task A_terminal_stands_at_one_register()
    {
        var odile = await Odile();
        await Taken(odile, "registers", ("lane", "2"));
        var page = await Asked(odile, "cards", ("terminal-L2", "T-01"));
        Assert.Equal("T-01 stands at another register already.", Says(page));
        Assert.Equal("Times look like 17:40.", Says(await Asked(odile, "cards", ("settlesAt", "tea time"))));
        Assert.Contains("row 1, terminal", Says(await Asked(odile, "cards", ("terminal-L1", "T 01"))), StringComparison.Ordinal);
        await Taken(odile, "cards", ("terminal-L1", ""), ("terminal-L2", "4711"), ("settlesAt", "2230"));
        var terminal = Assert.Single((await _shop.SetUp()).Terminals);
        Assert.Equal(("4711", "L2", new TimeOnly(22, 30)), (terminal.Terminal.Value, terminal.Register.Value, terminal.SettlesAt));
    }

    [Fact]
    public async Task People_sign_in_with_the_pin_that_they_were_given_and_whoever_approves_takes_a_second_manager()
    {
        var odile = await Odile();
        var page = await Asked(odile, "people",
            ("names", "Ansel Ruiz\nDara Petrov; auditor\nEsme Whitlock, supervisor\nBryn Halloran, clerk"));
        Assert.Contains("takes two people", Says(page), StringComparison.Ordinal);
        Assert.Equal("Esme Whitlock, supervisor\nBryn Halloran, clerk", page.QuerySelector<IHtmlTextAreaElement>("textarea")!.Value);
        var pins = page.QuerySelectorAll("main code").Select(c => c.TextContent).ToList();
        Assert.Equal(2, pins.Count);
        Assert.Equal(["p01 Manager", "p02 Manager", "p03 Cashier", "p04 Auditor"],
            (await _shop.SetUp()).People.Select(p => $"{p.Id} {p.Role}"));

        var ansel = await _shop.SignedIn("p03", pins[0]);
        Assert.Contains("PIN", (await ansel.Page("/pin")).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        page = await Asked(odile, "people", ("names", "Esme Whitlock, supervisor\nBryn Halloran, clerk"), ("second", "p02"),
            ("second-pin", "7410"));
        Assert.Contains("clerk is no role here", Says(page), StringComparison.Ordinal);
        Assert.Equal("Bryn Halloran, clerk", page.QuerySelector<IHtmlTextAreaElement>("textarea")!.Value);
        await Taken(odile, "people", ("names", ""));
        Assert.Equal(5, (await _shop.SetUp()).People.Length);
    }

    [Fact]
    public async Task The_first_day_asks_once_what_the_safe_holds()
    {
        var odile = await Odile();
        await Taken(odile, "rules");
        using var begun = await odile.Post("/days?handler=Begin", [], "/store");
        var open = begun.Headers.Location!.OriginalString;
        var safe = open.Replace("/open", "/safe", StringComparison.Ordinal);
        Assert.Equal(safe, (await odile.Page(open)).QuerySelector("main [autofocus]")!.GetAttribute("href"));
        await odile.Post($"{safe}?handler=Move", new()
        {
            ["form"] = Guid.NewGuid().ToString(),
            ["kind"] = "Opening",
            ["amount"] = "1,000",
            ["reason"] = "as found"
        }, safe);
        Assert.Equal($"{open}/L1", (await odile.Page(open)).QuerySelector("main [autofocus]")!.GetAttribute("href"));
        Assert.Contains("1,000.00 should be loose in the safe", (await odile.Page(safe)).QuerySelector("h1")!.TextContent,
            StringComparison.Ordinal);
        await odile.Post($"{open}/L1", new() { ["form"] = Guid.NewGuid().ToString(), ["accept"] = "true" }, $"{open}/L1");
        Assert.Contains("800.00 should be loose in the safe", (await odile.Page(safe)).QuerySelector("h1")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task Every_question_can_wait_and_none_is_asked_once_a_day_has_begun()
    {
        var odile = await Odile();
        using (var home = await odile.Get("/"))
        {
            Assert.Equal("/store", home.Headers.Location!.OriginalString);
        }

        foreach (var question in FirstQuestion.All)
        {
            var page = await odile.Page(Address(question.Name));
            Assert.Equal(question.Next, page.QuerySelector(".go-on a")!.GetAttribute("href"));
        }

        Assert.Null(await _shop.Ask<Fondo.Store.SetUp.SetupBook, Fondo.Store.SetUp.HeldSetup?>(b => b.Now()));
        await Taken(odile, "rules", ("cashTolerance", "5"));
        await Taken(odile, "rules", ("cashTolerance", "50")); // nothing is controlled yet
        Assert.Equal("The store is set up.", (await odile.Page("/store")).QuerySelector("h1")!.TextContent);
        var begin = (await odile.Page("/store")).QuerySelector<IHtmlFormElement>("form[action*=Begin]")!;
        Assert.NotNull(begin.QuerySelector("[name=__RequestVerificationToken]"));
        await odile.Post(begin.GetAttribute("action")!, [], "/store");
        using var again = await odile.Get(Address("rules"));
        Assert.Equal("/store", again.Headers.Location!.OriginalString);
        using var late = await odile.Post(Address("rules"), new() { ["cashTolerance"] = "500" }, "/store");
        Assert.Equal("/store", late.Headers.Location!.OriginalString);
        Assert.Equal(50_00, (await _shop.SetUp()).Policy.CashTolerance.Minor);
    }
}
