using System.Net;
using Fondo.Core.Cells;
using Fondo.Store.Days;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Totals of terminals that are not connected, and the batches of the past.</summary>
public sealed class PrintedAndPast : SettlingShop
{
    [Fact]
    public async Task Printed_totals_prove_as_totals_until_rows_come()
    {
        await Send(
            $$"""{"id":"BK-{{++Number}}","register":"BK","drawer":"BK-B","cashier":"p12","at":"{{At()}}","kind":"open","amount":"150.00"}""", "BK");
        await House.Tamper(
            async db => await db.Database.ExecuteSqlRawAsync("DELETE FROM Records WHERE Kind IN ('row', 'total') AND Key LIKE 'T-08/%'")
                + await db.Database.ExecuteSqlRawAsync("UPDATE Days SET Revision = Revision + 1"));
        House.Services.GetRequiredService<DayCache>().ForgetAssembly(Today);
        var journal = Core.Sheets.TerminalComparison.Of(new("T-08"),
            Core.Sheets.TerminalComparison.Unsettled((await View()).Reconciliation)[new("T-08")], []);
        Assert.True(journal.Journal.Number > 0);
        var form =
            new List<KeyValuePair<string, string>> { new("terminal", "T-08"), new("__RequestVerificationToken", await Odile.Token(Page)) };
        foreach (var b in journal.Brands)
        {
            form.AddRange([
                new("brand", b.Brand),
                new("sales", $"{b.Journal.Sales}"),
                new("salesAmount", Text(b.Journal.SalesAmount.Minor)),
                new("refunds", $"{b.Journal.Refunds}"),
                new("refundsAmount", Text(b.Journal.RefundsAmount.Minor))
            ]);
        }

        // First with a slip: more sold than the number says, and a negative number.
        var wrong = form.Select(f => f.Key == "sales" ? new KeyValuePair<string, string>(f.Key, "-1") : f);
        using (var refused = await Odile.Client.PostAsync($"{Page}?handler=Printed", new FormUrlEncodedContent(wrong)))
        {
            Assert.Contains("Type a whole number of 0 or more.", (await Visitor.Read(refused)).QuerySelector(".objection")!.TextContent,
                StringComparison.Ordinal);
        }

        using (var taken = await Odile.Client.PostAsync($"{Page}?handler=Printed", new FormUrlEncodedContent(form)))
        {
            Assert.Equal(HttpStatusCode.Redirect, taken.StatusCode);
        }

        var cells = (await View()).Reconciliation.Cells
            .Where(c => c.Key.Register?.Value == "BK" && c.Key.Drawer is null && c.Key.Written.Tender is "credit" or "debit"
                && c.Key.Register?.Value == "BK").ToList();
        Assert.NotEmpty(cells);
        Assert.All(cells, c => Assert.Equal(CellState.Proved, c.State));
        Assert.DoesNotContain((await View()).Reconciliation.OpenItems, o => o.Item.Terminal?.Value == "T-08");

        // Typed again with another amount: the later one stands.
        var at = form.FindIndex(f => f.Key == "salesAmount");
        form[at] = new("salesAmount", "1.00");
        using (var taken = await Odile.Client.PostAsync($"{Page}?handler=Printed", new FormUrlEncodedContent(form)))
        {
            Assert.Equal(HttpStatusCode.Redirect, taken.StatusCode);
        }

        Assert.Contains((await View()).Reconciliation.Cells,
            c => c.Key.Register?.Value == "BK" && c.State == CellState.Off && c.Key.Drawer is null);

        // The rows come after all, whatever they hold: from then on they prove, and the totals say nothing any more.
        Host.Take("T-08", Held("9.00", "R00000000008"));
        Host.SettlePlayed("T-08", House.Clock.GetUtcNow());
        await Rounds();
        Assert.Contains((await View()).Reconciliation.OpenItems, o => o.Item.Terminal?.Value == "T-08");
        Assert.Equal(900, (await View()).Reconciliation.Cells
            .Where(c => c.Key.Register?.Value == "BK" && c.Key.Drawer is null && c.Key.Written.Tender is "credit")
            .Sum(c => c.Proof?.Minor ?? 0));
    }

    [Fact]
    public async Task Batches_of_the_past_are_found_by_what_one_knows_of_a_row()
    {
        var all = await Odile.Page("/batches?from=2026-11-21&to=2026-11-21");
        Assert.Contains("10 batches", all.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        var row = (await View()).Day.Rows!.Value.First(r => r.Card.Rrn is not null);
        foreach (var query in new[]
        {
            $"last={row.Card.LastFour}",
            $"reference={row.Card.Rrn}",
            $"reference={row.Card.Approval}",
            $"amount={Text(row.Amount.Minor)}",
            $"terminal={row.Key.Terminal}&batch={row.Key.Batch}"
        })
        {
            Assert.Contains(row.Key.ToString(),
                (await Odile.Page($"/batches?from=2026-11-21&to=2026-11-21&{query}")).QuerySelector(".events")!.TextContent,
                StringComparison.Ordinal);
        }

        var open = await Odile.Page("/batches?from=2026-11-21&to=2026-11-21&state=open");
        Assert.Equal((await View()).Reconciliation.OpenItems.Count(o => o.Side == Core.Matching.OpenIn.Batch && o.Item.CarriedFrom is null),
            open.QuerySelectorAll(".events tbody tr").Length);
        using var csv = await Odile.Get("/batches?from=2026-11-21&to=2026-11-21&handler=Csv");
        Assert.Equal((await View()).Day.Rows!.Value.Length + 1,
            (await csv.Content.ReadAsStringAsync()).Split('\n', StringSplitOptions.RemoveEmptyEntries).Length);
        Assert.Contains("At most 62 days",
            (await Odile.Page("/batches?from=2026-01-01&to=2026-11-21")).QuerySelector(".objection")!.TextContent,
            StringComparison.Ordinal);
        // One card or one reference: over thirteen months.
        Assert.Null((await Odile.Page("/batches?from=2025-10-25&to=2026-11-21&last=4417")).QuerySelector(".objection"));
        Assert.Contains("At most 400 days",
            (await Odile.Page("/batches?from=2025-01-01&to=2026-11-21&last=4417")).QuerySelector(".objection")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("like 2026-11-21", (await Odile.Page("/batches?from=yesterday")).QuerySelector(".objection")!.TextContent,
            StringComparison.Ordinal);
    }
}
