using System.Net;
using Fondo.Core.Matching;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>Journal and batch side by side: pair, part, release, with a reason; nothing automatic overrides it.</summary>
public sealed class PairingByHand : IAsyncLifetime
{
    private const string Page = Shop.Day + "/pairing";

    private static readonly DateOnly _today = new(2026, 11, 21);

    private readonly Shop _shop = new();

    public ValueTask InitializeAsync() => _shop.InitializeAsync();

    public ValueTask DisposeAsync() => _shop.DisposeAsync();

    private Task<DayView> View() => _shop.Ask(async (DayStore days) => (await days.View(_today))!);

    private static async Task<HttpResponseMessage> Post(Visitor who, string what, string? reason, Guid form, params string[] items)
    {
        List<KeyValuePair<string, string>> fields = [
            new("__RequestVerificationToken", await who.Token(Page)),
            new("form", form.ToString()),
            new("what", what),
            new("reason", reason ?? ""),
            .. items.Select(i => KeyValuePair.Create("item", i))
        ];
        return await who.Client.PostAsync(Page, new FormUrlEncodedContent(fields));
    }

    [Fact]
    public async Task What_a_person_parts_and_pairs_stands()
    {
        var odile = await _shop.SignedIn();
        var page = await odile.Page(Page);
        Assert.NotEmpty(page.QuerySelectorAll(".pairing-picture path"));
        var stray = (await View()).Overview.Unlike
            .First(m => m.Journal[0].Cell.Register!.Value.Value == "L2" && m.Rows[0].Cell.Register!.Value.Value == "L3");
        var (journal, row) = (stray.Journal[0].Key, stray.Rows[0].Key);

        async Task<string> Refused(string what, string? reason, params string[] items) =>
            (await Visitor.Read(await Post(odile, what, reason, Guid.NewGuid(), items))).QuerySelector("#pairing-says")!.TextContent;
        Assert.Contains("Give a reason", await Refused("Pair", " ", journal, row), StringComparison.Ordinal);
        Assert.Contains("needs items on both sides", await Refused("Pair", "why", journal), StringComparison.Ordinal);
        Assert.Contains("is gone or needs no settled row", await Refused("Pair", "why", journal, "T-99/1/1"), StringComparison.Ordinal);
        Assert.Contains("Choose what belongs together", await Refused("Pair", "why"), StringComparison.Ordinal);

        var form = Guid.NewGuid();
        for (var i = 0; i < 2; i++)
        {
            Assert.Equal(HttpStatusCode.Redirect, (await Post(odile, "Part", "another card", form, journal, row)).StatusCode);
        }

        Assert.Equal(1, await _shop.InStore(db => db.Pairings.CountAsync()));
        Assert.Subset((await View()).Reconciliation.OpenItems.Select(o => o.Item.Key).ToHashSet(), new HashSet<string> { journal, row });
        Assert.Equal(HttpStatusCode.Redirect,
            (await Post(odile, "Pair", "the same card after all", Guid.NewGuid(), journal, row)).StatusCode);
        var hand = Assert.Single((await View()).Reconciliation.Matches, m => m.Rule == MatchRule.ByHand);
        Assert.Equal((journal, row), (hand.Journal[0].Key, hand.Rows[0].Key));
        Assert.Contains("matched by hand", (await odile.Page(Page)).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("the same card after all", (await odile.Page(Page)).Body!.TextContent, StringComparison.Ordinal);

        // A restart reads the same; the trail and the records are whole.
        Assert.Single((await _shop.Ask(async (DayStore days) => await days.Afresh(_today))).Reconciliation.Matches,
            m => m.Rule == MatchRule.ByHand);
        Assert.Null((await _shop.Ask((Store.Trails.Verification v) => v.Run())).Break);
    }

    /// <summary>A file taken in afterwards leaves the pair: the day that is shown is the day that a restart would show.</summary>
    [Fact]
    public async Task A_pair_stands_when_a_file_comes_in_behind_it()
    {
        var odile = await _shop.SignedIn();
        var open = (await View()).Reconciliation.OpenItems.First(o => o.Side == OpenIn.Batch && o.Item.CarriedFrom is null);
        var tender = (await View()).Reconciliation.OpenItems.First(o => o.Side == OpenIn.Journal);
        await Post(odile, "Pair", "seen on the slip", Guid.NewGuid(), open.Item.Key, tender.Item.Key);
        var row = "terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n"
            + "T-01,901,1,2026-11-21T18:00:00-05:00,sale,1.00,,,heron,1234,900001,900001,chip,\n";
        Assert.True((await _shop.Ask((DayIntake intake) => intake.Take(
            [new("batches.csv", () => new MemoryStream(System.Text.Encoding.UTF8.GetBytes(row)))], _today, "p01"))).IsTaken);
        var hand = Assert.Single((await View()).Reconciliation.Matches, m => m.Rule == MatchRule.ByHand);
        Assert.Equal(tender.Item.Key, hand.Journal[0].Key);
    }

    /// <summary>The row that was paired comes in anew with another amount: the pair stands, and says so.</summary>
    [Fact]
    public async Task A_row_that_is_replaced_stays_paired_and_the_page_says_that_it_changed()
    {
        var odile = await _shop.SignedIn();
        var open = (await View()).Reconciliation.OpenItems.First(o => o.Side == OpenIn.Batch && o.Item.CarriedFrom is null);
        var tender = (await View()).Reconciliation.OpenItems.First(o => o.Side == OpenIn.Journal);
        await Post(odile, "Pair", "seen on the slip", Guid.NewGuid(), open.Item.Key, tender.Item.Key);
        var key = open.Item.Key;
        await _shop.Tamper(async db =>
        {
            var record = await db.Records.SingleAsync(r => r.Key == key);
            var text = record.Json.Replace($"{open.Item.Amount.Minor / 100m:0.00}", "99.99", StringComparison.Ordinal);
            return await db.Records.Where(r => r.Id == record.Id).ExecuteUpdateAsync(s => s.SetProperty(r => r.Json, text));
        });
        var view = await _shop.Ask(async (DayStore days) => await days.Afresh(_today));
        var hand = Assert.Single(view.Reconciliation.Matches, m => m.Rule == MatchRule.ByHand);
        Assert.Equal(99_99, hand.Rows[0].Amount.Minor);
        Assert.Equal([tender.Item.Amount.Minor, open.Item.Amount.Minor], Assert.Single(view.Day.Pairings).Seen.Select(m => m.Minor));
    }

    [Fact]
    public async Task An_auditor_reads_and_a_cashier_does_not()
    {
        var auditor = await _shop.SignedIn("p21", "9631");
        Assert.Null((await auditor.Page(Page)).QuerySelector("button[value=Pair]"));
        await Post(auditor, "Part", "why", Guid.NewGuid(), "x");
        Assert.Equal(0, await _shop.InStore(db => db.Pairings.CountAsync()));
        Assert.NotEqual(HttpStatusCode.OK, (await (await _shop.Cashier()).Get(Page)).StatusCode);
    }
}
