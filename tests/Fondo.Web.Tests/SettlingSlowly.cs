using Fondo.Standins.Terminals;
using Fondo.Store.Model;
using Fondo.Store.Settling;

namespace Fondo.Web.Tests;

/// <summary>A processor that takes its time: pages say how far it is and wait for nobody.</summary>
public sealed class SettlingSlowly : SettlingShop
{
    protected override Shop House { get; } = new() { PageWait = TimeSpan.FromMilliseconds(20) };

    [Fact]
    public async Task A_page_shows_what_is_asked_and_looks_again_without_asking_twice()
    {
        await Sell("64.00", "R00000000001");
        Host.Fault = HostFault.Slow;
        var page = await Odile.Page(Page);
        Assert.Equal("Asking the terminals what they hold.", page.QuerySelector("h1")!.TextContent);
        Assert.Contains("asking", RowOf(page, "T-01"), StringComparison.Ordinal);
        var again = page.QuerySelector("#settle-now")!.GetAttribute("hx-get")!;
        page = await Until(again, p => RowOf(p, "T-01").Contains("1 · 64.00", StringComparison.Ordinal));
        page = await Until(again, p => !RowOf(p, "T-02").Contains("asking", StringComparison.Ordinal));
        Assert.Null((await Until(again, p => !p.Body!.TextContent.Contains("asking", StringComparison.Ordinal)))
            .QuerySelector("#settle-now")!.GetAttribute("hx-get"));
    }

    [Fact]
    public async Task A_settlement_goes_on_behind_the_page_and_shows_each_step()
    {
        await Sell("64.00", "R00000000001");
        var shown = await Until(Page, p => RowOf(p, "T-01").Contains("counts and amounts match", StringComparison.Ordinal));
        var form = Form(shown, "T-01");
        Host.Fault = HostFault.Slow;
        await Odile.Client.PostAsync(Page, new FormUrlEncodedContent(form));
        Assert.Contains((await Latest()).State, (SettlementState[])[SettlementState.Ordered, SettlementState.Sent]);
        var page = await Odile.Page(Page);
        Assert.Equal("Settling 1 terminal.", page.QuerySelector("h1")!.TextContent);
        Assert.NotNull(page.QuerySelector("#settle-now")!.GetAttribute("hx-get"));
        await Until(Page, p => RowOf(p, "T-01").Contains("settled here", StringComparison.Ordinal));
        Assert.Equal(SettlementState.TakenIn, (await Latest()).State);
        Assert.Single(Host.Batches(DateTimeOffset.MinValue));
    }

    /// <summary>Nobody is told later that a terminal settled of which nobody thought any more.</summary>
    [Fact]
    public async Task An_order_that_a_stopped_program_left_is_never_sent()
    {
        await Sell("64.00", "R00000000001");
        await House.Ask<SettlementDesk, SettlementBegun>(d =>
            d.Begin(Today, "T-01", Guid.NewGuid(), Shop.Odile, House.Clock.GetUtcNow()));
        await Rounds();
        Assert.Equal((SettlementState.NotSettled, "Fondo stopped before it was sent. Nothing was sent."),
            ((await Latest()).State, (await Latest()).Says));
        Assert.Empty(Host.Batches(DateTimeOffset.MinValue));
    }

    /// <summary>Two people with the same page: one of them settles, the other is told who did.</summary>
    [Fact]
    public async Task Two_people_press_at_once_and_it_is_settled_once()
    {
        await Sell("64.00", "R00000000001");
        var tamsin = await House.SignedIn("p02", "7410");
        var shown = await Until(Page, p => RowOf(p, "T-01").Contains("counts and amounts match", StringComparison.Ordinal));
        var (mine, hers) = (Form(shown, "T-01"), Form(await tamsin.Page(Page), "T-01"));
        hers.RemoveAll(f => f.Key == "shown");
        hers.AddRange(mine.Where(f => f.Key == "shown"));
        Host.Fault = HostFault.Slow;
        await Task.WhenAll(Odile.Client.PostAsync(Page, new FormUrlEncodedContent(mine)),
            tamsin.Client.PostAsync(Page, new FormUrlEncodedContent(hers)));
        await Until(Page, p => RowOf(p, "T-01").Contains("settled here", StringComparison.Ordinal));
        Assert.Single(await Settlements());
        Assert.Single(Host.Batches(DateTimeOffset.MinValue));
    }

    private async Task<AngleSharp.Dom.IDocument> Until(string href, Func<AngleSharp.Dom.IDocument, bool> isSo)
    {
        for (var look = 0; ; look++)
        {
            var page = await Odile.Page(href);
            if (isSo(page))
            {
                return page;
            }

            Assert.True(look < 600, page.QuerySelector("main")!.TextContent);
            await Task.Delay(50, TestContext.Current.CancellationToken);
        }
    }
}
