using System.Globalization;
using System.Net;
using System.Text;
using AngleSharp.Dom;
using Fondo.Core.Custody;
using Fondo.Core.Entries;
using Fondo.Rehearsal;
using Fondo.Store.Days;
using Fondo.Store.Treasury;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Forty statements, ten kinds in each of four shapes, imported one after the other into a small shop, through to a closed day and
/// its books.</summary>
public sealed class StatementsOfEveryKind : SmallShop
{
    private static readonly DateOnly _first = new(2026, 11, 21), _second = new(2026, 11, 22);

    private const string Second = "/2026-11-22";

    /// <summary>Five bags of the first day, which a carrier has: 400, 360, 300, 220 and 160.</summary>
    private async Task Deposit()
    {
        Assert.Null((await Own.Ask((SafeDesk desk) =>
            desk.Move(_first, new(Guid.NewGuid(), SafeMovementKind.Opening, "5000.00", "what lay there"), Odile, Tamsin))).Objection);
        foreach (var (bag, notes) in new[] { ("70401", "20"), ("70402", "18"), ("70403", "15"), ("70405", "11"), ("70406", "8") })
        {
            Assert.Null((await Own.Ask((DepositDesk desk) =>
                desk.Seal(_first, Guid.NewGuid(), bag, new Dictionary<long, string> { [2000] = notes }, [], Odile, Tamsin))).Objection);
        }

        for (var number = 1; number <= 5; number++)
        {
            Assert.Null((await Own.Ask((DepositDesk desk) => desk.HandOver(number, "Ferry Lane carriers", "S1", Odile))).Objection);
        }
    }

    private static BankLine Line(string? reference, long amount, string text) => new(reference, _second, amount, text);

    /// <summary>Each statement, and what its last line is found to be.</summary>
    private static IEnumerable<(BankLine[] Lines, string Says)> Kinds(StatementShape shape) =>
    [
        ([Line("R-1", 400_00, "DEPOSIT 70401")], "deposit 1"),
        // OFX has no line without a reference (FITID is needed).
        ([Line(shape == StatementShape.Ofx ? "NONREF" : null, 360_00, "NIGHT SAFE")], "deposit 2"),
        ([Line("A/B/7", 200_00, "PART OF 70403")], "part of deposit 3"),
        ([Line("R-4", 100_00, "REST OF 70403")], "deposit 3"),
        ([shape == StatementShape.Camt08
            ? Line("R-5", 380_00, "SAMMELGUTSCHRIFT") with { Pieces = [Line(null, 220_00, "70405"), Line(null, 160_00, "70406")] }
            : Line("R-5", 380_00, "DEPOSITS 70405 70406")], "deposit 5"),
        ([Line("R-6", 5_00, $"{ShopPlan.Cards} SETTLEMENT")], "Quill, for 21 Nov"),
        ([Line("R-7", -3_50, "ACCOUNT FEE 70402")], "not matched"),
        ([Line("R-8", -400_00, "REVERSAL 70401") with { IsReversal = true }], "part of deposit 1; 400.00 still in transit"),
        ([Line("R-9", 400_00, "DEPOSIT 70401 AGAIN")], "deposit 1"),
        ([Line("R-10", -5_00, $"{ShopPlan.Cards} CHARGEBACK 1111")], "not matched"),
    ];

    [Theory]
    [InlineData(StatementShape.Csv)]
    [InlineData(StatementShape.Camt08)]
    [InlineData(StatementShape.Mt940)]
    [InlineData(StatementShape.Ofx)]
    public async Task Ten_statements_are_imported_matched_and_closed_to_the_cent(StatementShape shape)
    {
        var odile = await BeginShop();
        await Trade(odile, "2026-11-21", cards: 1);
        await Deposit();
        await Close(odile, _first);
        Own.Clock.Advance(TimeSpan.FromHours(20));
        odile = await Own.SignedIn();
        await Trade(odile, "2026-11-22", cards: 0);

        var (plan, opening, number) =
            (ShopPlan.Of(1) with { Currency = "USD", Digits = 2, TimeZone = "America/New_York", Shape = shape }, 1_000_00L, 0);
        foreach (var (lines, says) in Kinds(shape))
        {
            StatementWriter writer = new(plan, $"ST-{++number}", _second, _second, opening, lines);
            var page = await Import(odile, writer.Write(), $"statement-{number}{writer.Ending}");
            Assert.Equal("", string.Join(' ', page.QuerySelectorAll(".objection").Select(o => o.TextContent.Trim())).Trim());
            opening += lines.Sum(l => l.Amount);
            var text = lines[^1].Pieces is [.., var piece] ? piece.Text
                : shape != StatementShape.Camt08 && number == 5 ? "70406"
                : lines[^1].Text;
            Assert.StartsWith(says, Matched(page, text), StringComparison.Ordinal);
        }

        await Explain();
        await Close(odile, _second);
        var document = ClosingDesk.Read((await Own.Ask(async (DayStore days) => (await days.View(_second))!)).Close!);
        Assert.Empty(document.Whereabouts!.OpenDeposits);
        Assert.Empty(document.Whereabouts.OpenFundings);
        decimal Posted(string account) =>
            document.Books.Where(b => b.Account == account).Sum(b => decimal.Parse(b.Amount, CultureInfo.InvariantCulture));
        Assert.Equal((1436.50m, 3.50m, 5.00m, 0m),
            (Posted("Assets:Bank"), Posted("Expenses:Bank charges"), Posted("Expenses:Card costs"),
                document.Books.Sum(b => decimal.Parse(b.Amount, CultureInfo.InvariantCulture))));
        var bank = (await odile.Page("/span?from=2026-11-21&to=2026-11-22")).QuerySelectorAll("h2").Single(h =>
            h.TextContent == "Assets:Bank against the bank").NextElementSibling!;
        Assert.Equal(["1,436.50", "1,000.00", "2,436.50", "2,436.50", "0.00"],
            bank.QuerySelectorAll("tbody tr").Select(r => r.QuerySelectorAll("td")[^1].TextContent));
    }

    /// <summary>What nothing open explains is accepted, and signed by the other manager.</summary>
    private async Task Explain()
    {
        var view = await Own.Ask(async (DayStore days) => (await days.View(_second))!);
        foreach (var off in view.Bridges.Values.Where(b => b.IsUnresolved))
        {
            Assert.Null((await Own.Ask((Resolving r) => r.Add(_second, Guid.NewGuid(),
                [new(EntryKind.Accept, [new(off.Cell.Key, off.Left!.Value)], null, "the bank’s letter", [])], Odile))).Objection);
        }

        var waiting = (await Own.Ask(async (DayStore days) => (await days.View(_second))!)).Entries.Where(e => !e.Holds).Select(e => e.Id)
            .ToList();
        Assert.Equal(2, (await Own.Ask((Resolving r) => r.Sign(_second, waiting, Tamsin))).Approved);
    }

    private static string Matched(IDocument page, string text) =>
        page.QuerySelectorAll(".bank-lines tbody tr")
            .Last(r => r.QuerySelector(".said")!.TextContent.Contains(text, StringComparison.Ordinal))
            .QuerySelector("td:nth-child(4)")!.TextContent.Trim();

    private static async Task<IDocument> Import(Visitor visitor, string text, string name)
    {
        using var form =
            new MultipartFormDataContent { { new StringContent(await visitor.Token($"{Second}/bank")), "__RequestVerificationToken" } };
        form.Add(new ByteArrayContent(Encoding.UTF8.GetBytes(text)), "statement", name);
        using var answer = await visitor.Client.PostAsync($"{Second}/bank", form);
        await visitor.AgreeToFiles();
        return answer.StatusCode == HttpStatusCode.Redirect ? await visitor.Page($"{Second}/bank") : await Visitor.Read(answer);
    }
}
