using System.Text;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Rules §5: what came over the wire and comes again in a file is known already, on its own day and on others.</summary>
public sealed class KnownRows : SettlingShop
{
    private const string Header = "terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n";

    private static string Row(string batch, string seq, string amount, string rrn) =>
        $"T-01,{batch},{seq},2026-11-21T22:10:00-05:00,sale,{amount},0.00,0.00,heron,4417,A{rrn[^5..]},{rrn},chip,\n";

    private Task<IntakeResult> File(DateOnly day, string rows) => House.Ask<DayIntake, IntakeResult>(i =>
        i.Take([new("batches.csv", () => new MemoryStream(Encoding.UTF8.GetBytes(Header + rows)))], day, "p02"));

    private async Task<DayView> View(DateOnly day)
    {
        House.Services.GetRequiredService<DayCache>().ForgetAssembly(day);
        return (await House.Ask<DayStore, DayView?>(d => d.View(day)))!;
    }

    [Fact]
    public async Task A_transaction_counts_once_whichever_way_it_comes()
    {
        await Sell("64.00", "R00000000001");
        await Sell("9.00", "R00000000002");
        await Settle("T-01");
        var before = await View(Today);

        // The processor's file of the same evening, without its batch numbers, and a card that the wire never told.
        var taken = await File(Today, Row("261121", "1", "64.00", "R00000000001") + Row("261121", "2", "9.00", "R00000000002")
            + Row("261121", "3", "5.00", "R00000000003"));
        Assert.Equal((3, 2), (taken.Added, taken.Again));
        var after = await View(Today);
        Assert.Equal(before.Day.Rows!.Value.Length + 1, after.Day.Rows!.Value.Length);
        Assert.Equal(2, after.Day.RowsAgain.Length);
        Assert.Empty(after.Reconciliation.BatchDifferences);
        Assert.Equal(before.Reconciliation.Matches.Length, after.Reconciliation.Matches.Length);

        // A week of the processor's in one file, on another day: two are known, one of the amounts is another.
        var tomorrow = Today.AddDays(1);
        taken = await File(tomorrow, Row("261122", "1", "64.00", "R00000000001") + Row("261122", "2", "9.01", "R00000000002")
            + Row("261122", "3", "5.00", "R00000000003"));
        Assert.Equal((3, 2), (taken.Added - 1, taken.Again));
        Assert.Equal(["R00000000002"], (await View(tomorrow)).Day.Rows!.Value.Select(r => r.Card.Rrn));
        Assert.Equal(2, (await View(tomorrow)).Day.RowsAgain.Length);

        // The same file again changes nothing, and nothing of the first day.
        taken = await File(tomorrow, Row("261122", "1", "64.00", "R00000000001"));
        Assert.Equal((0, 0), (taken.Added, taken.Again));
        Assert.Equal(after.Day.Rows!.Value.Length, (await View(Today)).Day.Rows!.Value.Length);
    }

    [Fact]
    public async Task What_was_known_is_told_on_the_page()
    {
        await Sell("64.00", "R00000000001");
        await Settle("T-01");
        var page = await Odile.Upload($"{Shop.Day}/take-in",
            ("batches.csv", Encoding.UTF8.GetBytes(Header + Row("261121", "1", "64.00", "R00000000001"))));
        Assert.Contains("1 row was already known under another batch or number, and counts once.",
            page.QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
    }
}
