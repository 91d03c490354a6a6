using System.Globalization;
using System.Net;
using System.Text;
using AngleSharp.Dom;
using Fondo.Core.Banking;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>The bank's page: lines matched by hand, lines whose reference no path holds, downloads that overlap, statements withdrawn by
/// two.</summary>
public sealed class TheBankByHand : InOwnShop
{
    private const string Bank = $"{Shop.Day}/bank";

    private static readonly DateOnly _day = new(2026, 11, 21);

    /// <summary>A statement as CSV; balances follow from its lines.</summary>
    private static string Csv(string id, string from, string to, decimal opening,
        params (string Booked, decimal Amount, string Reference, string Text)[] lines)
    {
        var head = string.Create(CultureInfo.InvariantCulture,
            $"{id},4471,USD,{from},{to},{opening:0.00},{opening + lines.Sum(l => l.Amount):0.00}");
        return "statement,account,currency,from,to,opening,closing,booked,amount,reference,text,items\n"
            + string.Concat(lines.Select(l =>
                string.Create(CultureInfo.InvariantCulture, $"{head},{l.Booked},{l.Amount:0.00},{l.Reference},{l.Text},\n")));
    }

    private static async Task<IDocument> Import(Visitor visitor, string text, string name = "statement.csv")
    {
        using var form = new MultipartFormDataContent { { new StringContent(await visitor.Token(Bank)), "__RequestVerificationToken" } };
        form.Add(new ByteArrayContent(Encoding.UTF8.GetBytes(text)), "statement", name);
        using var answer = await visitor.Client.PostAsync(Bank, form);
        return answer.StatusCode == HttpStatusCode.Redirect ? await visitor.Page(Bank) : await Visitor.Read(answer);
    }

    private static string Matched(IDocument page, string text) =>
        page.QuerySelectorAll(".bank-lines tbody tr").Single(r => r.QuerySelector(".said")!.TextContent == text)
            .QuerySelector("td:nth-child(4)")!.TextContent.Trim();

    private static string Said(IDocument page) =>
        string.Join(' ', page.QuerySelectorAll(".objection").Select(o => o.TextContent.Trim()).Where(t => t.Length > 0));

    [Theory]
    [InlineData("", "ST-1/1")]
    [InlineData("NONREF", "ST-1/1")]
    [InlineData("A/B/..", "A/B/..")]
    [InlineData("50% off? #7", "50% off? #7")]
    [InlineData("~002f", "~002f")]
    public async Task A_line_has_a_cell_whatever_its_reference_is(string reference, string key)
    {
        var odile = await Shop.SignedIn();
        var page = await Import(odile, Csv("ST-1", "2026-11-21", "2026-11-21", 100m, ("2026-11-21", -3.50m, reference, "ACCOUNT FEE")));
        Assert.Equal("", Said(page));
        Assert.Equal(key, (await Shop.InStore(db => db.BankLines.SingleAsync())).Key);
        var cell = page.QuerySelector(".bank-lines td:nth-child(4) a")!.GetAttribute("href")!;
        Assert.Contains("short 3.50", (await odile.Page(cell)).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        await odile.Post($"{cell}?handler=Entry",
            new() { ["Id"] = Guid.NewGuid().ToString(), ["Kind"] = "Accept", ["Amount"] = "3.50", ["Reason"] = "the month’s fee" }, cell);
        Assert.Contains("waits", (await odile.Page(cell)).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Match by hand",
            (await odile.Page(page.QuerySelector(".bank-lines td:nth-child(5) a")!.GetAttribute("href")!.Split('#')[0])).Body!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_person_matches_unmatches_and_lets_the_rules_decide()
    {
        var odile = await Shop.SignedIn();
        foreach (var bag in new[] { "70401", "70402" })
        {
            await odile.Post($"{Shop.Day}/deposit",
                new()
                {
                    ["form"] = Guid.NewGuid().ToString(),
                    ["bag"] = bag,
                    ["witness"] = "p02",
                    ["witness-pin"] = "7410",
                    ["p2000"] = "10"
                });
        }

        // Neither bag left the safe: an amount alone pays none of them.
        var page = await Import(odile, Csv("ST-1", "2026-11-21", "2026-11-21", 100m, ("2026-11-21", 200m, "R-1", "TRANSFER")));
        Assert.StartsWith("not matched", Matched(page, "TRANSFER"), StringComparison.Ordinal);
        var form = await odile.Page($"{Bank}?line=R-1");
        Assert.Contains("Deposit 2, bag 70402", form.QuerySelector("#match")!.TextContent, StringComparison.Ordinal);

        Dictionary<string, string> Decision(BankDecisionKind kind, string? target, string reason = "the slip says so") =>
            new()
            {
                ["form"] = Guid.NewGuid().ToString(),
                ["line"] = "R-1",
                ["kind"] = kind.ToString(),
                ["target"] = target ?? "",
                ["reason"] = reason
            };
        Task<IDocument> Decide(Dictionary<string, string> fields) => odile.PostForPage($"{Bank}?handler=Decide", fields, Bank);
        Assert.Contains("Choose what this line pays", Said(await Decide(Decision(BankDecisionKind.Match, null))), StringComparison.Ordinal);
        Assert.Contains("no longer expected", Said(await Decide(Decision(BankDecisionKind.Match, "deposit:9"))), StringComparison.Ordinal);
        var kept = await Decide(Decision(BankDecisionKind.Match, "deposit:2", ""));
        Assert.NotEqual("", Said(kept));

        var match = Decision(BankDecisionKind.Match, "deposit:2");
        await odile.Post($"{Bank}?handler=Decide", match, Bank);
        await odile.Post($"{Bank}?handler=Decide", match, Bank);
        Assert.Equal(1, await Shop.InStore(db => db.BankDecisions.CountAsync()));
        page = await odile.Page(Bank);
        Assert.Contains("deposit 2, bag 70402", Matched(page, "TRANSFER"), StringComparison.Ordinal);
        Assert.Contains("by hand, Odile Marchetti: the slip says so", Matched(page, "TRANSFER"), StringComparison.Ordinal);

        await odile.Post($"{Bank}?handler=Decide", Decision(BankDecisionKind.Part, null), Bank);
        Assert.StartsWith("not matched", Matched(await odile.Page(Bank), "TRANSFER"), StringComparison.Ordinal);
        await odile.Post($"{Bank}?handler=Decide", Decision(BankDecisionKind.Release, null), Bank);
        Assert.DoesNotContain("by hand", Matched(await odile.Page(Bank), "TRANSFER"), StringComparison.Ordinal);
        Assert.Contains("match line R-1 to deposit:2", (await odile.Page("/trail")).Body!.TextContent, StringComparison.Ordinal);

        // Nobody who may not: a cashier sees no bank.
        Assert.Equal(HttpStatusCode.Redirect, (await (await Shop.Cashier()).Get(Bank)).StatusCode);
    }

    [Fact]
    public async Task Overlapping_downloads_are_cut_to_what_is_new_and_a_gap_is_shown()
    {
        var odile = await Shop.SignedIn();
        (string, decimal, string, string) fee = ("2026-11-19", -3.50m, "", "FEE"), twice = ("2026-11-19", -3.50m, "", "FEE"),
            other = ("2026-11-20", 12m, "R-2", "OTHER"), late = ("2026-11-21", 5m, "R-3", "LATE");
        Assert.Contains("3 new lines",
            (await Import(odile, Csv("A", "2026-11-19", "2026-11-20", 100m, fee, twice, other))).QuerySelector(".notice")!.TextContent,
            StringComparison.Ordinal);
        var again = await Import(odile, Csv("B", "2026-11-19", "2026-11-21", 100m, fee, twice, other, late));
        Assert.Contains("1 new line imported. 3 lines were here already", again.QuerySelector(".notice")!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal(10m, await Shop.InStore(async db => await db.BankLines.SumAsync(l => l.Amount)) / 100m);
        Assert.Contains("was imported before",
            (await Import(odile, Csv("C", "2026-11-19", "2026-11-21", 100m, fee, twice, other, late)))
                .QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
        // A third fee of the same day is new; so is a reference that the bank uses again on another day.
        Assert.Contains("2 new lines",
            (await Import(odile, Csv("D", "2026-11-19", "2026-11-23", 100m, fee, twice, fee, other, late,
                ("2026-11-23", 7m, "R-2", "OTHER")))).QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
        // The same reference on the same day with another amount is a contradiction.
        Assert.Contains("is already on statement A with another amount",
            Said(await Import(odile, Csv("E", "2026-11-20", "2026-11-20", 93m, ("2026-11-20", 13m, "R-2", "OTHER")))),
            StringComparison.Ordinal);
        // Nothing is missing so far; after a gap it says so.
        Assert.DoesNotContain("may be missing", (await odile.Page(Bank)).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("a statement after Mon 23 Nov may be missing",
            (await Import(odile, Csv("F", "2026-11-27", "2026-11-27", 999m, ("2026-11-27", 1m, "R-9", "X")))).Body!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_statement_is_withdrawn_by_two_and_can_come_again()
    {
        var odile = await Shop.SignedIn();
        var wrong = Csv("A", "2026-11-21", "2026-11-21", 100m, ("2026-11-21", -3.50m, "R-1", "FEE"));
        await Import(odile, wrong);
        Dictionary<string, string> Fields(string witness, string pin, string reason = "wrong file") =>
            new() { ["statement"] = "A", ["reason"] = reason, ["witness"] = witness, ["witness-pin"] = pin };
        Task<IDocument> Withdraw(Dictionary<string, string> fields) => odile.PostForPage($"{Bank}?handler=Withdraw", fields, Bank);
        Assert.Contains("takes two people", Said(await Withdraw(Fields("", ""))), StringComparison.Ordinal);
        Assert.Contains("does not belong to this person", Said(await Withdraw(Fields("p02", "0000"))), StringComparison.Ordinal);
        Assert.Contains("takes two people", Said(await Withdraw(Fields("p01", "2580"))), StringComparison.Ordinal);
        Assert.NotEqual("", Said(await Withdraw(Fields("p02", "7410", ""))));
        await odile.Post($"{Bank}?handler=Withdraw", Fields("p02", "7410"), Bank);
        Assert.Empty((await odile.Page(Bank)).QuerySelectorAll(".bank-lines tbody tr"));
        Assert.Contains("was withdrawn already", Said(await Withdraw(Fields("p02", "7410"))), StringComparison.Ordinal);

        var page = await Import(odile, wrong);
        Assert.Equal("", Said(page));
        Assert.Single(page.QuerySelectorAll(".bank-lines tbody tr"));
        Assert.Equal(["R-1", "R-1~2"], await Shop.InStore(db => db.BankLines.Select(l => l.Key).OrderBy(k => k).ToListAsync()));
        Assert.Contains("withdrew the statement", (await odile.Page("/trail")).Body!.TextContent, StringComparison.Ordinal);
    }

    /// <summary>A year's lines at once: the answer and the board come in the time of a page, not of a coffee.</summary>
    [Fact]
    public async Task Fourteen_thousand_lines_are_read_and_shown_by_pages()
    {
        var odile = await Shop.SignedIn();
        var lines = Enumerable.Range(1, 14_000).Select(n => ("2026-11-21", n % 3 == 0 ? -1.25m : 2.5m, $"R-{n}", $"LINE {n} OF MANY"))
            .ToArray();
        var page = await Import(odile, Csv("A", "2026-11-21", "2026-11-21", 0m, lines));
        Assert.Contains("14,000 new lines".Replace(",", "", StringComparison.Ordinal),
            page.QuerySelector(".notice")!.TextContent.Replace(",", "", StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.Equal(Pages.Day.BankModel.LinesShown, page.QuerySelectorAll(".bank-lines tbody tr").Length);
        Assert.Equal(Pages.Day.BankModel.LinesShown,
            (await odile.Page($"{Bank}?page-of-lines=70")).QuerySelectorAll(".bank-lines tbody tr").Length);
        Assert.NotNull((await odile.Page($"{Shop.Day}/board")).QuerySelector("h1"));
    }
}
