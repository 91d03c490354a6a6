using System.Net;
using System.Text.Json.Nodes;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using Fondo.Store.SetUp;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>The set-up as a supervisor types it.</summary>
public sealed class SettingUp : InOwnShop
{
    /// <summary>The form as a browser would send it.</summary>
    private sealed class Typed(string part, IDocument page)
    {
        private readonly List<KeyValuePair<string, string>> _fields =
            [.. page.QuerySelectorAll(".setup-form [name]")
                .Where(f => f is not IHtmlInputElement { Type: "checkbox" or "radio", IsChecked: false })
                .Select(f => KeyValuePair.Create(f.GetAttribute("name")!,
                    f is IHtmlSelectElement select ? select.Value ?? "" : f.GetAttribute("value") ?? ""))];

        public string Path => $"/store/{part}";

        /// <summary>Ticks exactly these in the row with this key.</summary>
        public Typed Tick(string table, string key, string column, params string[] ticked)
        {
            var row = Column(table, Key(table)).FindIndex(i => _fields[i].Value == key);
            _fields.RemoveAll(f => f.Key == $"{table}.{column}.{row}");
            _fields.AddRange(ticked.Select(t => KeyValuePair.Create($"{table}.{column}.{row}", t)));
            return this;
        }

        /// <summary>Types into a column of the row with this key.</summary>
        public Typed Type(string table, string key, string column, string text)
        {
            var keys = Column(table, Key(table));
            var place = keys.FindIndex(i => _fields[i].Value == key);
            _fields[Column(table, column)[place]] = new($"{table}.{column}", text);
            return this;
        }

        /// <summary>The same in the last row with this key.</summary>
        public Typed TypeLast(string table, string key, string column, string text)
        {
            var place = Column(table, Key(table)).FindLastIndex(i => _fields[i].Value == key);
            _fields[Column(table, column)[place]] = new($"{table}.{column}", text);
            return this;
        }

        /// <summary>Clears the first field of a row: the row goes.</summary>
        public Typed Clear(string table, string key, string first) => Type(table, key, first, "");

        public Typed Type(string name, string text)
        {
            _fields.RemoveAll(f => f.Key == name);
            _fields.Add(new(name, text));
            return this;
        }

        public FormUrlEncodedContent Content() => new(_fields);

        /// <summary>Types into the free row at the end.</summary>
        public Typed TypeFree(string table, string column, string text)
        {
            _fields[Column(table, column)[^1]] = new($"{table}.{column}", text);
            return this;
        }

        private static string Key(string table) => table == "denominations" ? "worth" : "id";

        private List<int> Column(string table, string column) =>
            [.. _fields.Index().Where(f => f.Item.Key == $"{table}.{column}").Select(f => f.Index)];
    }

    private static async Task<Typed> Form(Visitor visitor, string part) => new(part, await visitor.Page($"/store/{part}"));

    private static async Task<JsonNode> Exported(Visitor visitor) =>
        JsonNode.Parse(await (await visitor.Get("/store?handler=Export")).Content.ReadAsStringAsync())!;

    private static async Task Save(Visitor visitor, Typed typed)
    {
        using var answer = await visitor.Client.PostAsync(typed.Path, typed.Content());
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
    }

    /// <summary>What loosens a control is approved by the manager, at the machine of whoever made it.</summary>
    internal static async Task Approve(Visitor visitor)
    {
        var id = (await visitor.Page("/store")).QuerySelector(".slip.waits [name=id]")!.GetAttribute("value")!;
        using var answer =
            await visitor.Post("/store?handler=Approve", new() { ["id"] = id, ["second"] = "p02", ["second-pin"] = "7410" }, "/store");
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
    }

    private static async Task<string> Refused(Visitor visitor, Typed typed)
    {
        using var answer = await visitor.Client.PostAsync(typed.Path, typed.Content());
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return (await Visitor.Read(answer)).QuerySelector("main")!.TextContent;
    }

    [Fact]
    public async Task What_is_as_standard_is_shown_and_not_written()
    {
        var visitor = await Shop.SignedIn();
        var before = await Exported(visitor);
        foreach (var part in Web.SetUp.SetupPart.All)
        {
            await Save(visitor, await Form(visitor, part.Name));
        }

        var after = await Exported(visitor);
        Assert.Null(after["denominations"]);
        Assert.Null(after["accounts"]);
        foreach (var list in new[] { "registers", "terminals", "people" })
        {
            Assert.Equal(Plain(before[list]!), Plain(after[list]!));
        }

        static IEnumerable<string> Plain(JsonNode list) => list.AsArray()
            .Select(row => string.Join(",",
                row!.AsObject().Where(m => m.Value is not null).OrderBy(m => m.Key, StringComparer.Ordinal)
                    .Select(m => $"{m.Key}={m.Value}")));
    }

    [Fact]
    public async Task Of_a_tender_what_was_changed_is_written_and_holds()
    {
        var visitor = await Shop.SignedIn();
        await Save(visitor, (await Form(visitor, "tenders")).Type("tenders", "cash", "twice", "false")
            .Type("tenders", "cash", "tolerance", "2.00"));
        await Save(visitor, (await Form(visitor, "accounts")).Type("accounts", "tax", "account", "2200"));
        var cash = Assert.Single((await Exported(visitor))["tenders"]!.AsArray(), t => (string)t!["id"]! == "cash")!.AsObject();
        Assert.Equal(["account", "id", "tolerance", "twice"], cash.Select(m => m.Key).Order());
        var shown = await visitor.Page("/store/tenders");
        var row = shown.QuerySelectorAll("[name='tenders.id']").Single(i => i.GetAttribute("value") == "cash").Closest("tr")!;
        Assert.Equal("2.00", row.QuerySelector("[name='tenders.tolerance']")!.GetAttribute("value"));
        Assert.Equal("false", ((IHtmlSelectElement)row.QuerySelector("[name='tenders.twice']")!).Value);
        using var scope = Shop.Services.CreateScope();
        var held = (await scope.ServiceProvider.GetRequiredService<SetupBook>().Now())!.Setup;
        Assert.Equal("2200", held.Accounts.Single(a => a.Id == "tax").Account);
        Assert.Equal("Cash", held.Find(Core.Journal.TenderId.Cash)!.Name);

        // Back to what is usual: nothing is left of it.
        await Save(visitor, (await Form(visitor, "tenders")).Type("tenders", "cash", "twice", "true")
            .Type("tenders", "cash", "tolerance", ""));
        await Save(visitor, (await Form(visitor, "accounts")).Type("accounts", "tax", "account", "Liabilities:Sales tax"));
        Assert.DoesNotContain((await Exported(visitor))["tenders"]?.AsArray() ?? [], t => (string)t!["id"]! == "cash");
    }

    [Fact]
    public async Task A_denomination_that_is_taken_out_is_not_counted_any_more()
    {
        var visitor = await Shop.SignedIn();
        Assert.NotNull((await visitor.Page($"{Shop.Day}/count/L4-A")).QuerySelector("[name=p200]"));
        await Save(visitor, (await Form(visitor, "notes")).Clear("denominations", "2.00", "worth")
            .Type("denominations", "1.00", "keep", "25"));
        Assert.Null((await visitor.Page($"{Shop.Day}/count/L4-A")).QuerySelector("[name=p200]"));
        Assert.NotNull((await Exported(visitor))["denominations"]);
        Assert.Equal("25", (await visitor.Page("/store/notes")).QuerySelectorAll("[name='denominations.worth']")
            .Single(i => i.GetAttribute("value") == "1.00").Closest("tr")!.QuerySelector("[name='denominations.keep']")!
            .GetAttribute("value"));

        // Typed in again, it is the usual list, and nothing is written of it.
        await Save(visitor, (await Form(visitor, "notes")).Type("denominations", "1.00", "keep", "40")
            .Type("denominations", "", "worth", "2.00")
            .Type("denominations", "2.00", "note", "true").Type("denominations", "2.00", "pack", "100")
            .Type("denominations", "2.00", "grams", "1"));
        Assert.Null((await Exported(visitor))["denominations"]);
        Assert.NotNull((await visitor.Page($"{Shop.Day}/count/L4-A")).QuerySelector("[name=p200]"));
    }

    [Fact]
    public async Task Who_does_not_open_a_register_by_the_set_up_is_told_so()
    {
        var visitor = await Shop.SignedIn();
        await Save(visitor, (await Form(visitor, "people")).Tick("people", "p11", "registers", "L1", "L2"));
        var ansel = await Shop.SignedIn("p11", "3571");
        var page = await ansel.PostForPage($"{Shop.Day}/open/BK", new() { ["form"] = Guid.NewGuid().ToString(), ["accept"] = "true" });
        Assert.Contains("The set-up does not let Ansel Ruiz open Bakery Counter", page.QuerySelector(".objection")!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect,
            (await ansel.Post($"{Shop.Day}/open/L2", new() { ["form"] = Guid.NewGuid().ToString(), ["accept"] = "true" })).StatusCode);
    }

    [Fact]
    public async Task Another_currency_brings_its_own_notes_and_coins()
    {
        var visitor = await Shop.SignedIn();
        await Save(visitor, (await Form(visitor, "shop")).Type("currency", "EUR").Type("from", "2027-01-04"));
        await Approve(visitor);
        using var scope = Shop.Services.CreateScope();
        var book = scope.ServiceProvider.GetRequiredService<SetupBook>();
        Assert.Equal(500_00, (await book.For(new(2027, 1, 4)))!.Setup.Denominations[0].Worth.Minor);
        Assert.Equal("USD", (await book.Now())!.Setup.Currency.Code); // today keeps its own
    }

    [Fact]
    public async Task Amounts_are_written_and_read_as_the_store_writes_them()
    {
        var visitor = await Shop.SignedIn();
        const string Cell = $"{Shop.Day}/cell/L1/L1-A/cash";
        Assert.Contains("short 38.89: 585.36 expected", Spaced(await visitor.Page(Cell)), StringComparison.Ordinal);
        await Save(visitor, (await Form(visitor, "shop")).Type("decimalMark", ","));
        var page = await visitor.Page(Cell);
        Assert.Equal(",", page.DocumentElement.GetAttribute("data-decimal-mark"));
        Assert.Contains("short 38,89: 585,36 expected", Spaced(page), StringComparison.Ordinal);
        Assert.DoesNotMatch(@"\d\.\d\d\b", Spaced(page));
        Assert.Equal(",", (string?)(await Exported(visitor))["decimalMark"]);

        // 1.234 is a batch's thousand here, and 12,5 no thousand.
        var found = await visitor.Page("/batches?amount=1.234");
        Assert.DoesNotContain("Type the amount", found.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        found = await visitor.Page("/batches?amount=1,234");
        Assert.Contains("Type the amount like", found.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
    }

    private static string Spaced(IDocument page) =>
        System.Text.RegularExpressions.Regex.Replace(page.QuerySelector("main")!.TextContent, @"\s+", " ");

    [Theory]
    [InlineData("shop", "currency", "DOLLARS", "ISO 4217")]
    [InlineData("shop", "timeZone", "Atlantis/Centre", "time zone")]
    [InlineData("shop", "dayEndsAt", "4 in the morning", "Times look like 17:40.")]
    [InlineData("rules", "cashTolerance", "two", "Amounts look like 600.00.")]
    [InlineData("rules", "approvalAbove", "20.005", "Amounts look like 600.00.")]
    [InlineData("rules", "matchMinutes", "a while", "Type a whole number, like 15.")]
    [InlineData("rules", "disputeHours", "-1", "Type a whole number, like 15.")]
    [InlineData("rules", "settledBy", "25:00", "Times look like 17:40.")]
    [InlineData("prices", "rate", "150", "from 0 to 0.99")]
    [InlineData("prices", "rate", "some", "Type a percentage, like 3 or 1.75.")]
    [InlineData("prices", "programmeTenders", "shells", "tenders of the catalogue")]
    [InlineData("shop", "store", "4000 0000 0000 0002", "full card number")]
    [InlineData("bank", "bankHolidays", "Christmas", "expected dates")]
    public async Task A_rule_that_cannot_be_is_refused_at_its_field(string part, string field, string typed, string sentence)
    {
        var visitor = await Shop.SignedIn();
        Assert.Contains(sentence, await Refused(visitor, (await Form(visitor, part)).Type(field, typed)), StringComparison.Ordinal);
        Assert.NotEqual(typed, (await visitor.Page($"/store/{part}")).QuerySelector($"[name={field}]")!.GetAttribute("value"));
    }

    [Theory]
    [InlineData("rules", "cashTolerance", "1,200.50", "1200.50")]
    [InlineData("rules", "cashTolerance", "1", "1.00")]
    [InlineData("rules", "settledBy", "9.30", "09:30")]
    [InlineData("rules", "settledBy", "2230", "22:30")]
    public async Task What_is_typed_as_people_type_is_kept_as_files_write_it(string part, string field, string typed, string kept)
    {
        var visitor = await Shop.SignedIn();
        await Save(visitor, (await Form(visitor, part)).Type(field, typed).Type("from", "2027-01-04"));
        if ((await visitor.Page("/store")).QuerySelector(".slip.waits") is not null)
        {
            await Approve(visitor);
        }

        using var scope = Shop.Services.CreateScope();
        var held = JsonNode.Parse((await scope.ServiceProvider.GetRequiredService<SetupBook>().For(new(2027, 1, 4)))!.Json)!;
        Assert.Equal(kept, (string?)held["policy"]![field]);
    }

    [Theory]
    [InlineData("registers", "registers", "L4", "float", "-5.00", "Amounts look like 600.00.")]
    [InlineData("registers", "registers", "L4", "dropAbove", "lots", "Amounts look like 600.00.")]
    [InlineData("registers", "registers", "L4", "id", "L3", "given twice")]
    [InlineData("terminals", "terminals", "T-04", "register", "L77", "expected a register")]
    [InlineData("terminals", "terminals", "T-04", "settlesAt", "tea time", "Times look like 17:40.")]
    [InlineData("terminals", "terminals", "T-04", "from", "noon", "expected")]
    [InlineData("people", "people", "p13", "id", "p12", "given twice")]
    [InlineData("tenders", "tenders", "check", "tolerance", "-0.01", "Amounts look like 600.00.")]
    [InlineData("tenders", "tenders", "credit", "proof", "ledger", "always proved by batch")]
    [InlineData("notes", "denominations", "0.25", "worth", "0.10", "given twice")]
    [InlineData("notes", "denominations", "0.25", "worth", "0.00", "above 0")]
    [InlineData("notes", "denominations", "0.25", "grams", "heavy", "decimal string")]
    [InlineData("notes", "denominations", "0.25", "keep", "many", "Type a whole number, like 15.")]
    [InlineData("accounts", "accounts", "tax", "account", "", "Expected a text, but there is none.")]
    public async Task A_row_that_cannot_be_is_refused_at_its_field_and_the_rest_of_what_was_typed_stays(string part, string table,
        string key, string column, string typed, string sentence)
    {
        var visitor = await Shop.SignedIn();
        var before = (await Exported(visitor)).ToJsonString();
        var form = await Form(visitor, part);
        using var answer = await visitor.Client.PostAsync(form.Path,
            form.Type(table, key, column, typed).Type("from", "2027-03-01").Content());
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        var page = await Visitor.Read(answer);
        Assert.Contains(sentence, page.QuerySelector(".setup-form")!.TextContent, StringComparison.Ordinal);
        if (sentence != "given twice")
        {
            var wrong = Assert.Single(page.QuerySelectorAll("[aria-invalid='true']"));
            Assert.Equal($"{table}.{column}", wrong.GetAttribute("name"));
            Assert.Contains(sentence, wrong.ParentElement!.QuerySelector(".objection")!.TextContent, StringComparison.Ordinal);
            Assert.Equal(column == "worth" ? typed : key, wrong.Closest("tr")!
                .QuerySelector($"[name='{table}.{(table == "denominations" ? "worth" : "id")}']")!.GetAttribute("value"));
        }

        Assert.Equal("2027-03-01", page.QuerySelector("[name=from]")!.GetAttribute("value"));
        Assert.Equal(before, (await Exported(visitor)).ToJsonString());
    }

    [Fact]
    public async Task Nobody_invents_an_id()
    {
        var visitor = await Shop.SignedIn();
        await Save(visitor, (await Form(visitor, "registers")).TypeFree("registers", "name", "Garden desk")
            .TypeFree("registers", "kind", "desk"));
        await Save(visitor, (await Form(visitor, "tenders")).TypeFree("tenders", "name", "Token & Stamp")
            .TypeFree("tenders", "proof", "count"));
        var held = await Exported(visitor);
        Assert.Equal("Garden desk", (string?)held["registers"]!.AsArray().Single(r => (string?)r!["id"] == "D1")!["name"]);
        Assert.Equal("Token & Stamp", (string?)held["tenders"]!.AsArray().Single(r => (string?)r!["id"] == "token-stamp")!["name"]);

        // The name of a row gone, the row is gone.
        await Save(visitor, (await Form(visitor, "registers")).Clear("registers", "D1", "name"));
        Assert.DoesNotContain((await Exported(visitor))["registers"]!.AsArray(), r => (string?)r!["id"] == "D1");
    }

    [Fact]
    public async Task Who_connects_a_register_sees_when_the_first_has_come()
    {
        var visitor = await Shop.SignedIn();
        await Save(visitor, (await Form(visitor, "registers")).TypeFree("registers", "name", "Garden desk")
            .TypeFree("registers", "kind", "desk"));
        Assert.Equal(("missing", "nothing has come yet; no key yet."), await Light("Garden desk"));
        var till = await Shop.Register("D1");
        Assert.Matches("^nothing has come yet; key since .+$", (await Light("Garden desk")).Says);
        await Shop.Send(till, "D1",
            """{"id":"D1-000001","register":"D1","drawer":"D1-A","cashier":"p11","at":"2026-11-21T21:00:00-05:00","kind":"open","amount":"50.00"}""");
        var (state, says) = await Light("Garden desk");
        Assert.Equal("done", state);
        Assert.StartsWith("last came ", says, StringComparison.Ordinal);
        Assert.Equal("done", (await Light("Settled batches")).State);
        Assert.Contains("/api/registers/L1/journal", (await visitor.Page("/store/connect")).QuerySelector("pre")!.TextContent,
            StringComparison.Ordinal);

        async Task<(string State, string Says)> Light(string name)
        {
            var row = (await visitor.Page("/store/connect")).QuerySelectorAll(".lights li")
                .Single(l => l.QuerySelector("b")!.TextContent == name);
            return (row.ClassName!, row.QuerySelector("span")!.TextContent);
        }
    }

    [Fact]
    public async Task Of_two_with_the_same_first_name_the_whole_name_is_said()
    {
        var visitor = await Shop.SignedIn();
        Assert.Contains("Bryn", (await visitor.Page($"{Shop.Day}/board")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("Bryn Halloran", (await visitor.Page($"{Shop.Day}/board")).QuerySelector("main")!.TextContent,
            StringComparison.Ordinal);
        await Save(visitor, (await Form(visitor, "people")).Type("people", "p11", "name", "Bryn Ruiz"));
        Assert.Contains("Bryn Halloran", (await visitor.Page($"{Shop.Day}/board")).QuerySelector("main")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_terminal_in_two_places_at_once_is_told_in_the_list_of_what_is_missing()
    {
        var visitor = await Shop.SignedIn();
        await Save(visitor, (await Form(visitor, "terminals")).Type("terminals", "", "register", "L1").Type("terminals", "", "id", "T-08"));
        Assert.Contains("In two places at once: T-08", (await visitor.Page("/store")).QuerySelector(".parts")!.TextContent,
            StringComparison.Ordinal);
        var form = await Form(visitor, "terminals");
        await Save(visitor, form.Type("terminals", "T-08", "until", "2026-11-21T12:00:00-05:00")
            .TypeLast("terminals", "T-08", "from", "2026-11-21T12:00:00-05:00"));
        Assert.DoesNotContain("In two places at once", (await visitor.Page("/store")).QuerySelector(".parts")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_is_typed_wrongly_is_refused_with_a_sentence_and_stays_typed()
    {
        var visitor = await Shop.SignedIn();
        Assert.Contains("expected tenders of the catalogue",
            await Refused(visitor, (await Form(visitor, "registers")).Tick("registers", "L3", "tenders", "cash", "shells")),
            StringComparison.Ordinal);
        Assert.Contains("expected registers that the set-up names",
            await Refused(visitor, (await Form(visitor, "people")).Tick("people", "p12", "registers", "L77")), StringComparison.Ordinal);
        Assert.Contains("Type a whole number",
            await Refused(visitor, (await Form(visitor, "notes")).Type("denominations", "0.25", "pack", "a roll")),
            StringComparison.Ordinal);
        using var answer =
            await visitor.Client.PostAsync("/store/registers",
                (await Form(visitor, "registers")).Type("registers", "L3", "float", "lots").Content());
        Assert.Contains("lots", (await Visitor.Read(answer)).QuerySelectorAll("[name='registers.float']")
            .Select(i => i.GetAttribute("value")));
    }

    [Fact]
    public async Task A_register_that_takes_what_it_should_not_is_told_while_one_watches()
    {
        var visitor = await Shop.SignedIn();
        await Save(visitor, (await Form(visitor, "registers")).Tick("registers", "SB", "tenders", "credit", "debit", "ebt-food",
            "gift-card"));
        Assert.Contains("which Self-service B is not set up to take",
            (await visitor.Page($"{Shop.Day}/watch")).QuerySelector(".look")!.TextContent, StringComparison.Ordinal);
        var told = (await visitor.Page($"{Shop.Day}/journal?finding=true&register=SB")).QuerySelectorAll(".events .flag");
        Assert.NotEmpty(told);
        var ticket = await visitor.Page(told[0].Closest("tr")!.QuerySelector("a")!.GetAttribute("href")!);
        Assert.Contains("is not set up to take", ticket.QuerySelector(".flagged")!.TextContent, StringComparison.Ordinal);
    }
}
