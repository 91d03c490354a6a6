using System.Globalization;
using System.Net;
using System.Text;
using AngleSharp.Dom;
using Fondo.Core.Custody;
using Fondo.Core.Entries;
using Fondo.Core.SetUp;
using Fondo.Files;
using Fondo.Rehearsal;
using Fondo.Store.Days;
using Fondo.Store.Treasury;
using Fondo.Web.Hosting;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>Forty statements, ten kinds in each of four shapes, imported one after the other into a small shop, through to a closed day and its books.</summary>
public sealed class StatementsOfEveryKind : IDisposable
{
    private static readonly DateOnly _first = new(2026, 11, 21), _second = new(2026, 11, 22);

    private const string First = "/2026-11-21", Second = "/2026-11-22";

    private static readonly Person _odile = new(new("p01"), "Odile Marchetti", Role.Manager), _tamsin = Shop.Tamsin;

    private readonly Shop _shop = new() { IsEmpty = true };

    public void Dispose() => _shop.Dispose();

    private static string SetUp(string day) => $$"""
        {"fondo":1,"store":"Mossgate Market Hall","tradingDay":"{{day}}","currency":"USD","timeZone":"America/New_York","dayEndsAt":"04:00",
         "registers":[{"id":"L1","name":"Lane 1","kind":"lane"}],"terminals":[{"id":"T-1","register":"L1"}],
         "processors":[{"id":"cards","name":"Quill","reference":"{{ShopPlan.Cards}}","tenders":["credit","debit","online"],"days":1,"net":true}],
         "people":[{"id":"p01","name":"Odile Marchetti","role":"manager"},{"id":"p02","name":"Tamsin Okafor","role":"manager"}],
         "policy":{"cashTolerance":"2.00","approvalAbove":"20.00"} }
        """;

    private static string Event(string day, string id, string hour, string kind, string more = "") =>
        $$"""{"id":"{{id}}","register":"L1","drawer":"L1-{{day[^2..]}}","cashier":"p01","at":"{{day}}T{{hour}}:00:00-05:00","kind":"{{kind}}"{{more}} }""";

    private const string Totals = ",\"lines\":[],\"subtotal\":\"5.00\",\"discount\":\"0.00\",\"tax\":\"0.00\",\"fee\":\"0.00\",\"rounding\":\"0.00\",\"total\":\"5.00\",\"tenders\":[{\"amount\":\"5.00\",";

    private static string Sale(string day, string id, string tender) => Event(day, id, "10", "sale", $"{Totals}{tender}}}]");

    private async Task<Visitor> BeginShop()
    {
        var visitor = _shop.Visit();
        await visitor.Post("/set-up", Shop.FirstPeople(_shop.Services.GetRequiredService<SetUpCode>().Value));
        return await _shop.SignedIn();
    }

    /// <summary>A day of one sale in cash, counted, its files taken in.</summary>
    private static async Task Trade(Visitor odile, string day, bool hasCard)
    {
        var journal = string.Join('\n', Event(day, $"o{day[^2..]}", "08", "open", ",\"amount\":\"0.00\""), Sale(day, $"s{day[^2..]}", "\"type\":\"cash\""),
            hasCard ? Sale(day, $"c{day[^2..]}", "\"type\":\"credit\",\"terminal\":\"T-1\",\"card\":\"1111\",\"auth\":\"71\",\"rrn\":\"900001\"") : "", Event(day, $"x{day[^2..]}", "12", "close"));
        var rows = $"terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,entry,benefit\n{(hasCard ? $"T-1,7,1,{day}T10:00:00-05:00,sale,5.00,,,heron,1111,71,900001,chip,\n" : "")}";
        var page = await odile.Upload("/take-in", (DayFiles.Setup, Encoding.UTF8.GetBytes(SetUp(day))), (DayFiles.Journal, Encoding.UTF8.GetBytes(journal)), (DayFiles.Rows, Encoding.UTF8.GetBytes(rows)));
        Assert.Contains("Taken in", page.Body!.TextContent, StringComparison.Ordinal);
        await odile.Post($"/{day}/count/L1-{day[^2..]}", new() { ["form"] = Guid.NewGuid().ToString(), ["attempt"] = "1", ["p500"] = "1" });
    }

    private async Task Close(Visitor odile, DateOnly date, string day)
    {
        var view = (await _shop.Ask(async (DayStore days) => (await days.View(date))!));
        foreach (var (gate, item) in view.Gates.SelectMany(g => g.Left.Where(l => l.CanBeExcused).Select(l => (g.Id, l.Key))))
        {
            await odile.Post($"{day}/close?handler=Excuse", new() { ["gate"] = gate.ToString(), ["item"] = item, ["reason"] = "a small shop" }, $"{day}/close");
        }

        Assert.Null((await _shop.Ask((ClosingDesk desk) => desk.Close(date, _odile))).Objection);
    }

    /// <summary>Five bags of the first day, which a carrier has: 400, 360, 300, 220 and 160.</summary>
    private async Task Deposit()
    {
        Assert.Null((await _shop.Ask((SafeDesk desk) => desk.Move(_first, new(Guid.NewGuid(), SafeMovementKind.Opening, "5000.00", "what lay there"), _odile, _tamsin))).Objection);
        foreach (var (bag, notes) in new[] { ("70401", "20"), ("70402", "18"), ("70403", "15"), ("70405", "11"), ("70406", "8") })
        {
            Assert.Empty(await _shop.Ask((DepositDesk desk) => desk.Seal(_first, Guid.NewGuid(), bag, new Dictionary<long, string> { [2000] = notes }, [], _odile, _tamsin)));
        }

        for (var number = 1; number <= 5; number++)
        {
            Assert.Null((await _shop.Ask((DepositDesk desk) => desk.HandOver(number, "Ferry Lane carriers", "S1", _odile))).Objection);
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
        ([shape == StatementShape.Camt08 ? Line("R-5", 380_00, "SAMMELGUTSCHRIFT") with { Pieces = [Line(null, 220_00, "70405"), Line(null, 160_00, "70406")] } : Line("R-5", 380_00, "DEPOSITS 70405 70406")], "deposit 5"),
        ([Line("R-6", 5_00, $"{ShopPlan.Cards} SETTLEMENT")], "Quill, for 21 Nov"),
        ([Line("R-7", -3_50, "ACCOUNT FEE 70402")], "not matched"),
        ([Line("R-8", -400_00, "REVERSAL 70401") with { IsReversal = true }], "part of deposit 1; 400.00 still on the way"),
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
        await Trade(odile, "2026-11-21", hasCard: true);
        await Deposit();
        await Close(odile, _first, First);
        _shop.Clock.Advance(TimeSpan.FromHours(20));
        odile = await _shop.SignedIn();
        await Trade(odile, "2026-11-22", hasCard: false);

        var (plan, opening, number) = (ShopPlan.Of(1) with { Currency = "USD", Digits = 2, TimeZone = "America/New_York", Shape = shape }, 1_000_00L, 0);
        foreach (var (lines, says) in Kinds(shape))
        {
            StatementWriter writer = new(plan, $"ST-{++number}", _second, _second, opening, lines);
            var page = await Import(odile, writer.Write(), $"statement-{number}{writer.Ending}");
            Assert.Equal("", string.Join(' ', page.QuerySelectorAll(".objection").Select(o => o.TextContent.Trim())).Trim());
            opening += lines.Sum(l => l.Amount);
            var text = lines[^1].Pieces is [.., var piece] ? piece.Text : shape != StatementShape.Camt08 && number == 5 ? "70406" : lines[^1].Text;
            Assert.StartsWith(says, Matched(page, text), StringComparison.Ordinal);
        }

        await Explain();
        await Close(odile, _second, Second);
        var document = ClosingDesk.Read((await _shop.Ask(async (DayStore days) => (await days.View(_second))!)).Close!);
        Assert.Empty(document.Whereabouts!.OpenDeposits);
        Assert.Empty(document.Whereabouts.OpenFundings);
        decimal Posted(string account) => document.Books.Where(b => b.Account == account).Sum(b => decimal.Parse(b.Amount, CultureInfo.InvariantCulture));
        Assert.Equal((1436.50m, 3.50m, 5.00m, 0m), (Posted("Assets:Bank"), Posted("Expenses:Bank charges"), Posted("Expenses:Card costs"), document.Books.Sum(b => decimal.Parse(b.Amount, CultureInfo.InvariantCulture))));
        var bank = (await odile.Page("/span?from=2026-11-21&to=2026-11-22")).QuerySelectorAll("h2").Single(h => h.TextContent == "Assets:Bank against the bank").NextElementSibling!;
        Assert.Equal(["1,436.50", "1,000.00", "2,436.50", "2,436.50", "0.00"], bank.QuerySelectorAll("tbody tr").Select(r => r.QuerySelectorAll("td").Last().TextContent));
    }

    /// <summary>What nothing open explains is accepted, and signed by the other manager.</summary>
    private async Task Explain()
    {
        var view = await _shop.Ask(async (DayStore days) => (await days.View(_second))!);
        foreach (var off in view.Bridges.Values.Where(b => b.IsUnresolved))
        {
            Assert.Null((await _shop.Ask((Resolving r) => r.Add(_second, Guid.NewGuid(), [new(EntryKind.Accept, [new(off.Cell.Key, off.Left!.Value)], null, "the bank’s letter", [])], _odile))).Objection);
        }

        var waiting = (await _shop.Ask(async (DayStore days) => (await days.View(_second))!)).Entries.Where(e => !e.Holds).Select(e => e.Id).ToList();
        Assert.Equal(2, (await _shop.Ask((Resolving r) => r.Sign(_second, waiting, _tamsin))).Approved);
    }

    private static string Matched(IDocument page, string text) =>
        page.QuerySelectorAll(".bank-lines tbody tr").Last(r => r.QuerySelector(".said")!.TextContent.Contains(text, StringComparison.Ordinal)).QuerySelector("td:nth-child(4)")!.TextContent.Trim();

    private static async Task<IDocument> Import(Visitor visitor, string text, string name)
    {
        using var form = new MultipartFormDataContent { { new StringContent(await visitor.Token($"{Second}/bank")), "__RequestVerificationToken" } };
        form.Add(new ByteArrayContent(Encoding.UTF8.GetBytes(text)), "statement", name);
        using var answer = await visitor.Client.PostAsync($"{Second}/bank", form);
        return answer.StatusCode == HttpStatusCode.Redirect ? await visitor.Page($"{Second}/bank") : await Visitor.Read(answer);
    }
}
