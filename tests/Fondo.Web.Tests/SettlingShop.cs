using System.Globalization;
using System.Net;
using Fondo.Standins.Terminals;
using Fondo.Store.Days;
using Fondo.Store.Settling;
using Fondo.Web.Settling;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>A shop whose terminals hold cards, and the hand that settles them.</summary>
public abstract class SettlingShop : IAsyncLifetime
{
    protected const string Page = Shop.Day + "/settle";

    protected static readonly DateOnly Today = new(2026, 11, 21);

    protected virtual Shop House { get; } = new();

    protected Visitor Odile { get; set; } = null!;

    protected int Number { get; set; } = 900_000;

    protected TerminalHost Host => House.Services.GetRequiredService<StandInHost>().Processor;

    public async ValueTask InitializeAsync()
    {
        await House.InitializeAsync();
        Odile = await House.SignedIn();
        Host.Silence = TimeSpan.FromMilliseconds(30);
        await Send(
            $$"""{"id":"L1-{{++Number}}","register":"L1","drawer":"L1-C","cashier":"p11","at":"{{At()}}","kind":"open","amount":"200.00"}""");
    }

    public async ValueTask DisposeAsync()
    {
        await House.DisposeAsync();
        GC.SuppressFinalize(this);
    }

    protected string At() => TimeZoneInfo.ConvertTime(House.Clock.GetUtcNow(), TimeZoneInfo.FindSystemTimeZoneById("America/New_York"))
        .ToString("yyyy-MM-ddTHH:mm:sszzz", CultureInfo.InvariantCulture);

    protected static string Text(long minor) => (minor / 100m).ToString("0.00", CultureInfo.InvariantCulture);

    protected HeldRow Held(string amount, string rrn) =>
        new(House.Clock.GetUtcNow(), false, (long)(decimal.Parse(amount, CultureInfo.InvariantCulture) * 100), 0, 0, "heron", "4417",
            $"A{rrn[^5..]}", rrn, "chip", null);

    /// <summary>A card sale, in the journal and on the terminal.</summary>
    protected async Task Sell(string amount, string rrn, string register = "L1", string terminal = "T-01")
    {
        House.Clock.Advance(TimeSpan.FromSeconds(1));
        await Send($$"""
            {"id":"{{register}}-{{++Number}}","register":"{{register}}","drawer":"{{register}}-C","cashier":"p11","at":"{{At()}}","kind":"sale","lines":[{"sku":"M301","name":"x","qty":"1","amount":"{{amount}}","tax":"0.00","taxRate":"0","ebt":false}],"subtotal":"{{amount}}","discount":"0.00","tax":"0.00","fee":"0.00","rounding":"0.00","total":"{{amount}}","tenders":[{"type":"credit","amount":"{{amount}}","terminal":"{{terminal}}","brand":"heron","card":"4417","auth":"A{{rrn[^5..]}}","rrn":"{{rrn}}","entry":"chip"}]}
            """.Trim(), register);
        Host.Take(terminal, Held(amount, rrn));
    }

    protected async Task Send(string line, string register = "L1")
    {
        using var client = await House.Register(register);
        Assert.Empty((await Shop.Send(client, register, line)).Aside);
    }

    /// <summary>What the page sends for a terminal, or for all that agree.</summary>
    protected async Task<List<KeyValuePair<string, string>>> Form(string which)
    {
        return Form(await Odile.Page(Page), which);
    }

    protected static List<KeyValuePair<string, string>> Form(AngleSharp.Dom.IDocument page, string which)
    {
        string Value(string name) => page.QuerySelector($"input[name={name}]")!.GetAttribute("value")!;
        return
        [
            new("form", Value("form")), new("made", Value("made")), new("which", which),
            new("__RequestVerificationToken", Value("__RequestVerificationToken")),
            .. page.QuerySelectorAll(".settle-all input[name=shown]")
                .Select(i => new KeyValuePair<string, string>("shown", i.GetAttribute("value")!)),
        ];
    }

    protected async Task Settle(string which)
    {
        using var answer = await Odile.Client.PostAsync(Page, new FormUrlEncodedContent(await Form(which)));
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
    }

    protected async Task<AngleSharp.Dom.IDocument> SettleForPage(string which)
    {
        using var answer = await Odile.Client.PostAsync(Page, new FormUrlEncodedContent(new Dictionary<string, string>
        {
            ["form"] = $"{Guid.NewGuid()}",
            ["made"] = House.Clock.GetUtcNow().ToString("O"),
            ["which"] = which,
            ["shown"] = new SeenOnTerminal(which, Agrees: true, Number: 1, Net: 6400).Text,
            ["__RequestVerificationToken"] = await Odile.Token("/find"),
        }));
        return await Visitor.Read(answer);
    }

    protected async Task Rounds()
    {
        using var scope = House.Services.CreateScope();
        await scope.ServiceProvider.GetRequiredService<Settler>().Round(CancellationToken.None);
    }

    protected Task<IReadOnlyList<Settlement>> Settlements() => House.Ask<SettlementDesk, IReadOnlyList<Settlement>>(d => d.Of(Today));

    protected async Task<Settlement> Latest() => (await Settlements())[0];

    protected async Task<DayView> View() => (await House.Ask<DayStore, DayView?>(d => d.View(Today)))!;

    protected DayView ViewNow() => View().GetAwaiter().GetResult();

    protected static string RowOf(AngleSharp.Dom.IDocument page, string terminal) => page.QuerySelectorAll("table.settle > tbody")
        .First(t => t.QuerySelector("th")!.TextContent == terminal).QuerySelector("tr")!.TextContent;
}
