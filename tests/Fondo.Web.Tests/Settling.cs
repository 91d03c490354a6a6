using System.Globalization;
using System.Net;
using Fondo.Core.Cells;
using Fondo.Core.Closing;
using Fondo.Standins.Terminals;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.Settling;
using Fondo.Web.Hosting;
using Fondo.Web.Settling;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Settling over the wire: every fault of the processor ends in a right state, or in a clear question; nothing is ever sent twice.</summary>
public sealed class Settling : IAsyncLifetime
{
    private const string Page = Shop.Day + "/settle";

    private static readonly DateOnly _day = new(2026, 11, 21);

    private readonly Shop _shop = new();
    private Visitor _odile = null!;
    private int _number = 900_000;

    private TerminalHost Host => _shop.Services.GetRequiredService<StandInHost>().Processor;

    public async ValueTask InitializeAsync()
    {
        await _shop.InitializeAsync();
        _odile = await _shop.SignedIn();
        Host.Silence = TimeSpan.FromMilliseconds(30);
        await Send($$"""{"id":"L1-{{++_number}}","register":"L1","drawer":"L1-C","cashier":"p11","at":"{{At()}}","kind":"open","amount":"200.00"}""");
    }

    public ValueTask DisposeAsync() => _shop.DisposeAsync();

    [Fact]
    public async Task What_agrees_settles_and_its_batch_proves_the_day()
    {
        await Sell("64.00", "R00000000001");
        await Sell("12.93", "R00000000002");
        var page = await _odile.Page(Page);
        Assert.Contains("2 · 76.93", RowOf(page, "T-01"), StringComparison.Ordinal);
        Assert.Contains("agrees in number and amount", RowOf(page, "T-01"), StringComparison.Ordinal);
        await Settle("T-01");
        var settlement = await Latest();
        Assert.Equal((SettlementState.TakenIn, true), (settlement.State, settlement.Batch is not null));
        var rows = (await View()).Day.Rows!.Value.Where(r => r.Key.Terminal.Value == "T-01" && r.Key.Batch == settlement.Batch).ToList();
        Assert.Equal([1293L, 6400L], rows.Select(r => r.Amount.Minor).Order());
        Assert.All(rows, r => Assert.Contains((ViewNow().Reconciliation.Matches), m => m.Rows.Any(x => x.Row!.Key == r.Key) && m.Rule == Core.Matching.MatchRule.Reference));
        Assert.Contains($"batch {settlement.Batch}", RowOf(await _odile.Page(Page), "T-01"), StringComparison.Ordinal);
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
        var page = await _odile.Page(Page);
        Assert.Contains("5 terminals that agree", page.QuerySelector("button[data-main]")!.TextContent, StringComparison.Ordinal); // T-09 of the demo's evening among them
        await Settle("agreeing");
        Assert.Equal(["T-01", "T-02", "T-03", "T-04", "T-09"], (await Settlements()).Where(s => s.State == SettlementState.TakenIn).Select(s => s.Terminal).Order());
        Assert.Contains("+5.00, 1 in number", RowOf(await _odile.Page(Page), "T-05"), StringComparison.Ordinal);
    }

    /// <summary>The answer got lost after the batch was closed: it is asked, not sent again.</summary>
    [Fact]
    public async Task After_a_time_out_the_processor_is_asked_what_happened()
    {
        await Sell("64.00", "R00000000001");
        Host.Fault = HostFault.TimesOut;
        await Settle("T-01");
        var waiting = await Latest();
        Assert.Equal((SettlementState.Unknown, _shop.Clock.GetUtcNow() + TimeSpan.FromSeconds(15)), (waiting.State, waiting.NextAt));
        Assert.Contains("It is not known whether it was settled", RowOf(await _odile.Page(Page), "T-01"), StringComparison.Ordinal);

        // Nothing is sent meanwhile, however often somebody presses.
        Host.Fault = HostFault.None;
        Assert.Contains("was told to settle already", (await SettleForPage("T-01")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        await Rounds();
        Assert.Equal(SettlementState.Unknown, (await Latest()).State);
        _shop.Clock.Advance(TimeSpan.FromSeconds(16));
        await Rounds();
        Assert.Equal(SettlementState.TakenIn, (await Latest()).State);
        Assert.Single(Host.Batches(DateTimeOffset.MinValue));
        Assert.Single((await View()).Day.Rows!.Value, r => r.Card.Rrn == "R00000000001");
    }

    /// <summary>The processor never heard of it: nothing was settled, and it can be sent again.</summary>
    [Fact]
    public async Task What_never_arrived_can_be_settled_again()
    {
        await Sell("64.00", "R00000000001");
        var form = await Form("T-01");
        Host.Fault = HostFault.Silent; // once the page is there
        await _odile.Client.PostAsync(Page, new FormUrlEncodedContent(form));
        Assert.Empty(await Settlements()); // the processor does not say what the terminal holds, so nothing is sent
        Host.Fault = HostFault.None;
        using (var scope = _shop.Services.CreateScope())
        {
            Host.Fault = HostFault.Silent;
            await scope.ServiceProvider.GetRequiredService<Settler>().Settle(_day, "T-01", Guid.NewGuid(), Shop.Odile, CancellationToken.None);
        }

        Assert.Equal(SettlementState.Unknown, (await Latest()).State);
        var waits = new List<TimeSpan>();
        for (var i = 0; i < 7; i++)
        {
            _shop.Clock.Advance((await Latest()).NextAt!.Value - _shop.Clock.GetUtcNow());
            await Rounds();
            waits.Add((await Latest()).NextAt!.Value - _shop.Clock.GetUtcNow());
        }

        Assert.Equal(new[] { 30.0, 60, 120, 240, 480, 600, 600 }, waits.Select(w => w.TotalSeconds)); // a stated time, each later than the one before, ten minutes at most
        Host.Fault = HostFault.None;
        _shop.Clock.Advance(TimeSpan.FromMinutes(11));
        await Rounds();
        Assert.Equal(SettlementState.NotSettled, (await Latest()).State);
        Assert.Empty(Host.Batches(DateTimeOffset.MinValue));
        _odile = await _shop.SignedIn();
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
        Assert.Contains("refuses to settle this terminal now", RowOf(await _odile.Page(Page), "T-01"), StringComparison.Ordinal);
        Assert.Empty(Host.Batches(DateTimeOffset.MinValue));
    }

    [Fact]
    public async Task A_batch_that_is_told_of_twice_is_there_once()
    {
        await Sell("64.00", "R00000000001");
        Host.Fault = HostFault.SendsTwice;
        Host.SettlePlayed("T-01", _shop.Clock.GetUtcNow());
        await Rounds();
        await Rounds();
        Assert.Single((await View()).Day.Rows!.Value, r => r.Card.Rrn == "R00000000001");
        Assert.Empty(_shop.Services.GetRequiredService<SettlementWatch>().Troubles);
    }

    [Fact]
    public async Task A_batch_with_rows_missing_is_incomplete()
    {
        await Sell("64.00", "R00000000001");
        await Sell("12.93", "R00000000002");
        Host.Fault = HostFault.RowsMissing;
        await Settle("T-01");
        var batch = (await Latest()).Batch;
        Assert.Contains((await View()).Gates.Single(g => g.Id == GateId.Batches).Left, i => i.Key == $"T-01/{batch}" && i.Sentence.Contains("the host settled 2 for 76.93, the rows hold 1 for 64.00", StringComparison.Ordinal));
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
        Assert.Contains("3 · 90.00", RowOf(await _odile.Page(Page), "T-01"), StringComparison.Ordinal);
        _shop.Clock.Advance(TimeSpan.FromMinutes(1));
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
        await Send($$"""{"id":"L1-{{++_number}}","register":"L1","drawer":"L1-C","cashier":"p11","at":"{{At()}}","kind":"void","original":"L1-{{_number - 2}}"}""");
        var page = await _odile.Page(Page);
        Assert.Contains("differs by +64.00, 1 in number", RowOf(page, "T-01"), StringComparison.Ordinal);
        Assert.Contains(page.QuerySelectorAll("tr.behind .what"), w => w.TextContent.StartsWith("On the terminal alone: voided at the register", StringComparison.Ordinal));
        Assert.Null(page.QuerySelector("button[data-main]")?.TextContent is { } all && all.Contains("T-01", StringComparison.Ordinal) ? all : null);
    }

    [Fact]
    public async Task What_settles_by_itself_is_noticed_and_compared()
    {
        await Sell("64.00", "R00000000001");
        Host.SettleAlone([("T-01", _shop.Clock.GetUtcNow())]);
        Host.SettleAlone([("T-01", _shop.Clock.GetUtcNow())]); // once a day
        await Rounds();
        Assert.Single((await View()).Day.Rows!.Value, r => r.Card.Rrn == "R00000000001");
        Assert.Contains("1 · 64.00", RowOf(await _odile.Page(Page), "T-01"), StringComparison.Ordinal);
        Assert.Empty(await Settlements());
    }

    [Fact]
    public async Task The_same_form_twice_settles_once_and_an_old_page_not_at_all()
    {
        await Sell("64.00", "R00000000001");
        var (form, old) = (await Form("T-01"), await Form("T-01"));
        Assert.Equal(HttpStatusCode.Redirect, (await _odile.Client.PostAsync(Page, new FormUrlEncodedContent(form))).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await _odile.Client.PostAsync(Page, new FormUrlEncodedContent(form))).StatusCode);
        _shop.Clock.Advance(TimeSpan.FromMinutes(2));
        await Sell("5.00", "R00000000003");
        using var answer = await _odile.Client.PostAsync(Page, new FormUrlEncodedContent(old));
        Assert.Contains("after this page was made", (await Visitor.Read(answer)).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.Single(Host.Batches(DateTimeOffset.MinValue));
    }

    /// <summary>Of seeds and numbers that nobody chose: sold, settled under any fault, asked until it is known; every card is in exactly one batch, or still held.</summary>
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

            Host.Fault = random.Next(5) switch { 0 => HostFault.TimesOut, 1 => HostFault.Refuses, 2 => HostFault.SendsTwice, 3 => HostFault.LeavesBehind, _ => HostFault.None };
            using (var scope = _shop.Services.CreateScope())
            {
                await scope.ServiceProvider.GetRequiredService<Settler>().Settle(_day, "T-01", Guid.NewGuid(), Shop.Odile, CancellationToken.None);
            }

            Host.Fault = random.Next(2) == 0 ? HostFault.Silent : HostFault.None;
            await Rounds();
            _shop.Clock.Advance(TimeSpan.FromSeconds(random.Next(40)));
        }

        Host.Fault = HostFault.None;
        _shop.Clock.Advance(TimeSpan.FromMinutes(11));
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
        Host.SettlePlayed("T-77", _shop.Clock.GetUtcNow());
        Host.SettlePlayed("T-01", _shop.Clock.GetUtcNow());
        await Rounds();
        Assert.Contains("T-77", Assert.Single(_shop.Services.GetRequiredService<SettlementWatch>().Troubles).Value.Says, StringComparison.Ordinal);
        Assert.Single((await View()).Day.Rows!.Value, r => r.Card.Rrn == "R00000000001");
        Assert.Contains("Batch", (await _odile.Page("/find")).QuerySelector(".overdue")!.TextContent, StringComparison.Ordinal); // on every page
    }

    [Fact]
    public async Task A_full_card_number_on_the_wire_is_neither_shown_nor_kept()
    {
        Host.Take("T-01", Held("9.00", "R00000000001") with { Auth = "4111111111111111" });
        var page = await _odile.Page(Page);
        Assert.Contains("does not read", RowOf(page, "T-01"), StringComparison.Ordinal);
        Assert.DoesNotContain("4111111111111111", page.DocumentElement.OuterHtml, StringComparison.Ordinal);
        Host.SettlePlayed("T-01", _shop.Clock.GetUtcNow());
        await Rounds();
        Assert.DoesNotContain("4111111111111111", Assert.Single(_shop.Services.GetRequiredService<SettlementWatch>().Troubles).Value.Says, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_batch_that_closes_after_its_day_belongs_to_the_next_one()
    {
        Host.Take("T-01", Held("9.00", "R00000000009"));
        await _shop.Tamper(async db =>
        {
            db.Closes.Add(new() { Number = 900, Day = _day, Content = "{}", PreviousHash = "", Hash = "", At = _shop.Clock.GetUtcNow() });
            return await db.SaveChangesAsync();
        });
        Host.SettlePlayed("T-01", _shop.Clock.GetUtcNow());
        await Rounds();
        var next = (await _shop.Ask<DayStore, DayView?>(d => d.View(_day.AddDays(1))))!;
        Assert.Equal("R00000000009", Assert.Single(next.Day.Rows!.Value).Card.Rrn);
    }

    [Fact]
    public async Task Whoever_has_not_settled_by_the_hour_is_told_on_every_page()
    {
        await Sell("64.00", "R00000000001");
        using (var scope = _shop.Services.CreateScope())
        {
            await scope.ServiceProvider.GetRequiredService<Settler>().LookForLate();
        }

        Assert.Empty((await _odile.Page("/days")).QuerySelectorAll(".overdue"));
        var json = (await _odile.Page("/store?handler=Export")).Body!.TextContent;
        var setup = System.Text.Json.Nodes.JsonNode.Parse(json)!;
        setup["policy"]!["settledBy"] = "21:30";
        var saved = await _shop.Ask<Store.SetUp.SetupBook, Store.SetUp.SetupSaved>(b => b.Save(_day, setup.ToJsonString(), Shop.Odile));
        Assert.True(saved.IsDone, saved.Objection);
        // T-01 has a batch of this day already; the rule asks for terminals that have none.
        await _shop.Tamper(async db => await db.Database.ExecuteSqlRawAsync("DELETE FROM Records WHERE Kind IN ('row', 'total') AND (Key LIKE 'T-01/%')") + await db.Database.ExecuteSqlRawAsync("UPDATE Days SET Revision = Revision + 1"));
        _shop.Services.GetRequiredService<DayCache>().ForgetAssembly(_day);
        using (var scope = _shop.Services.CreateScope())
        {
            await scope.ServiceProvider.GetRequiredService<Settler>().LookForLate();
        }

        Assert.Contains("T-01 was to be settled by 21:30, and nobody has.", (await _odile.Page("/days")).QuerySelector(".overdue")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Printed_totals_prove_as_totals_until_rows_come()
    {
        await Send($$"""{"id":"BK-{{++_number}}","register":"BK","drawer":"BK-B","cashier":"p12","at":"{{At()}}","kind":"open","amount":"150.00"}""", "BK");
        await _shop.Tamper(async db => await db.Database.ExecuteSqlRawAsync("DELETE FROM Records WHERE Kind IN ('row', 'total') AND Key LIKE 'T-08/%'") + await db.Database.ExecuteSqlRawAsync("UPDATE Days SET Revision = Revision + 1"));
        _shop.Services.GetRequiredService<DayCache>().ForgetAssembly(_day);
        var journal = Core.Sheets.TerminalComparison.Of(new("T-08"), Core.Sheets.TerminalComparison.Unsettled((await View()).Reconciliation)[new("T-08")], []);
        Assert.True(journal.Journal.Number > 0);
        var form = new List<KeyValuePair<string, string>> { new("terminal", "T-08"), new("__RequestVerificationToken", await _odile.Token(Page)) };
        foreach (var b in journal.Brands)
        {
            form.AddRange([new("brand", b.Brand), new("sales", $"{b.Journal.Sales}"), new("salesAmount", Text(b.Journal.SalesAmount.Minor)), new("refunds", $"{b.Journal.Refunds}"), new("refundsAmount", Text(b.Journal.RefundsAmount.Minor))]);
        }

        // First with a slip: more sold than the number says, and a negative number.
        var wrong = form.Select(f => f.Key == "sales" ? new KeyValuePair<string, string>(f.Key, "-1") : f);
        using (var refused = await _odile.Client.PostAsync($"{Page}?handler=Printed", new FormUrlEncodedContent(wrong)))
        {
            Assert.Contains("Type a whole number, not negative.", (await Visitor.Read(refused)).QuerySelector(".objection")!.TextContent, StringComparison.Ordinal);
        }

        using (var taken = await _odile.Client.PostAsync($"{Page}?handler=Printed", new FormUrlEncodedContent(form)))
        {
            Assert.Equal(HttpStatusCode.Redirect, taken.StatusCode);
        }

        var cells = (await View()).Reconciliation.Cells.Where(c => c.Key.Register?.Value == "BK" && c.Key.Drawer is null && c.Key.Tender.Value is "credit" or "debit" && c.Key.Register?.Value == "BK").ToList();
        Assert.NotEmpty(cells);
        Assert.All(cells, c => Assert.Equal(CellState.Proved, c.State));
        Assert.DoesNotContain((await View()).Reconciliation.OpenItems, o => o.Item.Terminal?.Value == "T-08");

        // Typed again with another amount: the later one stands.
        var at = form.FindIndex(f => f.Key == "salesAmount");
        form[at] = new("salesAmount", "1.00");
        using (var taken = await _odile.Client.PostAsync($"{Page}?handler=Printed", new FormUrlEncodedContent(form)))
        {
            Assert.Equal(HttpStatusCode.Redirect, taken.StatusCode);
        }

        Assert.Contains((await View()).Reconciliation.Cells, c => c.Key.Register?.Value == "BK" && c.State == CellState.Off && c.Key.Drawer is null);

        // The rows come after all, whatever they hold: from then on they prove, and the totals say nothing any more.
        Host.Take("T-08", Held("9.00", "R00000000008"));
        Host.SettlePlayed("T-08", _shop.Clock.GetUtcNow());
        await Rounds();
        Assert.Contains((await View()).Reconciliation.OpenItems, o => o.Item.Terminal?.Value == "T-08");
        Assert.Equal(900, (await View()).Reconciliation.Cells.Where(c => c.Key.Register?.Value == "BK" && c.Key.Drawer is null && c.Key.Tender.Value is "credit").Sum(c => c.Proof?.Minor ?? 0));
    }

    [Fact]
    public async Task Only_who_supervises_settles()
    {
        await Sell("64.00", "R00000000001");
        var auditor = await _shop.SignedIn("p21", "9631");
        Assert.Empty((await auditor.Page(Page)).QuerySelectorAll("button[name=which]"));
        using var answer = await auditor.Post(Page, new() { ["form"] = $"{Guid.NewGuid()}", ["which"] = "T-01", ["made"] = "2026-11-22T03:00:00Z" }, "/find");
        Assert.NotEqual(HttpStatusCode.OK, answer.StatusCode);
        Assert.Empty(Host.Batches(DateTimeOffset.MinValue));
    }

    [Fact]
    public async Task Batches_of_the_past_are_found_by_what_one_knows_of_a_row()
    {
        var all = await _odile.Page("/batches?from=2026-11-21&to=2026-11-21");
        Assert.Contains("10 batches", all.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        var row = (await View()).Day.Rows!.Value.First(r => r.Card.Rrn is not null);
        foreach (var query in new[] { $"last={row.Card.LastFour}", $"reference={row.Card.Rrn}", $"reference={row.Card.Approval}", $"amount={Text(row.Amount.Minor)}", $"terminal={row.Key.Terminal}&batch={row.Key.Batch}" })
        {
            Assert.Contains(row.Key.ToString(), (await _odile.Page($"/batches?from=2026-11-21&to=2026-11-21&{query}")).QuerySelector(".events")!.TextContent, StringComparison.Ordinal);
        }

        var open = await _odile.Page("/batches?from=2026-11-21&to=2026-11-21&state=open");
        Assert.Equal((await View()).Reconciliation.OpenItems.Count(o => o.Side == Core.Matching.OpenIn.Batch && o.Item.CarriedFrom is null), open.QuerySelectorAll(".events tbody tr").Length);
        using var csv = await _odile.Get("/batches?from=2026-11-21&to=2026-11-21&handler=Csv");
        Assert.Equal((await View()).Day.Rows!.Value.Length + 1, (await csv.Content.ReadAsStringAsync()).Split('\n', StringSplitOptions.RemoveEmptyEntries).Length);
        Assert.Contains("At most 62 days", (await _odile.Page("/batches?from=2026-01-01&to=2026-11-21")).QuerySelector(".objection")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("like 2026-11-21", (await _odile.Page("/batches?from=yesterday")).QuerySelector(".objection")!.TextContent, StringComparison.Ordinal);
    }

    private string At() => TimeZoneInfo.ConvertTime(_shop.Clock.GetUtcNow(), TimeZoneInfo.FindSystemTimeZoneById("America/New_York")).ToString("yyyy-MM-ddTHH:mm:sszzz", CultureInfo.InvariantCulture);

    private static string Text(long minor) => (minor / 100m).ToString("0.00", CultureInfo.InvariantCulture);

    private HeldRow Held(string amount, string rrn) =>
        new(_shop.Clock.GetUtcNow(), false, (long)(decimal.Parse(amount, CultureInfo.InvariantCulture) * 100), 0, 0, "heron", "4417", $"A{rrn[^5..]}", rrn, "chip", null);

    /// <summary>A card sale, in the journal and on the terminal.</summary>
    private async Task Sell(string amount, string rrn, string register = "L1", string terminal = "T-01")
    {
        _shop.Clock.Advance(TimeSpan.FromSeconds(1));
        await Send($$"""
            {"id":"{{register}}-{{++_number}}","register":"{{register}}","drawer":"{{register}}-C","cashier":"p11","at":"{{At()}}","kind":"sale","lines":[{"sku":"M301","name":"x","qty":"1","amount":"{{amount}}","tax":"0.00","taxRate":"0","ebt":false}],"subtotal":"{{amount}}","discount":"0.00","tax":"0.00","fee":"0.00","rounding":"0.00","total":"{{amount}}","tenders":[{"type":"credit","amount":"{{amount}}","terminal":"{{terminal}}","brand":"heron","card":"4417","auth":"A{{rrn[^5..]}}","rrn":"{{rrn}}","entry":"chip"}]}
            """.Trim(), register);
        Host.Take(terminal, Held(amount, rrn));
    }

    private async Task Send(string line, string register = "L1")
    {
        using var client = await _shop.Register(register);
        Assert.Empty((await Shop.Send(client, register, line)).Aside);
    }

    private async Task<Dictionary<string, string>> Form(string which)
    {
        var page = await _odile.Page(Page);
        return new()
        {
            ["form"] = page.QuerySelector("input[name=form]")!.GetAttribute("value")!,
            ["made"] = page.QuerySelector("input[name=made]")!.GetAttribute("value")!,
            ["which"] = which,
            ["__RequestVerificationToken"] = page.QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!,
        };
    }

    private async Task Settle(string which)
    {
        using var answer = await _odile.Client.PostAsync(Page, new FormUrlEncodedContent(await Form(which)));
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
    }

    private async Task<AngleSharp.Dom.IDocument> SettleForPage(string which)
    {
        using var answer = await _odile.Client.PostAsync(Page, new FormUrlEncodedContent(new Dictionary<string, string>
        {
            ["form"] = $"{Guid.NewGuid()}",
            ["made"] = _shop.Clock.GetUtcNow().ToString("O"),
            ["which"] = which,
            ["__RequestVerificationToken"] = await _odile.Token("/find"),
        }));
        return await Visitor.Read(answer);
    }

    private async Task Rounds()
    {
        using var scope = _shop.Services.CreateScope();
        await scope.ServiceProvider.GetRequiredService<Settler>().Round(CancellationToken.None);
    }

    private Task<IReadOnlyList<Settlement>> Settlements() => _shop.Ask<SettlementDesk, IReadOnlyList<Settlement>>(d => d.Of(_day));

    private async Task<Settlement> Latest() => (await Settlements())[0];

    private async Task<DayView> View() => (await _shop.Ask<DayStore, DayView?>(d => d.View(_day)))!;

    private DayView ViewNow() => View().GetAwaiter().GetResult();

    private static string RowOf(AngleSharp.Dom.IDocument page, string terminal) => page.QuerySelectorAll("table.settle > tbody").First(t => t.QuerySelector("th")!.TextContent == terminal).QuerySelector("tr")!.TextContent;
}
