using System.Net;
using System.Text;
using AngleSharp.Dom;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Store.Days;
using Fondo.Store.Treasury;

namespace Fondo.Web.Tests;

/// <summary>A bag of 400.00 of which the bank credits 300.00 on a day that is closed, and never the rest: a person stops waiting, claims
/// the rest, and the day closes with nothing on its way.</summary>
public sealed class NothingMoreComes : SmallShop
{
    private static readonly DateOnly _first = new(2026, 11, 23), _second = new(2026, 11, 24), _third = new(2026, 11, 27);

    private const string Bank = "/2026-11-27/bank";

    [Fact]
    public async Task The_rest_of_a_deposit_that_never_comes_is_claimed()
    {
        var odile = await ThirdDay();
        var page = await odile.Page(Bank);
        var stop = page.QuerySelectorAll("a").Single(a => a.TextContent == "Stop waiting");
        Assert.Contains("late by", stop.ParentElement!.ParentElement!.TextContent, StringComparison.Ordinal);
        var slip = (await odile.Page(stop.GetAttribute("href")!.Split('#')[0])).QuerySelector("#expected")!;
        Assert.Contains("100.00 is still expected", slip.TextContent, StringComparison.Ordinal);
        var form = slip.QuerySelectorAll("form input[type=hidden]")
            .ToDictionary(i => i.GetAttribute("name")!, i => i.GetAttribute("value")!);
        Task<IDocument> Decide(Dictionary<string, string> fields) => odile.PostForPage($"{Bank}?handler=Expect", fields, Bank);
        Assert.Contains("reason", Objections(await Decide(form)), StringComparison.OrdinalIgnoreCase);

        // Twice by the same form is once; what is no deposit, and what left today, is refused.
        form["reason"] = "The bank found nothing more in the bag";
        await odile.Post($"{Bank}?handler=Expect", form, Bank);
        await odile.Post($"{Bank}?handler=Expect", form, Bank);
        foreach (var other in new[] { "deposit:9", "claim:x", "" })
        {
            Assert.NotEqual("", Objections(await Decide(new(form) { ["form"] = Guid.NewGuid().ToString(), ["target"] = other })));
        }

        page = await odile.Page(Bank);
        Assert.Contains("nothing more is expected", page.Body!.TextContent, StringComparison.Ordinal);
        var view = await View();
        Assert.Empty(view.Money.Bank.End.Deposits);
        Assert.Equal(-100_00, view.Bridges[new CellKey.Deposit(1)].Left!.Value.Minor);
        Assert.Contains("nothing-more: deposit:1", (await odile.Page("/trail")).Body!.TextContent, StringComparison.Ordinal);

        // Expected again and given up again: the last word counts.
        await odile.Post($"{Bank}?handler=Expect", Form("true"), Bank);
        Assert.Equal(100_00, Assert.Single((await View()).Money.Bank.End.Deposits).Outstanding.Minor);
        await odile.Post($"{Bank}?handler=Expect", Form("false"), Bank);

        Assert.Null((await Own.Ask((Resolving r) => r.Add(_third, Guid.NewGuid(), [new(EntryKind.Claim,
            [new(new CellKey.Deposit(1), new(-100_00))],
            new EntryDetail.Owed(ClaimParty.Bank, true, new("p01"), new DateTimeOffset(2026, 12, 20, 0, 0, 0, TimeSpan.Zero)),
            "The bank counts the bag again", [])], Odile))).Objection);
        var waiting = (await View()).Entries.Where(e => !e.Holds).Select(e => e.Id).ToList();
        Assert.Equal(1, (await Own.Ask((Resolving r) => r.Sign(_third, waiting, Tamsin))).Approved);
        Assert.Contains("An entry already explains", Objections(await Decide(Form("true"))), StringComparison.Ordinal);
        await Close(odile, _third);
        var where = ClosingDesk.Read((await View()).Close!).Whereabouts!;
        Assert.Empty(where.OpenDeposits);
        Assert.Equal("100.00", Assert.Single(where.Claims).Amount);

        Dictionary<string, string> Form(string again) => new(form) { ["form"] = Guid.NewGuid().ToString(), ["again"] = again };
    }

    private Task<DayView> View() => Own.Ask(async (DayStore days) => (await days.View(_third))!);

    private static string Objections(IDocument page) =>
        string.Join(' ', page.QuerySelectorAll(".objection").Select(o => o.TextContent.Trim())).Trim();

    /// <summary>Two closed days, on the second of which a part of the bag was credited, and trade on a third.</summary>
    private async Task<Visitor> ThirdDay()
    {
        Own.Clock.SetUtcNow(new DateTimeOffset(2026, 11, 23, 21, 0, 0, TimeSpan.FromHours(-5)));
        var odile = await BeginShop();
        await Trade(odile, "2026-11-23", cards: 0);
        Assert.Null((await Own.Ask((SafeDesk desk) =>
            desk.Move(_first, new(Guid.NewGuid(), SafeMovementKind.Opening, "5000.00", "what lay there"), Odile, Tamsin))).Objection);
        Assert.Null((await Own.Ask((DepositDesk desk) =>
            desk.Seal(_first, Guid.NewGuid(), "70401", new Dictionary<long, string> { [2000] = "20" }, [], Odile, Tamsin))).Objection);
        Assert.Null((await Own.Ask((DepositDesk desk) => desk.HandOver(1, "Ferry Lane carriers", "S1", Odile))).Objection);
        await Close(odile, _first);
        odile = await On(_second);
        await Trade(odile, "2026-11-24", cards: 0);
        using var statement = new MultipartFormDataContent
        {
            { new StringContent(await odile.Token("/2026-11-24/bank")), "__RequestVerificationToken" },
            {
                new ByteArrayContent(Encoding.UTF8.GetBytes(
                    "statement,account,currency,from,to,opening,closing,booked,amount,reference,text,items\n"
                        + "ST-1,4471,USD,2026-11-24,2026-11-24,100.00,400.00,2026-11-24,300.00,R-1,PART OF 70401,\n")),
                "statement", "statement.csv"
            },
        };
        Assert.Equal(HttpStatusCode.Redirect, (await odile.Client.PostAsync("/2026-11-24/bank", statement)).StatusCode);
        await Close(odile, _second);
        odile = await On(_third);
        await Trade(odile, "2026-11-27", cards: 0);
        return odile;
    }

    private Task<Visitor> On(DateOnly day)
    {
        Own.Clock.SetUtcNow(new DateTimeOffset(day, new(21, 0), TimeSpan.FromHours(-5)));
        return Own.SignedIn();
    }
}
