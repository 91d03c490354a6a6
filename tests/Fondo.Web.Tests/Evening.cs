using System.Globalization;
using System.Net;
using Fondo.Core.Amounts;
using Fondo.Core.Closing;
using Fondo.Store.Days;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>The evening of the demo day: count, resolve, close, and everything that can go wrong on the way.</summary>
public sealed class Evening : IDisposable
{
    private const string Lane2Cash = $"{Shop.Day}/cell/L2/L2-A/cash", Lane4 = $"{Shop.Day}/count/L4-A", Close = $"{Shop.Day}/close";

    private readonly Shop _shop = new();

    public void Dispose() => _shop.Dispose();

    private static string Text(long minor) => (minor / 100m).ToString("0.00", CultureInfo.InvariantCulture);

    private static Dictionary<string, string> Sheet(int attempt = 1, Guid? form = null)
    {
        var fields = Shop.Made.Uncounted.Pieces.ToDictionary(p => $"p{p.Key}", p => p.Value.ToString(CultureInfo.InvariantCulture));
        fields["form"] = (form ?? Guid.NewGuid()).ToString();
        fields["attempt"] = attempt.ToString(CultureInfo.InvariantCulture);
        if (Shop.Made.Uncounted.Checks is [var check])
        {
            (fields["check-number"], fields["check-amount"]) = (check.Number, Text(check.Amount));
        }

        if (Shop.Made.Uncounted.Coupons > 0)
        {
            fields["scoupon"] = Text(Shop.Made.Uncounted.Coupons);
        }

        return fields;
    }

    private static Dictionary<string, string> Entry(string kind, string amount, string? to = null, Guid? id = null,
        string reason = "seen with both") => new()
        {
            ["Id"] = (id ?? Guid.NewGuid()).ToString(),
            ["Kind"] = kind,
            ["Amount"] = amount,
            ["To"] = to ?? "",
            ["Reason"] = reason,
        };

    private async Task<int> Entries() => await _shop.InStore(db => db.Entries.CountAsync());

    /// <summary>Resolves every cell, counts the last drawer, and leaves the day ready to close.</summary>
    private async Task Resolve(Visitor supervisor)
    {
        Assert.Equal(HttpStatusCode.Redirect, (await supervisor.Post(Lane4, Sheet())).StatusCode);
        foreach (var trouble in Shop.Made.Troubles)
        {
            var (register, drawer, tender, variance) = trouble.Cells[0];
            var cell = $"{Shop.Day}/cell/{register}/{drawer ?? "-"}/{tender}";
            var to = trouble.Cells.Count > 1
                ? $"{trouble.Cells[1].Register}/{trouble.Cells[1].Drawer ?? "-"}/{trouble.Cells[1].Tender}"
                : null;
            var kind = to is not null ? "Reclassify" : trouble.Kind == "drop-not-recorded" ? "Record" : "Accept";
            Assert.Equal(HttpStatusCode.Redirect,
                (await supervisor.Post($"{cell}?handler=Entry", Entry(kind, Text(variance), to), cell)).StatusCode);
        }

        // The ticket that was put on hold and never recalled.
        var close = await supervisor.Page(Close);
        foreach (var item in close.QuerySelectorAll("input[name=item]"))
        {
            var fields = new Dictionary<string, string>
            {
                ["gate"] = item.ParentElement!.QuerySelector("input[name=gate]")!.GetAttribute("value")!,
                ["item"] = item.GetAttribute("value")!,
                ["reason"] = "the customer left"
            };
            Assert.Equal(HttpStatusCode.Redirect, (await supervisor.Post($"{Close}?handler=Excuse", fields, Close)).StatusCode);
        }

        // What the ticket checks found, seen and answered as the page proposes it.
        var checks = await supervisor.Page($"{Shop.Day}/checks");
        foreach (var finding in checks.QuerySelectorAll("section.finding"))
        {
            var fields = new Dictionary<string, string>
            {
                ["key"] = finding.QuerySelector("[name=key]")!.GetAttribute("value")!,
                ["remedy"] = finding.QuerySelector("option[selected]")!.GetAttribute("value")!,
                ["reason"] = finding.QuerySelector("[name=reason]")!.GetAttribute("value")!
            };
            Assert.Equal(HttpStatusCode.Redirect, (await supervisor.Post($"{Shop.Day}/checks", fields)).StatusCode);
        }

        foreach (var entry in await _shop.InStore(db => db.Entries.Include(e => e.Postings).Where(e => e.NeedsApproval).ToListAsync()))
        {
            var p = entry.Postings[0];
            var cell = $"{Shop.Day}/cell/{p.Register}/{p.Drawer ?? "-"}/{p.Tender}";
            Assert.Equal(HttpStatusCode.Redirect,
                (await supervisor.Post($"{cell}?handler=Approve",
                    new() { ["entry"] = entry.Id.ToString(), ["approver"] = "p02", ["pin"] = "7410" }, cell)).StatusCode);
        }
    }

    [Fact]
    public async Task A_cashier_counts_blind_and_is_asked_once_more_when_it_is_off()
    {
        var cashier = await _shop.Cashier();
        var expected = Text(Shop.Made.Uncounted.Pieces.Sum(p => p.Key * p.Value));
        Assert.DoesNotContain(expected, (await cashier.Page(Lane4)).Body!.TextContent, StringComparison.Ordinal);

        var wrong = Sheet();
        wrong["p2000"] = "1";
        await cashier.Post(Lane4, wrong);
        var recount = await cashier.Page(Lane4);
        Assert.Contains("Please count the drawer once more", recount.Body!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain(expected, recount.Body!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("short", recount.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("", recount.QuerySelector("input[name=p2000]")!.GetAttribute("value") ?? "");

        await cashier.Post(Lane4, Sheet(2));
        var declared = await cashier.Page(Lane4);
        Assert.Contains("the drawer proves", declared.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.Contains(expected, declared.Body!.TextContent, StringComparison.Ordinal);
        Assert.Equal(2, await _shop.InStore(db => db.Records.CountAsync(r => r.Key.StartsWith("c-"))));
    }

    [Theory]
    [InlineData("-3", "a drawer cannot hold fewer than 0 pieces")]
    [InlineData("1000000000", "more than 100,000 pieces in one drawer cannot be right")]
    [InlineData("3,5", "pieces are whole; a value has 2 decimals")]
    public async Task A_count_that_cannot_be_is_told_at_its_row_and_nothing_typed_is_lost(string typed, string sentence)
    {
        var sheet = Sheet();
        sheet["p2000"] = typed;
        var page = await (await _shop.Cashier()).PostForPage(Lane4, sheet);
        var row = page.QuerySelector("input[name=p2000]")!;
        Assert.Contains(sentence, row.ParentElement!.TextContent, StringComparison.Ordinal);
        Assert.Equal(typed, row.GetAttribute("value"));
        Assert.Equal(sheet["p100"], page.QuerySelector("input[name=p100]")!.GetAttribute("value"));
        Assert.Equal(0, await _shop.InStore(db => db.Records.CountAsync(r => r.Key.StartsWith("c-"))));
    }

    /// <summary>The same check typed twice is asked about; a person says that there are two.</summary>
    [Fact]
    public async Task The_same_check_twice_is_asked_about()
    {
        var cashier = await _shop.Cashier();
        var sheet = Sheet().Where(f => !f.Key.StartsWith("check-", StringComparison.Ordinal)).ToList();
        foreach (var _ in new[] { 1, 2 })
        {
            sheet.AddRange([new("check-number", "1042"), new("check-amount", "58.20")]);
        }

        async Task<HttpResponseMessage> HandIn(IEnumerable<KeyValuePair<string, string>> fields) => await cashier.Client.PostAsync(Lane4,
            new FormUrlEncodedContent(fields.Append(new("__RequestVerificationToken", await cashier.Token(Lane4)))));
        using var asked = await HandIn(sheet);
        var page = await Visitor.Read(asked);
        Assert.Contains("Check 1042 of 58.20 is listed twice", page.QuerySelector("#says-c1")!.TextContent, StringComparison.Ordinal);
        Assert.NotNull(page.QuerySelector("input[name=same-checks]"));
        Assert.Equal(0, await _shop.InStore(db => db.Records.CountAsync(r => r.Key.StartsWith("c-"))));
        using var said = await HandIn(sheet.Append(new("same-checks", "yes")));
        Assert.Equal(HttpStatusCode.Redirect, said.StatusCode);
        Assert.Equal(1, await _shop.InStore(db => db.Records.CountAsync(r => r.Key.StartsWith("c-"))));
    }

    [Fact]
    public async Task A_draft_is_there_again_after_a_reload_and_gone_once_handed_in()
    {
        var cashier = await _shop.Cashier();
        var answer = await cashier.Post($"{Lane4}?handler=Draft",
            new() { ["attempt"] = "1", ["p2000"] = "20+5", ["check-number"] = "7", ["check-amount"] = "" }, Lane4);
        Assert.Equal("Saved 21:42.", await answer.Content.ReadAsStringAsync());
        var page = await (await _shop.Cashier()).Page(Lane4); // the same person on another machine
        Assert.Equal("20+5", page.QuerySelector("input[name=p2000]")!.GetAttribute("value"));
        Assert.Equal("7", page.QuerySelector("input[name=check-number]")!.GetAttribute("value"));
        await cashier.Post(Lane4, Sheet());
        await cashier.Post($"{Lane4}?handler=Draft", new() { ["attempt"] = "1", ["p2000"] = "9" }, Lane4); // was still on its way
        Assert.Equal(0, await _shop.InStore(db => db.CountDrafts.CountAsync()));
    }

    [Fact]
    public async Task A_count_posted_twice_is_one_and_an_outdated_one_is_refused()
    {
        var cashier = await _shop.Cashier();
        var form = Guid.NewGuid();
        var wrong = Sheet(form: form);
        wrong["p2000"] = "1";
        await cashier.Post(Lane4, wrong);
        Assert.Equal(HttpStatusCode.Redirect, (await cashier.Post(Lane4, wrong)).StatusCode);
        Assert.Equal(1, await _shop.InStore(db => db.Records.CountAsync(r => r.Key.StartsWith("c-"))));
        Assert.Contains("has just handed in", (await cashier.PostForPage(Lane4, Sheet())).Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_correction_is_a_new_attempt_with_a_reason()
    {
        var supervisor = await _shop.SignedIn();
        await supervisor.Post(Lane4, Sheet());
        var correct = $"{Lane4}?correct=true";
        Assert.NotNull((await supervisor.Page(correct)).QuerySelector("form.count"));
        Assert.Contains("Give a reason", (await supervisor.PostForPage(Lane4, Sheet(2), correct)).Body!.TextContent,
            StringComparison.Ordinal);
        // she has seen what should be there
        Assert.Contains("Only a supervisor", (await (await _shop.Cashier()).PostForPage(Lane4, Sheet(2))).Body!.TextContent,
            StringComparison.Ordinal);
        var with = Sheet(2);
        with["reason"] = "a roll lay under the tray";
        Assert.Equal(HttpStatusCode.Redirect, (await supervisor.Post(Lane4, with, correct)).StatusCode);
        Assert.Contains("a roll lay under the tray", (await supervisor.Page($"{Shop.Day}/cell/L4/L4-A/cash")).Body!.TextContent,
            StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("Accept", "-300.01", null, "so you cannot accept")]
    [InlineData("Accept", "+5", null, "so you cannot accept")]
    [InlineData("Record", "0", null, "explains nothing")]
    [InlineData("Record", "many", null, "is not an amount")]
    [InlineData("Record", "12.345", null, "is not an amount")]
    [InlineData("Reclassify", "-300", null, "Choose the cell")]
    [InlineData("Reclassify", "-300", "L2/L2-A/cash", "needs two different cells")]
    [InlineData("Reclassify", "-300", "L9/-/credit", "This day has no such cell")]
    public async Task An_entry_that_does_not_add_up_is_told_and_kept_on_the_form(string kind, string amount, string? to, string sentence)
    {
        var page = await (await _shop.SignedIn()).PostForPage($"{Lane2Cash}?handler=Entry", Entry(kind, amount, to), Lane2Cash);
        Assert.Contains(sentence, page.QuerySelector("#entry-says")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(amount, page.QuerySelector("input[name=Amount]")!.GetAttribute("value"));
        Assert.Equal("seen with both", page.QuerySelector("input[name=Reason]")!.GetAttribute("value"));
        Assert.Equal(0, await Entries());
    }

    [Fact]
    public async Task An_entry_posted_twice_is_one_and_nobody_approves_their_own()
    {
        var supervisor = await _shop.SignedIn();
        var id = Guid.NewGuid();
        for (var i = 0; i < 2; i++)
        {
            Assert.Equal(HttpStatusCode.Redirect,
                (await supervisor.Post($"{Lane2Cash}?handler=Entry", Entry("Record", "300.00", id: id), Lane2Cash)).StatusCode);
        }

        Assert.Equal(1, await Entries());
        // not before it is approved
        Assert.Contains("short 300.00", (await supervisor.Page(Lane2Cash)).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);

        Dictionary<string, string> Approve(string who, string pin) =>
            new() { ["entry"] = id.ToString(), ["approver"] = who, ["pin"] = pin };
        Assert.Contains("You cannot approve your own entry",
            (await supervisor.PostForPage($"{Lane2Cash}?handler=Approve", Approve("p01", "2580"), Lane2Cash)).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("does not belong to this person",
            (await supervisor.PostForPage($"{Lane2Cash}?handler=Approve", Approve("p02", "0000"), Lane2Cash)).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("cannot approve",
            (await supervisor.PostForPage($"{Lane2Cash}?handler=Approve", Approve("p15", "1590"), Lane2Cash)).Body!.TextContent,
            StringComparison.Ordinal);
        await supervisor.Post($"{Lane2Cash}?handler=Approve", Approve("p02", "7410"), Lane2Cash);
        Assert.Contains("that is explained", (await supervisor.Page(Lane2Cash)).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);

        await supervisor.Post($"{Lane2Cash}?handler=Reverse",
            new() { ["entry"] = id.ToString(), ["id"] = Guid.NewGuid().ToString(), ["reason"] = "the bag was another day’s" }, Lane2Cash);
        Assert.Equal(2, await Entries()); // both stay
    }

    [Fact]
    public async Task An_auditor_reads_and_cannot_write()
    {
        var auditor = await _shop.SignedIn("p21", "9631");
        Assert.Null((await auditor.Page(Lane2Cash)).QuerySelector("form.entry"));
        using var refused = await auditor.Post($"{Lane2Cash}?handler=Entry", Entry("Record", "300.00"), Lane2Cash);
        Assert.StartsWith("/trouble", refused.Headers.Location!.PathAndQuery, StringComparison.Ordinal);
        Assert.Equal(0, await Entries());
    }

    [Fact]
    public async Task The_preview_shows_what_would_be_left()
    {
        var supervisor = await _shop.SignedIn();
        var page = await supervisor.Page($"{Lane2Cash}?handler=Preview&Kind=Record&Amount=280");
        Assert.Contains("short 20.00", page.QuerySelector(".left-over")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("This entry −280.00", page.QuerySelector("svg.bridge")!.GetAttribute("aria-label"), StringComparison.Ordinal);
        Assert.Contains("Float declared", (await supervisor.Page($"{Lane2Cash}?handler=Made")).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("reference", (await supervisor.Page($"{Shop.Day}/cell/L2/-/credit?handler=Matched")).Body!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_day_closes_once_whoever_comes_second()
    {
        var supervisor = await _shop.SignedIn();
        Assert.Contains("The day cannot close yet", (await supervisor.PostForPage($"{Close}?handler=Close", [], Close)).Body!.TextContent,
            StringComparison.Ordinal);
        await Resolve(supervisor);
        Assert.Contains("Every gate is green", (await supervisor.Page(Close)).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);

        var manager = await _shop.Manager();
        var (mine, hers) = (await supervisor.Token(Close), await manager.Token(Close));
        Task<HttpResponseMessage> Post(Visitor who, string token) =>
            who.Client.PostAsync($"{Close}?handler=Close", new FormUrlEncodedContent([new("__RequestVerificationToken", token)]));
        var answers = await Task.WhenAll(Post(supervisor, mine), Post(manager, hers));
        Assert.Equal([HttpStatusCode.OK, HttpStatusCode.Redirect], answers.Select(a => a.StatusCode).Order());
        var second = await answers.Single(a => a.StatusCode == HttpStatusCode.OK).Content.ReadAsStringAsync();
        Assert.Contains("This day is closed (close 1). Nothing was changed.", WebUtility.HtmlDecode(second), StringComparison.Ordinal);
        Assert.Equal(1, await _shop.InStore(db => db.Closes.CountAsync()));

        // After the close nothing goes in any more, from whatever page was still open.
        foreach (var (path, from, fields) in new[]
        {
            ($"{Lane2Cash}?handler=Entry", Lane2Cash, Entry("Record", "-1")),
            (Lane4, Close, Sheet(2)),
            ($"{Close}?handler=Close", Close, [])
        })
        {
            fields["__RequestVerificationToken"] = mine;
            using var answer = await supervisor.Client.PostAsync(path, new FormUrlEncodedContent(fields));
            Assert.Contains("is closed (close 1)", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }

        var taken = await supervisor.Upload("/take-in", ("day.zip", Shop.Made.ToZip()));
        Assert.Contains("is closed (close 1)", taken.Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_close_document_is_frozen_and_a_change_shows()
    {
        var supervisor = await _shop.SignedIn();
        await Resolve(supervisor);
        await supervisor.Post($"{Close}?handler=Close", [], Close);
        var document = await supervisor.Page($"{Close}/document");
        Assert.Contains("close number 1", document.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("The content matches its hash", document.QuerySelector(".hash")!.TextContent, StringComparison.Ordinal);
        Assert.All(new[] { "Tamsin Okafor", "seen with both", "−300.00" },
            t => Assert.Contains(t, document.Body!.TextContent, StringComparison.Ordinal));

        using var file = await supervisor.Get($"{Close}/document?handler=File");
        var content = await file.Content.ReadAsStringAsync();
        var frozen =
            await _shop.InStore(db => db.Closes.Select(c => new FrozenClose(c.Number, c.Content, c.PreviousHash, c.Hash)).SingleAsync());
        Assert.Equal(frozen.Content, content);
        using var scope = _shop.Services.CreateScope();
        var day = await scope.ServiceProvider.GetRequiredService<DayStore>().View(new(2026, 11, 21));
        Assert.Equal(day!.Reconciliation.Cells.Select(c => day.Setup.Currency.Format(c.Expected)).Order(),
            ClosingDesk.Read(frozen).Cells.Select(c => c.Expected).Order());

        await _shop.Tamper(db =>
            db.Closes.ExecuteUpdateAsync(s => s.SetProperty(c => c.Content, c => c.Content.Replace("seen with both", "seen with none"))));
        using (var board = await supervisor.Get($"{Shop.Day}/board"))
        {
            // what was frozen is shown, and that the records say otherwise
            Assert.Equal($"{Close}/document", board.Headers.Location!.ToString());
        }

        Assert.Contains("entry “seen with none”", (await supervisor.Page($"{Close}/document")).QuerySelector(".otherwise")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("DOES NOT MATCH", (await supervisor.Page($"{Close}/document")).QuerySelector(".hash")!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("breaks at close 1", (await supervisor.Page("/days")).Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_board_costs_the_same_few_reads_however_much_is_on_it()
    {
        var supervisor = await _shop.SignedIn();
        await supervisor.Page($"{Shop.Day}/board");
        var before = _shop.Sent.Number;
        await supervisor.Page($"{Shop.Day}/board");
        // the session, the day with its close, uploads that wait, what was loosened, who saw what should be in a drawer that is counted
        // once more
        const int Reads = 5;
        Assert.Equal(Reads, _shop.Sent.Number - before);
        await Resolve(supervisor);
        await supervisor.Page($"{Shop.Day}/board");
        before = _shop.Sent.Number;
        var board = await supervisor.Page($"{Shop.Day}/board");
        Assert.Equal(Reads, _shop.Sent.Number - before);
        Assert.Contains("Nothing left to resolve", board.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("explained", string.Concat(board.QuerySelectorAll("td a").Select(a => a.GetAttribute("aria-label"))),
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_page_weighs_less_than_300_KB_without_fonts()
    {
        var supervisor = await _shop.SignedIn();
        var board = await supervisor.Page($"{Shop.Day}/board");
        var parts = board.QuerySelectorAll("link[rel=stylesheet], script[src]")
            .Select(e => e.GetAttribute("href") ?? e.GetAttribute("src")!);
        var weight = board.Source.Length;
        foreach (var part in parts)
        {
            weight += (await supervisor.Client.GetByteArrayAsync(part)).Length;
        }

        Assert.InRange(weight, 100_000, 300_000);
    }

    /// <summary>For each trouble of the demo, the first lead says what was planted, and fills in an entry that the page would
    /// take.</summary>
    [Fact]
    public async Task A_cell_says_what_may_have_happened_and_fills_in_the_entry()
    {
        var visitor = await _shop.SignedIn();
        foreach (var trouble in Shop.Made.Troubles)
        {
            var (register, drawer, tender, variance) = trouble.Cells[0];
            var address = $"{Shop.Day}/cell/{register}/{drawer ?? "-"}/{tender}";
            var page = await visitor.Page($"{address}?lead=1&fill=true");
            Assert.Contains("almost certain", page.QuerySelector(".lead.first .chance")!.TextContent, StringComparison.Ordinal);
            Assert.Equal(variance, long.Parse(
                page.QuerySelector("input[name=Amount]")!.GetAttribute("value")!.Replace("−", "-", StringComparison.Ordinal)
                    .Replace(".", "", StringComparison.Ordinal).Replace(",", "", StringComparison.Ordinal), CultureInfo.InvariantCulture));
            Assert.NotEmpty(page.QuerySelector("input[name=Reason]")!.GetAttribute("value")!);
            Assert.NotEmpty(page.QuerySelectorAll("input[name=Evidence][checked]"));
            if (trouble.Cells.Count == 2)
            {
                var (toRegister, toDrawer, toTender, _) = trouble.Cells[1];
                Assert.Equal($"{toRegister}/{toDrawer ?? "-"}/{toTender}",
                    page.QuerySelector("option[selected][value*='/']")!.GetAttribute("value"));
            }
        }

        Assert.Null((await visitor.Page($"{Shop.Day}/cell/L1/L1-B/cash?lead=1")).QuerySelector(".leads"));
    }
}
