using System.Text;
using Fondo.Store.Intake;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>What people remember of a ticket, and whether it leads to it and to nothing else.</summary>
public sealed class Finding : InOwnShop
{
    private static readonly (string Id, string Line)[] _sold =
    [
        ("L1-700001", Sale("L1-700001", "L1", "L1-A", "p11", "2026-11-21T09:05:00-05:00", "1284.15",
            """{"type":"check","amount":"1284.15","number":"8812","name":"Mara O'Dell-Quist"}""")),
        ("L1-700002", Sale("L1-700002", "L1", "L1-A", "p11", "2026-11-21T09:06:00-05:00", "77.31",
            """{"type":"check","amount":"77.31","number":"8813","name":"100% Wool_Works"}""")),
        ("L3-700003", Sale("L3-700003", "L3", "L3-A", "p14", "2026-11-21T16:20:00-05:00", "77.31",
            """{"type":"credit","amount":"77.31","terminal":"T-03","brand":"heron","card":"8812","auth":"ZX91Q4"}""")),
        ("L3-700004", Sale("L3-700004", "L3", "L3-A", "p14", "2026-11-21T16:21:00-05:00", "12.00",
            """{"type":"gift-card","amount":"12.00","ref":"5501"}""")),
        ("L3-700005", Sale("L3-700005", "L3", "L3-A", "p14", "2026-11-21T16:22:00-05:00", "-77.31",
            """{"type":"credit","amount":"-77.31","terminal":"T-03","brand":"heron","card":"8812"}""", "refund",
            ",\"original\":\"L3-700003\"")),
    ];

    private static string Sale(string id, string register, string drawer, string cashier, string at, string total, string tender,
        string kind = "sale", string more = "") =>
        $$"""{"id":"{{id}}","register":"{{register}}","drawer":"{{drawer}}","cashier":"{{cashier}}","at":"{{at}}","kind":"{{kind}}","lines":[],"subtotal":"{{total}}","tax":"0.00","total":"{{total}}","tenders":[{{tender}}]{{more}}}""";

    public override async ValueTask InitializeAsync()
    {
        await base.InitializeAsync();
        using var scope = Shop.Services.CreateScope();
        var part = await scope.ServiceProvider.GetRequiredService<JournalIntake>()
            .TakeFile(new MemoryStream(Encoding.UTF8.GetBytes(string.Join('\n', _sold.Select(s => s.Line)))), "p01");
        Assert.Empty(part.Findings);
    }

    /// <summary>On 1 November 2026 New York's clocks show 01:30 twice: at 05:30 and at 06:30 by universal time. In the morning of that day
    /// the offset of midnight is wrong.</summary>
    [Theory]
    [InlineData("01:30", "2026-11-01T05:31:00+00:00", true)]
    [InlineData("01:30", "2026-11-01T06:29:00+00:00", true)]
    [InlineData("01:30", "2026-11-01T07:30:00+00:00", false)]
    [InlineData("10:00", "2026-11-01T15:00:00+00:00", true)] // ten in the morning is five hours behind
    [InlineData("10:00", "2026-11-01T14:00:00+00:00", false)]
    public async Task A_time_is_the_stores_also_on_the_day_on_which_summer_time_ends(string asked, string at, bool isFound)
    {
        var key = $"L1-71{Math.Abs(HashCode.Combine(asked, at)) % 9_000 + 1_000}";
        await Shop.InStore(async db =>
        {
            var id = await db.Records.MaxAsync(r => r.Id) + 1;
            var ticks = DateTimeOffset.Parse(at, System.Globalization.CultureInfo.InvariantCulture).UtcTicks;
            await db.Database.ExecuteSqlAsync($"""
                INSERT INTO Records (Id, Day, Kind, Key, Version, Json, Line, TakenAt, TakenBy)
                VALUES ({id}, '2026-11-21', 'event', {key}, 1, '', 0, 1, 'p01')
                """);
            return await db.Database.ExecuteSqlAsync(
                $"INSERT INTO Events (Id, Day, Key, Register, Kind, At) VALUES ({id}, '2026-11-21', {key}, 'L1', 'no-sale', {ticks})");
        });
        var found = await (await Shop.SignedIn()).Page($"/find?q={asked}&From=2026-11-01&Until=2026-11-01");
        Assert.Equal(isFound, found.QuerySelectorAll("[data-row]").Any(a => a.TextContent.Trim() == key));
    }

    private async Task<List<string>> Found(string asked, string more = "") =>
        [.. (await (await Shop.SignedIn()).Page($"/find?q={Uri.EscapeDataString(asked)}{more}")).QuerySelectorAll("[data-row]")
            .Select(a => a.TextContent.Trim()).Where(id => id.Contains("-7000", StringComparison.Ordinal)).Order()];

    [Theory]
    [InlineData("1284.15", "L1-700001")]
    [InlineData("1,284.15", "L1-700001")] // as the screen writes it
    [InlineData("8812", "L1-700001 L3-700003 L3-700005")] // a check's number, a card's last four
    [InlineData("8812 77.31", "L3-700003 L3-700005")]
    [InlineData("77.31", "L1-700002 L3-700003 L3-700005")]
    [InlineData("−77.31", "L1-700002 L3-700003 L3-700005")] // a sale or its refund
    [InlineData("77.31 wool", "L1-700002")] // the second word of a name begins so
    [InlineData("77.31 ool", "")] // none does
    [InlineData("77.31 wool_w", "L1-700002")]
    [InlineData("mara", "L1-700001")]
    [InlineData("o'dell", "L1-700001")]
    [InlineData("O'Dell-Quist 1284.15", "L1-700001")]
    [InlineData("100%", "L1-700002")]
    [InlineData("zx91q4", "L3-700003")]
    [InlineData("5501", "L3-700004")]
    [InlineData("700004", "L3-700004")]
    [InlineData("l3-700004", "L3-700004")]
    [InlineData("16:21 12.00", "L3-700004")]
    [InlineData("ansel 77.31", "L1-700002")]
    [InlineData("'; DROP TABLE Events; --", "")]
    [InlineData("999999999999999999999.99", "")]
    public async Task What_is_remembered_leads_to_the_ticket(string asked, string found) =>
        Assert.Equal(found.Split(' ', StringSplitOptions.RemoveEmptyEntries), await Found(asked));

    [Fact]
    public async Task A_register_and_days_narrow_it()
    {
        Assert.Equal(["L1-700002"], await Found("77.31", "&register=L1"));
        Assert.Empty(await Found("77.31", "&until=2026-11-20"));
        Assert.Equal(3, (await Found("77.31", "&from=2026-11-21&until=2026-11-21")).Count);
        Assert.Empty(await Found("77.31", "&from=2026-11-22"));
    }

    [Fact]
    public async Task A_ticket_names_its_refund_and_the_refund_its_ticket()
    {
        var visitor = await Shop.SignedIn();
        var sold = await visitor.Page($"{Shop.Day}/ticket/L3-700003");
        Assert.Contains("L3-700005", sold.QuerySelector(".ticket-right")!.TextContent, StringComparison.Ordinal);
        var back = await visitor.Page($"{Shop.Day}/ticket/L3-700005");
        Assert.Equal($"{Shop.Day}/ticket/L3-700003",
            back.QuerySelectorAll(".ticket-right p a").First(a => a.TextContent == "L3-700003").GetAttribute("href"));
        Assert.Contains("A refund of 77.31", back.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("8812 8812", back.Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_came_in_before_thirteen_months_is_not_looked_for_unless_asked()
    {
        using (var scope = Shop.Services.CreateScope())
        {
            var old = Sale("L1-700090", "L1", "L1-A", "p11", "2025-10-01T10:00:00-04:00", "31.07", """{"type":"cash","amount":"31.07"}""");
            Assert.Equal(1, (await scope.ServiceProvider.GetRequiredService<JournalIntake>()
                .TakeFile(new MemoryStream(Encoding.UTF8.GetBytes(old)), "p01")).Taken);
        }

        Assert.Empty(await Found("31.07"));
        Assert.Equal(["L1-700090"], await Found("31.07", "&from=2025-09-01"));
        Assert.Equal(new DateOnly(2025, 10, 1),
            await Shop.InStore(db => db.Events.Where(e => e.Key == "L1-700090").Select(e => e.Day).SingleAsync()));
    }
}
