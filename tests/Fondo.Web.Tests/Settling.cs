using System.Net;
using Fondo.Core.Closing;
using Fondo.Standins.Terminals;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Web.Settling;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Settling over the wire: every fault of the processor ends in a right state, or in a clear question; nothing is ever sent
/// twice.</summary>
public sealed class Settling : SettlingShop
{
    [Fact]
    public async Task What_agrees_settles_and_its_batch_proves_the_day()
    {
        await Sell("64.00", "R00000000001");
        await Sell("12.93", "R00000000002");
        var page = await Odile.Page(Page);
        Assert.Contains("2 · 76.93", RowOf(page, "T-01"), StringComparison.Ordinal);
        Assert.Contains("counts and amounts match", RowOf(page, "T-01"), StringComparison.Ordinal);
        await Settle("T-01");
        var settlement = await Latest();
        Assert.Equal((SettlementState.TakenIn, true), (settlement.State, settlement.Batch is not null));
        var rows = (await View()).Day.Rows!.Value.Where(r => r.Key.Terminal.Value == "T-01" && r.Key.Batch == settlement.Batch).ToList();
        Assert.Equal([1293L, 6400L], rows.Select(r => r.Amount.Minor).Order());
        Assert.All(rows, r => Assert.Contains((ViewNow().Reconciliation.Matches),
            m => m.Rows.Any(x => x.Row!.Key == r.Key) && m.Rule == Core.Matching.MatchRule.Reference));
        Assert.Contains($"batch {settlement.Batch}", RowOf(await Odile.Page(Page), "T-01"), StringComparison.Ordinal);
    }

    /// <summary>One press for all that agree; what differs waits for a look.</summary>
    [Fact]
    public async Task All_that_agree_settle_at_once()
    {
        foreach (var (register, terminal) in new[] { ("L1", "T-01"), ("L2", "T-02"), ("L3", "T-03"), ("L4", "T-04"), ("SA", "T-05") })
        {
            await Sell("64.00", $"R000000000{terminal[^2..]}", register, terminal);
        }

        Host.Take("T-05", Held("5.00", "R00000000099"));
        var page = await Odile.Page(Page);
        // T-09 of the demo's evening among them
        Assert.Contains("5 terminals that match", page.QuerySelector("button[data-main]")!.TextContent, StringComparison.Ordinal);
        await Settle("agreeing");
        Assert.Equal(["T-01", "T-02", "T-03", "T-04", "T-09"],
            (await Settlements()).Where(s => s.State == SettlementState.TakenIn).Select(s => s.Terminal).Order());
        page = await Odile.Page(Page);
        Assert.Contains("+5.00, 1 in number", RowOf(page, "T-05"), StringComparison.Ordinal);
        Assert.Contains("On the terminal, not in the journal: void it there if it should not be charged",
            page.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
    }

    /// <summary>The answer got lost after the batch was closed: it is asked, not sent again.</summary>
    [Fact]
    public async Task After_a_time_out_the_processor_is_asked_what_happened()
    {
        await Sell("64.00", "R00000000001");
        Host.Fault = HostFault.TimesOut;
        await Settle("T-01");
        var waiting = await Latest();
        Assert.Equal((SettlementState.Unknown, House.Clock.GetUtcNow() + TimeSpan.FromSeconds(15)), (waiting.State, waiting.NextAt));
        Assert.Contains("so Fondo does not know whether it settled", RowOf(await Odile.Page(Page), "T-01"), StringComparison.Ordinal);

        // Nothing is sent meanwhile, however often somebody presses.
        Host.Fault = HostFault.None;
        Assert.Contains("is already settling", (await SettleForPage("T-01")).QuerySelector("main")!.TextContent,
            StringComparison.Ordinal);
        await Rounds(); // its batch is among those that closed since, before the time to ask has come
        Assert.Equal(SettlementState.TakenIn, (await Latest()).State);
        Assert.Single(Host.Batches(DateTimeOffset.MinValue));
        Assert.Single((await View()).Day.Rows!.Value, r => r.Card.Rrn == "R00000000001");
    }

    /// <summary>Rules §5: not found so soon after silence is no answer. What was sent is still on its way, and arrives.</summary>
    [Fact]
    public async Task Not_found_at_once_is_not_believed_and_a_batch_that_comes_ends_the_question()
    {
        await Sell("64.00", "R00000000001");
        Host.Fault = HostFault.LosesOrders;
        await Settle("T-01");
        Host.Fault = HostFault.None;
        House.Clock.Advance(TimeSpan.FromSeconds(16));
        await Rounds();
        Assert.Equal(SettlementState.Unknown, (await Latest()).State);
        Assert.Contains("may still be on its way", (await Latest()).Says, StringComparison.Ordinal);
        Assert.Contains("is already settling", (await SettleForPage("T-01")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);

        House.Clock.Advance(TimeSpan.FromSeconds(5));
        Host.SettlePlayed("T-01", House.Clock.GetUtcNow()); // it arrives, and the host has lost its key
        await Rounds();
        Assert.Equal(SettlementState.TakenIn, (await Latest()).State);
        Assert.Single(Host.Batches(DateTimeOffset.MinValue));
        Assert.Single((await View()).Day.Rows!.Value, r => r.Card.Rrn == "R00000000001");
    }

    [Fact]
    public async Task After_ten_minutes_not_found_is_an_answer()
    {
        await Sell("64.00", "R00000000001");
        Host.Fault = HostFault.LosesOrders;
        await Settle("T-01");
        var sent = (await Latest()).At;
        Host.Fault = HostFault.None;
        for (var asked = 0; asked < 20 && (await Latest()) is { IsDone: false, NextAt: { } next }; asked++)
        {
            Assert.True(next <= sent + TimeSpan.FromMinutes(10));
            House.Clock.Advance(next - House.Clock.GetUtcNow());
            await Rounds();
        }

        var last = await Latest();
        Assert.Equal((SettlementState.NotSettled, sent + TimeSpan.FromMinutes(10)), (last.State, last.ChangedAt));
    }

    /// <summary>Rules §5: every batch since the last one known, however long Fondo was off; and a number that comes round again is another
    /// batch.</summary>
    [Fact]
    public async Task After_a_week_off_every_batch_is_asked_for_also_one_of_a_number_that_was_there()
    {
        await Sell("64.00", "R00000000001");
        await Settle("T-01");
        var number = (await Latest()).Batch!;
        House.Clock.Advance(TimeSpan.FromDays(1));
        var sold = House.Clock.GetUtcNow();
        await Send(
            $$"""{"id":"L1-{{++Number}}","register":"L1","drawer":"L1-D","cashier":"p11","at":"{{At()}}","kind":"open","amount":"200.00"}""");
        Host.Take("T-01", Held("9.00", "R00000000009"));
        Host.SettlePlayed("T-01", sold);
        Host.Renumber("T-01", number);
        House.Clock.Advance(TimeSpan.FromDays(7));
        House.Services.GetRequiredService<SettlementWatch>().LastTold = null; // it was off meanwhile
        await Rounds();
        Assert.Empty(House.Services.GetRequiredService<SettlementWatch>().Troubles);
        var next = (await House.Ask<DayStore, DayView?>(d => d.View(Today.AddDays(1))))!;
        Assert.Equal((number, "R00000000009"), next.Day.Rows!.Value.Select(r => (r.Key.Batch, r.Card.Rrn)).Single());
    }

    /// <summary>The processor never heard of it: nothing was settled, and it can be sent again.</summary>
    [Fact]
    public async Task What_never_arrived_can_be_settled_again()
    {
        await Sell("64.00", "R00000000001");
        var form = await Form("T-01");
        Host.Fault = HostFault.Silent; // once the page is there
        await Odile.Client.PostAsync(Page, new FormUrlEncodedContent(form));
        Assert.Equal(SettlementState.NotSettled, (await Latest()).State);
        Assert.Equal("The processor does not answer. Nothing was sent.", (await Latest()).Says);
        House.Clock.Advance(TimeSpan.FromSeconds(1));
        Host.Fault = HostFault.None;
        Host.Fault = HostFault.LosesOrders;
        await Settle("T-01");
        Host.Fault = HostFault.Silent;
        Assert.Equal(SettlementState.Unknown, (await Latest()).State);
        var waits = new List<TimeSpan>();
        for (var i = 0; i < 7; i++)
        {
            House.Clock.Advance((await Latest()).NextAt!.Value - House.Clock.GetUtcNow());
            await Rounds();
            waits.Add((await Latest()).NextAt!.Value - House.Clock.GetUtcNow());
        }

        // a stated time, each later than the one before, ten minutes at most
        Assert.Equal(new[] { 30.0, 60, 120, 240, 480, 600, 600 }, waits.Select(w => w.TotalSeconds));
        Host.Fault = HostFault.None;
        House.Clock.Advance(TimeSpan.FromMinutes(11));
        await Rounds();
        Assert.Equal(SettlementState.NotSettled, (await Latest()).State);
        Assert.Empty(Host.Batches(DateTimeOffset.MinValue));
        Odile = await House.SignedIn();
        await Settle("T-01");
        Assert.Equal(SettlementState.TakenIn, (await Latest()).State);
        Assert.Single(Host.Batches(DateTimeOffset.MinValue));
    }

    [Fact]
    public async Task A_refusal_is_told_and_nothing_is_settled()
    {
        await Sell("64.00", "R00000000001");
        Host.Fault = HostFault.Refuses;
        await Settle("T-01");
        Assert.Equal(SettlementState.NotSettled, (await Latest()).State);
        Assert.Contains("refuses to settle this terminal now", RowOf(await Odile.Page(Page), "T-01"), StringComparison.Ordinal);
        Assert.Empty(Host.Batches(DateTimeOffset.MinValue));
    }

    [Fact]
    public async Task A_batch_that_is_told_of_twice_is_there_once()
    {
        await Sell("64.00", "R00000000001");
        Host.Fault = HostFault.SendsTwice;
        Host.SettlePlayed("T-01", House.Clock.GetUtcNow());
        await Rounds();
        await Rounds();
        Assert.Single((await View()).Day.Rows!.Value, r => r.Card.Rrn == "R00000000001");
        Assert.Empty(House.Services.GetRequiredService<SettlementWatch>().Troubles);
    }

    [Fact]
    public async Task A_batch_with_rows_missing_is_incomplete()
    {
        await Sell("64.00", "R00000000001");
        await Sell("12.93", "R00000000002");
        Host.Fault = HostFault.RowsMissing;
        await Settle("T-01");
        var batch = (await Latest()).Batch;
        var view = await View();
        Assert.Contains(view.Gates.Single(g => g.Id == GateId.Batches).Left,
            i => i.Key == $"T-01/{batch}" && i.Says(view.Setup).Contains("the host settled 2 for 76.93, but the rows show 1 for 64.00",
                StringComparison.Ordinal));
    }

    [Fact]
    public async Task What_was_left_behind_still_waits_and_settles_the_next_time()
    {
        for (var i = 1; i <= 4; i++)
        {
            await Sell($"{i}0.00", $"R0000000000{i}");
        }

        Host.Fault = HostFault.LeavesBehind;
        await Settle("T-01");
        Host.Fault = HostFault.None;
        Assert.Contains("3 · 90.00", RowOf(await Odile.Page(Page), "T-01"), StringComparison.Ordinal);
        House.Clock.Advance(TimeSpan.FromMinutes(1));
        await Settle("T-01");
        Assert.Equal(4, (await View()).Day.Rows!.Value.Count(r => r.Card.Rrn?.StartsWith("R0000000000", StringComparison.Ordinal) == true));
    }

    [Fact]
    public async Task A_void_that_never_arrived_stands_beside_its_ticket_before_anything_is_sent()
    {
        await Sell("64.00", "R00000000001");
        await Sell("12.93", "R00000000002");
        Host.Fault = HostFault.LosesVoids;
        Host.TakeBack("T-01", "R00000000001", 6400);
        await Send(
            $$"""{"id":"L1-{{++Number}}","register":"L1","drawer":"L1-C","cashier":"p11","at":"{{At()}}","kind":"void","original":"L1-{{Number - 2}}"}""");
        var page = await Odile.Page(Page);
        Assert.Contains("differs by +64.00, 1 in number", RowOf(page, "T-01"), StringComparison.Ordinal);
        Assert.Contains(page.QuerySelectorAll("tr.behind .what"),
            w => w.TextContent.StartsWith("Voided at the register, still on the terminal: void it there", StringComparison.Ordinal));
        Assert.Contains("voided at the register, but the terminal still holds it. Void it there before you settle.",
            page.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.Null(page.QuerySelector("button[data-main]")?.TextContent is { } all && all.Contains("T-01", StringComparison.Ordinal)
            ? all
            : null);
    }

    [Fact]
    public async Task What_settles_by_itself_is_noticed_and_compared()
    {
        await Sell("64.00", "R00000000001");
        Host.SettleAlone([("T-01", House.Clock.GetUtcNow())]);
        Host.SettleAlone([("T-01", House.Clock.GetUtcNow())]); // once a day
        await Rounds();
        Assert.Single((await View()).Day.Rows!.Value, r => r.Card.Rrn == "R00000000001");
        Assert.Contains("1 · 64.00", RowOf(await Odile.Page(Page), "T-01"), StringComparison.Ordinal);
        Assert.Empty(await Settlements());
    }

    [Fact]
    public async Task The_same_form_twice_settles_once_and_an_old_page_not_at_all()
    {
        await Sell("64.00", "R00000000001");
        var (form, old) = (await Form("T-01"), await Form("T-01"));
        Assert.Equal(HttpStatusCode.Redirect, (await Odile.Client.PostAsync(Page, new FormUrlEncodedContent(form))).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await Odile.Client.PostAsync(Page, new FormUrlEncodedContent(form))).StatusCode);
        Assert.False(House.Services.GetRequiredService<SettlementOrders>().IsUnderWay((await Latest()).Key)); // nobody waits for it
        House.Clock.Advance(TimeSpan.FromMinutes(2));
        await Sell("5.00", "R00000000003");
        using var answer = await Odile.Client.PostAsync(Page, new FormUrlEncodedContent(old));
        Assert.Contains("after you opened this page", (await Visitor.Read(answer)).QuerySelector("main")!.TextContent,
            StringComparison.Ordinal);
        Assert.Single(Host.Batches(DateTimeOffset.MinValue));
    }

    /// <summary>A card was taken after the page was looked at: nothing is sent that nobody saw.</summary>
    [Fact]
    public async Task What_changed_since_it_was_shown_is_not_settled_unseen()
    {
        await Sell("64.00", "R00000000001");
        var form = await Form("T-01");
        await Sell("5.00", "R00000000002");
        await Odile.Client.PostAsync(Page, new FormUrlEncodedContent(form));
        Assert.Contains("It holds 2 cards for 69.00 now. That is not what you saw", RowOf(await Odile.Page(Page), "T-01"),
            StringComparison.Ordinal);
        Assert.Empty(Host.Batches(DateTimeOffset.MinValue));
        House.Clock.Advance(TimeSpan.FromSeconds(1));
        await Settle("T-01"); // as it is now
        Assert.Equal(SettlementState.TakenIn, (await Latest()).State);
    }

    /// <summary>Of seeds and numbers that nobody chose: sold, settled under any fault, asked until it is known; every card is in exactly
    /// one batch, or still held.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public async Task Whatever_the_processor_does_every_card_is_settled_once(int seed)
    {
        var (random, sold) = (new Random(seed), 0);
        for (var turn = 0; turn < 8; turn++)
        {
            for (var n = random.Next(3); n > 0; n--)
            {
                await Sell($"{1 + random.Next(90)}.{random.Next(100):00}", $"S{++sold:00000000000}");
            }

            Host.Fault = random.Next(5) switch
            {
                0 => HostFault.TimesOut,
                1 => HostFault.Refuses,
                2 => HostFault.SendsTwice,
                3 => HostFault.LeavesBehind,
                _ => HostFault.None
            };
            await House.SettleWhatIsHeld(Today, "T-01");
            Host.Fault = random.Next(2) == 0 ? HostFault.Silent : HostFault.None;
            await Rounds();
            House.Clock.Advance(TimeSpan.FromSeconds(random.Next(40)));
        }

        Host.Fault = HostFault.None;
        House.Clock.Advance(TimeSpan.FromMinutes(11));
        await Rounds();
        Assert.All(await Settlements(), s => Assert.True(s.IsDone, s.Says));
        var settled = (await View()).Day.Rows!.Value.Select(r => r.Card.Rrn).Where(r => r?.StartsWith('S') == true).ToList();
        var held = Host.Running("T-01").Rows.Select(r => r.Rrn).Where(r => r?.StartsWith('S') == true);
        Assert.Equal(Enumerable.Range(1, sold).Select(n => $"S{n:00000000000}"), settled.Concat(held).Order());
    }

    [Fact]
    public async Task A_batch_of_an_unknown_terminal_is_told_and_stops_nothing()
    {
        await Sell("64.00", "R00000000001");
        Host.Take("T-77", Held("9.00", "R00000000077"));
        Host.SettlePlayed("T-77", House.Clock.GetUtcNow());
        Host.SettlePlayed("T-01", House.Clock.GetUtcNow());
        await Rounds();
        Assert.Contains("T-77", Assert.Single(House.Services.GetRequiredService<SettlementWatch>().Troubles).Value.Says,
            StringComparison.Ordinal);
        Assert.Single((await View()).Day.Rows!.Value, r => r.Card.Rrn == "R00000000001");
        // on every page
        Assert.Contains("Batch", (await Odile.Page("/find")).QuerySelector(".overdue")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_full_card_number_on_the_wire_is_neither_shown_nor_kept()
    {
        Host.Take("T-01", Held("9.00", "R00000000001") with { Auth = "4111111111111111" });
        var page = await Odile.Page(Page);
        Assert.Contains("Its answer is unreadable", RowOf(page, "T-01"), StringComparison.Ordinal);
        Assert.DoesNotContain("4111111111111111", page.DocumentElement.OuterHtml, StringComparison.Ordinal);
        Host.SettlePlayed("T-01", House.Clock.GetUtcNow());
        await Rounds();
        Assert.DoesNotContain("4111111111111111", Assert.Single(House.Services.GetRequiredService<SettlementWatch>().Troubles).Value.Says,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_batch_that_closes_after_its_day_belongs_to_the_next_one()
    {
        Host.Take("T-01", Held("9.00", "R00000000009"));
        await House.Tamper(async db =>
        {
            db.Closes.Add(new() { Number = 900, Day = Today, Content = "{}", PreviousHash = "", Hash = "", At = House.Clock.GetUtcNow() });
            return await db.SaveChangesAsync();
        });
        Host.SettlePlayed("T-01", House.Clock.GetUtcNow());
        await Rounds();
        // It begins no trading day: it waits for the next one with trade.
        Assert.Null(await House.Ask<DayStore, DayView?>(d => d.View(Today.AddDays(1))));
        Assert.Contains("imports it into the next trading day",
            Assert.Single(House.Services.GetRequiredService<SettlementWatch>().Troubles).Value.Says, StringComparison.Ordinal);
        House.Clock.Advance(TimeSpan.FromDays(5)); // a long weekend
        await Rounds();
        await Shop.Send(await House.Register("L1"), "L1",
            $$"""{"id":"L1-770001","register":"L1","drawer":"L1-A","cashier":"p11","at":"{{Today.AddDays(1):yyyy-MM-dd}}T08:00:00-05:00","kind":"open","amount":"200.00"}""");
        await Rounds();
        var next = (await House.Ask<DayStore, DayView?>(d => d.View(Today.AddDays(1))))!;
        Assert.Equal("R00000000009", Assert.Single(next.Day.Rows!.Value).Card.Rrn);
    }

    [Fact]
    public async Task Whoever_has_not_settled_by_the_hour_is_told_on_every_page()
    {
        await Sell("64.00", "R00000000001");
        using (var scope = House.Services.CreateScope())
        {
            await scope.ServiceProvider.GetRequiredService<Settler>().LookForLate();
        }

        Assert.Empty((await Odile.Page("/days")).QuerySelectorAll(".overdue"));
        var json = (await Odile.Page("/store?handler=Export")).Body!.TextContent;
        var setup = System.Text.Json.Nodes.JsonNode.Parse(json)!;
        setup["policy"]!["settledBy"] = "21:30";
        var saved = await House.Ask<Store.SetUp.SetupBook, Store.Outcome<Store.SetUp.SetupSaved>>(b =>
            b.Save(Today, setup.ToJsonString(), Shop.Odile));
        Assert.True(saved.IsDone, saved.Objection);
        // T-01 has a batch of this day already; the rule asks for terminals that have none.
        await House.Tamper(
            async db => await db.Database.ExecuteSqlRawAsync("DELETE FROM Records WHERE Kind IN ('row', 'total') AND (Key LIKE 'T-01/%')")
                + await db.Database.ExecuteSqlRawAsync("UPDATE Days SET Revision = Revision + 1"));
        House.Services.GetRequiredService<DayCache>().ForgetAssembly(Today);
        using (var scope = House.Services.CreateScope())
        {
            await scope.ServiceProvider.GetRequiredService<Settler>().LookForLate();
        }

        Assert.Contains("T-01 should have been settled by 21:30. It is not settled yet.",
            (await Odile.Page("/days")).QuerySelector(".overdue")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Only_who_supervises_settles()
    {
        await Sell("64.00", "R00000000001");
        var auditor = await House.SignedIn("p21", "9631");
        Assert.Empty((await auditor.Page(Page)).QuerySelectorAll("button[name=which]"));
        using var answer = await auditor.Post(Page,
            new() { ["form"] = $"{Guid.NewGuid()}", ["which"] = "T-01", ["made"] = "2026-11-22T03:00:00Z" }, "/find");
        Assert.NotEqual(HttpStatusCode.OK, answer.StatusCode);
        Assert.Empty(Host.Batches(DateTimeOffset.MinValue));
    }
}
