using System.Net;
using System.Text;
using Fondo.Files.Mapping;
using Fondo.Store.Days;
using Fondo.Store.Mappings;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>Files in other formats: shown, mapped, kept, and taken in wherever files come in.</summary>
public sealed class OtherShapesIn : IAsyncLifetime
{
    private const string Terminal = """
        Datum;Uhrzeit;Terminal;Karte;Amount;Approval;Reference
        21.11.2026;21:55:10;NORTH;************4417;64,00;A55510;R55510000001
        21.11.2026;21:58:40;NORTH;************3183;-4,00;A55840;R55840000002
        22.11.2026;08:10:00;NORTH;************3183;9,00;A55900;R55900000003
        """;

    private const string Tickets = """
        Receipt No,Lane,Date Time,Payment,Amount,Change,Auth,Reference,Status
        5001,L3,11/21/2026 9:55 PM,CASH,20.00,7.07,,,OK
        5002,L3,11/21/2026 9:58 PM,PLASTIC,64.00,,A1,R1,OK
        Total,,,,84.00,7.07,,,
        """;

    private readonly Shop _shop = new();
    private Visitor _odile = null!;

    public async ValueTask InitializeAsync()
    {
        await _shop.InitializeAsync();
        _odile = await _shop.SignedIn();
    }

    public ValueTask DisposeAsync() => _shop.DisposeAsync();

    [Fact]
    public async Task A_file_is_shown_its_word_explained_and_the_mapping_kept_and_used()
    {
        var page = await Show("heron-terminal-1121.csv", Terminal);
        Assert.Contains("say in the mapping whose times these are", page.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        var form = FormOf(page);
        Assert.Equal(["NORTH"], form.Where(f => f.Key == "word").Select(f => f.Value));
        form[form.FindIndex(f => f.Key == "means")] = new("means", "T-02");
        // Two evening rows and one of a morning: they may be of one evening in UTC.
        Assert.Equal("", form.Single(f => f.Key == "timeZone").Value);
        form[form.FindIndex(f => f.Key == "timeZone")] = new("timeZone", "America/New_York");
        using var looked = await _odile.Client.PostAsync("/mappings?handler=Look", Multipart(form));
        page = await Visitor.Read(looked);
        Assert.Contains("3 rows taken, 0 refused", page.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        using var saved = await _odile.Client.PostAsync("/mappings?handler=Save", Multipart(FormOf(page)));
        Assert.Equal(HttpStatusCode.Redirect, saved.StatusCode);
        var kept = Assert.Single(await _shop.Ask<MappingBook, IReadOnlyList<KeptMapping>>(b => b.All())).Mapping;
        Assert.Equal(("heron-terminal*.csv", "T-02"), (kept.Files, kept.Words["terminal"]["NORTH"]));

        // By upload without a day: each row goes to the trading day of its time.
        var taken = await _odile.Upload("/take-in", ("heron-terminal-1121.csv", Encoding.UTF8.GetBytes(Terminal)));
        Assert.Contains("Nothing is imported yet", taken.QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
        await _odile.AgreeToFiles();
        Assert.Equal([6400L, -400L], (await View("2026-11-21")).Day.Rows!.Value
            .Where(r => r.Card.Rrn?.StartsWith("R55", StringComparison.Ordinal) == true).Select(r => r.Signed.Minor).OrderDescending());
        Assert.Equal(900, Assert.Single((await View("2026-11-22")).Day.Rows!.Value).Amount.Minor);
        taken = await _odile.Upload("/take-in", ("heron-terminal-1121.csv", Encoding.UTF8.GetBytes(Terminal)));
        Assert.Contains("already imported", taken.QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);

        // The same key with other contents is told at the line of the file itself.
        taken = await _odile.Upload("/take-in",
            ("heron-terminal-1121.csv", Encoding.UTF8.GetBytes(Terminal.Replace("9,00", "9,50", StringComparison.Ordinal))));
        Assert.Contains("heron-terminal-1121.csv", taken.QuerySelector(".findings")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("4", taken.QuerySelector(".findings tbody .n")!.TextContent);
    }

    /// <summary>Whole numbers and a tip of its own: each is asked, nothing is read before, and the answers are kept with the
    /// mapping.</summary>
    [Fact]
    public async Task What_can_be_read_in_two_ways_is_asked_on_the_page()
    {
        const string text = "Settlement report;;;;\nDevice;Date;Time;Value;Gratuity\nT-01;20261121;081620;1284;200\nTotal;;;1284;200\n";
        var page = await Show("heron-terminal-1121.csv", text);
        string Main() => page.QuerySelector("main")!.TextContent;
        Assert.Contains("This file is not read yet", Main(), StringComparison.Ordinal);
        Assert.Contains("whether 1284 is in whole units or in the smallest unit", Main(), StringComparison.Ordinal);
        async Task Answer(string name, string value)
        {
            var form = FormOf(page);
            form[form.FindIndex(f => f.Key == name)] = new(name, value);
            using var looked = await _odile.Client.PostAsync("/mappings?handler=Look", Multipart(form));
            page = await Visitor.Read(looked);
        }

        await Answer("whole", "minor");
        Assert.Contains("the amount may include the tip or not", Main(), StringComparison.Ordinal);
        await Answer("tip", "beside");
        Assert.Contains("1 row taken, 0 refused", Main(), StringComparison.Ordinal);
        Assert.Contains("sale of 14.84 on T-01", Main(), StringComparison.Ordinal);
        using var saved = await _odile.Client.PostAsync("/mappings?handler=Save", Multipart(FormOf(page)));
        Assert.Equal(HttpStatusCode.Redirect, saved.StatusCode);
        var kept = Assert.Single(await _shop.Ask<MappingBook, IReadOnlyList<KeptMapping>>(b => b.All())).Mapping;
        Assert.Equal((WholeAmounts.Minor, PartOfAmount.Beside, VoidedIs.Asked), (kept.Whole, kept.Tip, kept.Voided));
    }

    [Fact]
    public async Task A_flat_journal_comes_through_the_watched_folder()
    {
        var mapping = MappingGuess.Of("lane-export-2026.csv", Encoding.UTF8.GetBytes(Tickets), await _shop.SetUp());
        mapping = mapping with
        {
            Change = PartOfAmount.Inside,
            Words =
                mapping.Words.Add("tender", System.Collections.Immutable.ImmutableDictionary<string, string>.Empty.Add("PLASTIC", "credit"))
        };
        Assert.True((await _shop.Ask<MappingBook, Store.Outcome>(b => b.Save(mapping, Shop.Odile))).IsDone);
        var inbox = Path.Combine(_shop.Folder, "inbox");
        Directory.CreateDirectory(inbox);
        await File.WriteAllTextAsync(Path.Combine(inbox, "lane-export-2026.csv"), Tickets, TestContext.Current.CancellationToken);
        await File.WriteAllTextAsync(Path.Combine(inbox, "nobody-reads.csv"), Tickets, TestContext.Current.CancellationToken);
        var refused = Path.Combine(inbox, "refused", "nobody-reads.csv.reasons.txt");
        for (var wait = 0; wait < 200 && !(File.Exists(refused)
            && File.Exists(Path.Combine(inbox, "taken", "lane-export-2026.csv"))); wait++)
        {
            await Task.Delay(100, TestContext.Current.CancellationToken);
        }

        Assert.Contains("a file that a mapping reads", await File.ReadAllTextAsync(refused, TestContext.Current.CancellationToken),
            StringComparison.Ordinal);
        var keys = await _shop.InStore(db => db.Events.Where(e => e.Key.StartsWith("L3-500")).Select(e => new { e.Key, e.Amount })
            .OrderBy(e => e.Key).ToListAsync());
        Assert.Equal([("L3-5001", 1293L), ("L3-5002", 6400L)], keys.Select(k => (k.Key, k.Amount!.Value)));
    }

    [Fact]
    public async Task A_mapping_is_exported_imported_and_ended()
    {
        var mapping = MappingGuess.Of("lane-export-2026.csv", Encoding.UTF8.GetBytes(Tickets), await _shop.SetUp());
        await _shop.Ask<MappingBook, Store.Outcome>(b => b.Save(mapping, Shop.Odile));
        using var exported = await _odile.Get($"/mappings?handler=Export&name={mapping.Name}");
        var json = await exported.Content.ReadAsStringAsync();
        Assert.Equal(MappingText.Write(mapping), json);

        // Under another name the same files would be read twice.
        Assert.Contains("already reads files named",
            await Import(json.Replace($"\"{mapping.Name}\"", "\"another\"", StringComparison.Ordinal)),
            StringComparison.Ordinal);
        Assert.Contains("kind", await Import(json.Replace("\"journal\"", "\"novel\"", StringComparison.Ordinal)), StringComparison.Ordinal);
        Assert.Contains("not", await Import("{"), StringComparison.OrdinalIgnoreCase);
        await _odile.Post("/mappings?handler=End", new() { ["name"] = mapping.Name }, "/mappings");
        Assert.Empty(await _shop.Ask<MappingBook, IReadOnlyList<KeptMapping>>(b => b.All()));
        Assert.Equal("", await Import(json));
        Assert.Single(await _shop.Ask<MappingBook, IReadOnlyList<KeptMapping>>(b => b.All()));
    }

    [Fact]
    public async Task A_full_card_number_in_an_example_is_not_kept()
    {
        using var form =
            new MultipartFormDataContent { { new StringContent(await _odile.Token("/mappings")), "__RequestVerificationToken" } };
        form.Add(new ByteArrayContent(Encoding.UTF8.GetBytes(Terminal.Replace("************4417", "4111111111111111",
            StringComparison.Ordinal))), "file", "x.csv");
        using var answer = await _odile.Client.PostAsync("/mappings?handler=Example", form);
        var page = await Visitor.Read(answer);
        Assert.Contains("contains a full card number", page.QuerySelector(".objection")!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("4111111111111111", page.DocumentElement.OuterHtml, StringComparison.Ordinal);
        var cashier = await _shop.Cashier();
        Assert.NotEqual(HttpStatusCode.OK, (await cashier.Get("/mappings")).StatusCode);
    }

    /// <summary>Articles whose numbers are as long as those of cards (and pass the check digit, by chance): shown, confirmed, kept,
    /// imported. In any other column such a number is refused, before anything of it is written.</summary>
    [Fact]
    public async Task Long_article_numbers_are_confirmed_and_come_in()
    {
        const string file = "Receipt,Register,Date Time,Tender,EAN,Item,Line Amount\n"
            + "9001,Lane 2,2026-11-21 18:00:00,Cash,9200173004554,Oat bread,4.80\n"
            + "9001,Lane 2,2026-11-21 18:00:00,Cash,92001,Butter,3.10\n";
        Assert.True(Fondo.Files.Text.CardNumbers.Contains("9200173004554"));
        var page = await Show("lines-1121.csv", file);
        var asked = page.QuerySelector("[name=long][value=sku]")!;
        Assert.Contains("9200173004554", asked.ParentElement!.TextContent, StringComparison.Ordinal);
        Assert.Contains("card number", page.QuerySelector("tr.refused")!.TextContent, StringComparison.Ordinal);
        var form = FormOf(page);
        form.Add(new("long", "sku"));
        using var looked = await _odile.Client.PostAsync("/mappings?handler=Look", Multipart(form));
        page = await Visitor.Read(looked);
        Assert.True(page.QuerySelector("[name=long]")!.HasAttribute("checked"));
        Assert.Null(page.QuerySelector("tr.refused"));
        using var saved = await _odile.Client.PostAsync("/mappings?handler=Save", Multipart(form));
        Assert.Equal(HttpStatusCode.Redirect, saved.StatusCode);

        var refused = await _odile.Upload("/take-in", ("lines-1121.csv", Encoding.UTF8.GetBytes(file.Replace("Butter", "4111111111111111",
            StringComparison.Ordinal))));
        Assert.Contains("contains a full card number", refused.DocumentElement.TextContent, StringComparison.Ordinal);
        Assert.Empty(Directory.GetFiles(Path.Combine(_shop.Folder, "spool")));
        await _odile.Upload("/take-in", ("lines-1121.csv", Encoding.UTF8.GetBytes(file)));
        await _odile.AgreeToFiles();
        var ticket = (await View("2026-11-21")).Day.Journal.OfType<Fondo.Core.Journal.Ticket>().Single(t => t.Head.Id.Value == "L2-9001");
        Assert.Equal(("9200173004554", 7_90L), (ticket.Lines[0].Article.Sku, ticket.Total.Minor));
        await RefusedInTheFolder(file.Replace("Lane 2", "Lane 9", StringComparison.Ordinal));
    }

    /// <summary>What is refused for another reason stays to be mended, by itself or in a folder; what holds a card number does
    /// not.</summary>
    private async Task RefusedInTheFolder(string file)
    {
        var inbox = Path.Combine(_shop.Folder, "inbox");
        Directory.CreateDirectory(Path.Combine(inbox, "evening"));
        await File.WriteAllTextAsync(Path.Combine(inbox, "evening", "lines-2.csv"), file, TestContext.Current.CancellationToken);
        await File.WriteAllTextAsync(Path.Combine(inbox, "lines-3.csv"), file, TestContext.Current.CancellationToken);
        await File.WriteAllTextAsync(Path.Combine(inbox, "lines-4.csv"), file.Replace("Butter", "4111111111111111",
            StringComparison.Ordinal), TestContext.Current.CancellationToken);
        string Refused(params string[] names) => Path.Combine([inbox, "refused", .. names]);
        string[] reasons = [Refused("evening.reasons.txt"), Refused("lines-3.csv.reasons.txt"), Refused("lines-4.csv.reasons.txt")];
        for (var wait = 0; wait < 600 && !reasons.All(File.Exists); wait++)
        {
            await Task.Delay(100, TestContext.Current.CancellationToken);
        }

        Assert.Equal([true, true, false], new[] { Refused("evening", "lines-2.csv"), Refused("lines-3.csv"), Refused("lines-4.csv") }
            .Select(File.Exists));
        Assert.Contains("destroyed it", await File.ReadAllTextAsync(reasons[2], TestContext.Current.CancellationToken),
            StringComparison.Ordinal);
    }

    /// <summary>Every file of the gallery is shown as the reader reads it; a workbook is kept and imported, and the second time nothing
    /// changes.</summary>
    [Fact]
    public async Task The_gallery_is_shown_and_a_workbook_comes_in()
    {
        var gallery = await _odile.Page("/stand-ins/files");
        var files = gallery.QuerySelectorAll("tbody tr").Select(r => (Name: r.QuerySelector("button")!.GetAttribute("value")!,
            Says: r.QuerySelectorAll("td")[2].TextContent)).ToList();
        Assert.Equal(22, files.Count);
        foreach (var (name, says) in files)
        {
            var page = await Gallery(name);
            Assert.Equal(says == "right", page.QuerySelector("tr.refused, .objection") is null);
        }

        var form = FormOf(await Gallery("office-settlement.xlsx"));
        using var saved = await _odile.Client.PostAsync("/mappings?handler=Save", Multipart(form));
        Assert.Equal(HttpStatusCode.Redirect, saved.StatusCode);
        var bytes = await (await _odile.Get("/gallery/office-settlement.xlsx")).Content.ReadAsByteArrayAsync();
        // By the gallery's own sums: 18 rows, sales less refunds as its terminals say.
        var told = System.Text.Json.Nodes.JsonNode.Parse(await (await _odile.Get("/gallery/gallery.json")).Content.ReadAsStringAsync())!
            .AsArray().Single(f => (string)f!["file"]! == "office-settlement.xlsx")!;
        var net = told["terminals"]!.AsObject().Sum(t => (int)t.Value!["salesAmount"]! - (int)t.Value!["refundsAmount"]!) / 100m;
        foreach (var (total, rows, says) in new[]
        {
            ($"{net + 0.01m}", "", "The 18 rows of this file come to"), ($"{net}", "17", "This file has 18"),
            ("much", "", "is not an amount"),
            ("", "1.5", "is not a number of rows"),
        })
        {
            Assert.Contains(says, (await Report(bytes, total, rows)).QuerySelector(".objection")!.TextContent, StringComparison.Ordinal);
        }

        await Report(bytes, $"{net}", "18");
        await _odile.AgreeToFiles();
        Assert.Equal(18, (await View("2026-11-21")).Day.Rows!.Value.Count(r => r.Key.Batch == "261121"));
        var again = await _odile.Upload("/take-in", ("office-settlement.xlsx", bytes));
        Assert.Contains("already imported", again.QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
    }

    /// <summary>A full card number in a cell: the workbook is refused where it comes in, and where it is shown.</summary>
    [Fact]
    public async Task A_workbook_with_a_card_number_stays_outside()
    {
        using var stream = new MemoryStream();
        MiniExcelLibs.MiniExcel.SaveAs(stream, new[] { new { Terminal = "T-01", Card = "4111 1111 1111 1111" } });
        var refused = await _odile.Upload("/take-in", ("office.xlsx", stream.ToArray()));
        Assert.Contains("a cell contains a full card number", refused.DocumentElement.TextContent, StringComparison.Ordinal);
        var called = await _odile.Upload("/take-in", ("office.xlsx", Encoding.UTF8.GetBytes("Terminal,Card\nT-01,4111111111111111\n")));
        Assert.Contains("contains a full card number", called.DocumentElement.TextContent, StringComparison.Ordinal);

        // A text that begins as what is packed does; and a workbook under another name, with the number in its second sheet.
        var text = await _odile.Upload("/take-in", ("office.csv", Encoding.UTF8.GetBytes("PK\u0003\u0004\nT-01,4111111111111111\n")));
        Assert.Contains("contains a full card number", text.DocumentElement.TextContent, StringComparison.Ordinal);
        using var second = new MemoryStream();
        MiniExcelLibs.MiniExcel.SaveAs(second, new Dictionary<string, object>
        {
            ["Rows"] = new[] { new { Terminal = "T-01", Amount = "5.00" } },
            ["Cards"] = new[] { new { Card = "4111111111111111" } },
        });
        var renamed = await _odile.Upload("/take-in", ("office.csv", second.ToArray()));
        Assert.Contains("contains a full card number", renamed.DocumentElement.TextContent, StringComparison.Ordinal);
        Assert.Empty(Directory.GetFiles(Path.Combine(_shop.Folder, "spool")));
        using var form = new MultipartFormDataContent
        {
            { new StringContent(await _odile.Token("/mappings")), "__RequestVerificationToken" },
            { new ByteArrayContent(stream.ToArray()), "file", "office.xlsx" }
        };
        using var shown = await _odile.Client.PostAsync("/mappings?handler=Example", form);
        Assert.Contains("full card number", (await Visitor.Read(shown)).QuerySelector(".objection")!.TextContent, StringComparison.Ordinal);
    }

    private async Task<AngleSharp.Dom.IDocument> Report(byte[] bytes, string total, string rows)
    {
        using var form = new MultipartFormDataContent
        {
            { new StringContent(await _odile.Token("/take-in")), "__RequestVerificationToken" },
            { new StringContent(total), "reportTotal" },
            { new StringContent(rows), "reportRows" },
            { new ByteArrayContent(bytes), "files", "office-settlement.xlsx" }
        };
        using var answer = await _odile.Client.PostAsync("/take-in/files", form);
        return await _odile.Page(answer.Headers.Location!.ToString());
    }

    private async Task<AngleSharp.Dom.IDocument> Gallery(string file)
    {
        using var shown = await _odile.Post("/stand-ins/files", new() { ["file"] = file });
        return await _odile.Page(shown.Headers.Location!.ToString());
    }

    private async Task<string> Import(string json)
    {
        using var form = new MultipartFormDataContent
        {
            { new StringContent(await _odile.Token("/mappings")), "__RequestVerificationToken" },
            { new ByteArrayContent(Encoding.UTF8.GetBytes(json)), "file", "m.json" }
        };
        using var answer = await _odile.Client.PostAsync("/mappings?handler=Import", form);
        return answer.StatusCode == HttpStatusCode.Redirect ? "" : (await Visitor.Read(answer)).QuerySelector(".objection")!.TextContent;
    }

    private async Task<AngleSharp.Dom.IDocument> Show(string name, string text)
    {
        using var form =
            new MultipartFormDataContent { { new StringContent(await _odile.Token("/mappings")), "__RequestVerificationToken" } };
        form.Add(new ByteArrayContent(Encoding.UTF8.GetBytes(text)), "file", name);
        using var answer = await _odile.Client.PostAsync("/mappings?handler=Example", form);
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return await _odile.Page(answer.Headers.Location!.ToString());
    }

    /// <summary>What a browser would send of the form.</summary>
    private static List<KeyValuePair<string, string>> FormOf(AngleSharp.Dom.IDocument page) =>
    [
        .. page.QuerySelectorAll("form.mapping [name]").Where(e => e.GetAttribute("type") != "file"
                && e is not AngleSharp.Html.Dom.IHtmlInputElement { Type: "checkbox", IsChecked: false })
            .Select(e => new KeyValuePair<string, string>(e.GetAttribute("name")!, e switch
        {
            AngleSharp.Html.Dom.IHtmlSelectElement select => select.Value ?? "",
            AngleSharp.Html.Dom.IHtmlInputElement input => input.Value,
            _ => "",
        })),
    ];

    private static MultipartFormDataContent Multipart(IEnumerable<KeyValuePair<string, string>> fields)
    {
        var form = new MultipartFormDataContent();
        foreach (var (name, value) in fields)
        {
            form.Add(new StringContent(value), name);
        }

        return form;
    }

    private async Task<DayView> View(string day) =>
        (await _shop.Ask<DayStore, DayView?>(d => d.View(DateOnly.Parse(day, System.Globalization.CultureInfo.InvariantCulture))))!;
}
