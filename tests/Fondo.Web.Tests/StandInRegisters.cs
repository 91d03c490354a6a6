using System.Net;
using System.Text;
using System.Text.Json.Nodes;
using Fondo.Core.Checks;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;
using Fondo.Files.Reading;
using Fondo.Standins.Registers;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>The stand-in registers: what they ring is sound, and nothing of it is lost on the way.</summary>
public sealed class StandInRegisters : InOwnShop
{
    /// <summary>A register on a line that only listens.</summary>
    private sealed class Bench : HttpMessageHandler
    {
        public List<string> Heard { get; } = [];

        public StandInRegister Register { get; }

        public Bench()
        {
            var clock = new Microsoft.Extensions.Time.Testing.FakeTimeProvider(new DateTimeOffset(2026, 11, 21, 15, 0, 0, TimeSpan.Zero));
            Register = new("L1", "Lane 1", "L1-A", "p11", 0,
                new CardReader("T-01", new(clock, Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}.json")), clock),
                new RegisterLink(new HttpClient(this) { BaseAddress = new("http://fondo/") }, "L1", "key", Path.GetTempFileName()), clock,
                TimeSpan.FromHours(-5), isOpen: false);
        }

        protected override async Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, CancellationToken cancellationToken)
        {
            Heard.AddRange((await request.Content!.ReadAsStringAsync(cancellationToken)).Split('\n'));
            return new(HttpStatusCode.OK)
            {
                Content = new StringContent("""{"taken":1,"known":0,"aside":[],"missing":[]}""", Encoding.UTF8, "application/json")
            };
        }

        public Reconciliation Day(string programme = "")
        {
            var setup =
                $$"""{"fondo":1,"store":"Mossgate Market Hall","tradingDay":"2026-11-21","currency":"USD","timeZone":"America/New_York","registers":[{"id":"L1","kind":"lane","float":"200.00"}],"terminals":[{"id":"T-01","register":"L1"}],"people":[{"id":"p11","role":"cashier"}]{{programme}}}""";
            var builder = new DayBuilder();
            builder.Take("day.json", new MemoryStream(Encoding.UTF8.GetBytes(setup)));
            builder.Take("journal.jsonl", new MemoryStream(Encoding.UTF8.GetBytes(string.Join('\n', Heard))));
            var reading = builder.Build();
            Assert.Empty(reading.Findings);
            return Reconciliation.Of(reading.Day!);
        }
    }

    private static async Task<Bench> Opened()
    {
        var bench = new Bench();
        await bench.Register.Open(200_00);
        return bench;
    }

    [Fact]
    public async Task What_could_not_be_sent_outlives_the_register_being_switched_off()
    {
        var kept = Path.GetTempFileName();
        using var nobody = new HttpClient(new Deaf()) { BaseAddress = new("http://fondo/") };
        using (var line = new RegisterLink(nobody, "L1", "key", kept))
        {
            await line.Send("one", "two");
            line.IsDown = true;
            await line.Send("three");
            Assert.Equal(3, line.Waiting);
        }

        var bench = new Bench();
        using (var line = new RegisterLink(new HttpClient(bench) { BaseAddress = new("http://fondo/") }, "L1", "key", kept))
        {
            Assert.Equal(3, line.Waiting);
            await line.Flush();
            Assert.Equal(["one", "two", "three"], bench.Heard);
        }

        using var after = new RegisterLink(nobody, "L1", "key", kept);
        Assert.Equal(0, after.Waiting);
        File.Delete(kept);
    }

    private sealed class Deaf : HttpMessageHandler
    {
        protected override Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, CancellationToken cancellationToken) =>
            throw new HttpRequestException("no route");
    }

    /// <summary>Whatever is rung, in whatever way it is paid, the ticket checks have nothing to say.</summary>
    [Fact]
    public async Task What_it_rings_passes_every_ticket_check()
    {
        var random = new Random(5);
        var bench = await Opened();
        var till = bench.Register;
        till.CardRate = 0.03m;
        for (var n = 0; n < 120; n++)
        {
            for (var i = random.Next(1, 6); i > 0; i--)
            {
                till.Ring(StandInRegister.Goods[random.Next(StandInRegister.Goods.Count)].Sku,
                    random.Next(3) == 0 ? 1.37m : random.Next(1, 4));
            }

            till.Basket.Discount = random.Next(4) == 0 ? random.Next(1, 300) % till.Basket.Subtotal : 0;
            if (random.Next(3) == 0 && till.Basket.Eligible > 0)
            {
                await till.PayCard("ebt-food", "ebt", "7731", random.NextInt64(1, till.Basket.Eligible + 1), 0, 0, again: true);
            }

            if (till.Due > 0 && random.Next(2) == 0)
            {
                await till.PayCard("credit", "heron", "4417", random.NextInt64(1, till.Due + 1), 0, 0, again: true);
            }

            if (till.Due > 0)
            {
                await till.PayCash(till.Due + random.Next(0, 2000));
            }
        }

        var result = bench.Day(""","policy":{"priceProgramme":{"kind":"surcharge","rate":"0.03","tenders":["credit"]}}""");
        Assert.Equal(120, Overview.Of(result).Tickets);
        Assert.DoesNotContain(result.TicketFindings, f => f.Code != FindingCode.DuplicateTender);
    }

    [Theory]
    [InlineData("0", 31_32)]
    [InlineData("0.03", 32_26)]
    public async Task A_refund_gives_back_what_was_sold_and_a_void_leaves_the_batch(string rate, long charged)
    {
        var bench = await Opened();
        var till = bench.Register;
        till.CardRate = decimal.Parse(rate, System.Globalization.CultureInfo.InvariantCulture);
        till.Ring("M204", 2);
        await till.PayCard("credit", "kestrel", "1234", till.Due, 0, 0, false);
        var sold = (string)till.Tickets.Single()["id"]!;
        Assert.Equal((1, charged), till.Reader.Running);
        till.Refund(sold);
        await till.PayCard("credit", "kestrel", "1234", till.Due, 0, 0, false);
        Assert.Equal((2, 0), till.Reader.Running);
        till.Ring("M101", 1);
        await till.PayCard("debit", "", "9999", till.Due, 0, 0, false);
        await till.Void((string)till.Tickets.First()["id"]!);
        Assert.Equal((2, 0), till.Reader.Running);
        var result = bench.Day($$$""","policy":{"priceProgramme":{"kind":"surcharge","rate":"{{{rate}}}","tenders":["credit"]}}""");
        Assert.Empty(result.TicketFindings);
        Assert.Equal(0, result.Cells.Single(c => c.Key.Written.Tender == "credit").Expected.Minor);
    }

    [Fact]
    public async Task The_card_reader_answers_as_it_is_told()
    {
        var bench = await Opened();
        var till = bench.Register;
        till.Ring("M204", 1);
        till.Reader.Mood = CardMood.TimesOut;
        await till.PayCard("credit", "heron", "4417", till.Due, 0, 0, false);
        Assert.Contains("timed out", till.Says, StringComparison.Ordinal);
        till.Reader.Mood = CardMood.Aborted;
        await till.PayCard("credit", "heron", "4417", till.Due, 0, 0, false);
        Assert.Empty(till.Tenders);
        till.Reader.Mood = CardMood.Approves;
        await till.PayCard("credit", "heron", "4417", 5_00, 0, 0, false);
        await till.PayCard("credit", "heron", "4417", 5_00, 0, 0, false);
        Assert.Contains("duplicate", till.Says, StringComparison.Ordinal);
        till.Reader.Mood = CardMood.Declines;
        await till.PayCard("credit", "egret", "2222", till.Due, 0, 0, false);
        Assert.Equal("declined", (string?)till.Tenders[^1]["result"]);
        till.ReverseCards();
        Assert.Equal((0, 0), till.Reader.Running);
        await till.PayCash(till.Due);
        var ticket = bench.Day().Day.Journal.OfType<Core.Journal.Ticket>().Single();
        Assert.Equal(["Reversed", "Declined", "Approved"], ticket.Tenders.Select(t => t.Result.ToString()));
    }

    [Fact]
    public async Task While_the_line_is_down_tickets_are_kept_and_sent_later_in_order()
    {
        var bench = await Opened();
        var till = bench.Register;
        till.Line.IsDown = true;
        for (var i = 0; i < 150; i++)
        {
            await till.NoSale();
        }

        Assert.Equal((150, 1), (till.Line.Waiting, bench.Heard.Count));
        till.Line.IsDown = false;
        await till.Line.Flush();
        Assert.Equal(0, till.Line.Waiting);
        Assert.Equal(Enumerable.Range(1, 151).Select(n => $"L1-{n:000000}"), bench.Heard.Select(l => (string)JsonNode.Parse(l)!["id"]!));
    }

    [Fact]
    public async Task On_its_page_a_ticket_is_rung_paid_and_seen_in_fondo()
    {
        var visitor = await Shop.SignedIn();
        const string page = "/stand-ins/register/SA";
        await visitor.Post($"{page}?handler=Open", new() { ["amount"] = "150.00" }, page);
        await visitor.Post($"{page}?handler=Ring", new() { ["sku"] = "m101", ["quantity"] = "2" }, page);
        Assert.Contains("9.50", (await visitor.Page(page)).QuerySelector(".ticket")!.TextContent, StringComparison.Ordinal);
        await visitor.Post($"{page}?handler=Cash", new() { ["amount"] = "10.00" }, page);
        Assert.Contains("Change 0.50", (await visitor.Page(page)).QuerySelector(".says")!.TextContent, StringComparison.Ordinal);
        var rung = await Shop.InStore(db => db.Events.Where(e => e.Register == "SA" && e.Drawer == "SA-B").OrderBy(e => e.Id)
            .Select(e => e.Kind + " " + e.Amount).ToListAsync());
        Assert.Equal(["open 15000", "sale 950"], rung);
        Assert.Contains("159.50", (await visitor.Page($"{Shop.Day}/drawer/SA-B")).QuerySelector("h1")!.TextContent,
            StringComparison.Ordinal);
    }

    /// <summary>A whole day over HTTP: every event arrives, no number is missing, and the files put into the inbox complete it.</summary>
    [Fact]
    public async Task A_day_is_played_whole()
    {
        var host = Shop.Services.GetRequiredService<StandInHost>();
        var date = new DateOnly(2026, 11, 20);
        host.Processor.Settle("T-09", Guid.NewGuid()); // what the demo's evening left there
        await host.Play(11, date, 200, 4, 1_000_000);
        for (var wait = 0; wait < 900 && !(host.Played!.IsDone && Directory.Exists(Path.Combine(Shop.Folder, "inbox", "taken"))
            && Directory.GetFiles(Path.Combine(Shop.Folder, "inbox", "taken"), "day-*").Length > 0); wait++)
        {
            await Task.Delay(100, TestContext.Current.CancellationToken);
        }

        Assert.True(host.Played!.IsDone);
        Assert.Equal(host.Played.Events, await Shop.InStore(db => db.Events.CountAsync(e => e.Day == date)));
        using var scope = Shop.Services.CreateScope();
        Assert.Empty(await scope.ServiceProvider.GetRequiredService<Store.Intake.Numbering>().Missing(date));

        // What was run is held by the terminals, and settles from there.
        var settler = scope.ServiceProvider.GetRequiredService<Web.Settling.Settler>();
        await settler.Round(TestContext.Current.CancellationToken);
        foreach (var terminal in host.Processor.Terminals)
        {
            await Shop.SettleWhatIsHeld(date, terminal);
        }

        var view = await scope.ServiceProvider.GetRequiredService<Store.Days.DayStore>().View(date);
        var rows = host.Played.Files["batches.csv"].Split('\n', StringSplitOptions.RemoveEmptyEntries).Skip(1).Select(l => l.Split(','))
            .Select(f => f[5] + f[11]);
        Assert.Equal(rows.Order(), view!.Day.Rows!.Value.Select(r => view.Setup.Currency.Format(r.Amount) + r.Card.Rrn).Order());
        Assert.All(view.Overview.Sessions, s => Assert.Contains(view.Day.Counts, c => c.Drawer == s.Drawer));
    }
}
