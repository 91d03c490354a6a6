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
    private sealed class Typed(IDocument page)
    {
        private readonly List<KeyValuePair<string, string>> _fields =
            [.. page.QuerySelectorAll(".setup-form [name]")
                .Select(f => KeyValuePair.Create(f.GetAttribute("name")!,
                    f is IHtmlSelectElement select ? select.Value ?? "" : f.GetAttribute("value") ?? ""))];

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

        /// <summary>Clears the key of a row: the row goes.</summary>
        public Typed Clear(string table, string key) => Type(table, key, Key(table), "");

        public Typed Type(string name, string text)
        {
            _fields[_fields.FindIndex(f => f.Key == name)] = new(name, text);
            return this;
        }

        public FormUrlEncodedContent Content() => new(_fields);

        private static string Key(string table) => table == "denominations" ? "worth" : "id";

        private List<int> Column(string table, string column) =>
            [.. _fields.Index().Where(f => f.Item.Key == $"{table}.{column}").Select(f => f.Index)];
    }

    private static async Task<Typed> Form(Visitor visitor) => new(await visitor.Page("/store"));

    private static async Task<JsonNode> Exported(Visitor visitor) =>
        JsonNode.Parse(await (await visitor.Get("/store?handler=Export")).Content.ReadAsStringAsync())!;

    private static async Task Save(Visitor visitor, Typed typed)
    {
        using var answer = await visitor.Client.PostAsync("/store", typed.Content());
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
        using var answer = await visitor.Client.PostAsync("/store", typed.Content());
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return (await Visitor.Read(answer)).QuerySelector("main")!.TextContent;
    }

    [Fact]
    public async Task What_is_as_standard_is_shown_and_not_written()
    {
        var visitor = await Shop.SignedIn();
        var before = await Exported(visitor);
        await Save(visitor, await Form(visitor));
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
        await Save(visitor, (await Form(visitor)).Type("tenders", "cash", "twice", "false").Type("tenders", "cash", "tolerance", "2.00")
            .Type("accounts", "tax", "account", "2200"));
        var cash = Assert.Single((await Exported(visitor))["tenders"]!.AsArray(), t => (string)t!["id"]! == "cash")!.AsObject();
        Assert.Equal(["account", "id", "tolerance", "twice"], cash.Select(m => m.Key).Order());
        var shown = await visitor.Page("/store");
        var row = shown.QuerySelectorAll("[name='tenders.id']").Single(i => i.GetAttribute("value") == "cash").Closest("tr")!;
        Assert.Equal("2.00", row.QuerySelector("[name='tenders.tolerance']")!.GetAttribute("value"));
        Assert.Equal("false", ((IHtmlSelectElement)row.QuerySelector("[name='tenders.twice']")!).Value);
        using var scope = Shop.Services.CreateScope();
        var held = (await scope.ServiceProvider.GetRequiredService<SetupBook>().Now())!.Setup;
        Assert.Equal("2200", held.Accounts.Single(a => a.Id == "tax").Account);
        Assert.Equal("Cash", held.Find(Core.Journal.TenderId.Cash)!.Name);

        // Back to what is usual: nothing is left of it.
        await Save(visitor, (await Form(visitor)).Type("tenders", "cash", "twice", "true").Type("tenders", "cash", "tolerance", "")
            .Type("accounts", "tax", "account", "Liabilities:Sales tax"));
        Assert.DoesNotContain((await Exported(visitor))["tenders"]?.AsArray() ?? [], t => (string)t!["id"]! == "cash");
    }

    [Fact]
    public async Task A_denomination_that_is_taken_out_is_not_counted_any_more()
    {
        var visitor = await Shop.SignedIn();
        Assert.NotNull((await visitor.Page($"{Shop.Day}/count/L4-A")).QuerySelector("[name=p200]"));
        await Save(visitor, (await Form(visitor)).Clear("denominations", "2.00").Type("denominations", "1.00", "keep", "25"));
        Assert.Null((await visitor.Page($"{Shop.Day}/count/L4-A")).QuerySelector("[name=p200]"));
        Assert.NotNull((await Exported(visitor))["denominations"]);
        Assert.Equal("25", (await visitor.Page("/store")).QuerySelectorAll("[name='denominations.worth']")
            .Single(i => i.GetAttribute("value") == "1.00").Closest("tr")!.QuerySelector("[name='denominations.keep']")!
            .GetAttribute("value"));

        // Typed in again, it is the usual list, and nothing is written of it.
        await Save(visitor, (await Form(visitor)).Type("denominations", "1.00", "keep", "40").Type("denominations", "", "worth", "2.00")
            .Type("denominations", "2.00", "note", "true").Type("denominations", "2.00", "pack", "100")
            .Type("denominations", "2.00", "grams", "1"));
        Assert.Null((await Exported(visitor))["denominations"]);
        Assert.NotNull((await visitor.Page($"{Shop.Day}/count/L4-A")).QuerySelector("[name=p200]"));
    }

    [Fact]
    public async Task Who_does_not_open_a_register_by_the_set_up_is_told_so()
    {
        var visitor = await Shop.SignedIn();
        await Save(visitor, (await Form(visitor)).Type("people", "p11", "registers", "L1, L2"));
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
        await Save(visitor, (await Form(visitor)).Type("currency", "EUR").Type("from", "2027-01-04"));
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
        await Save(visitor, (await Form(visitor)).Type("decimalMark", ","));
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
    [InlineData("currency", "DOLLARS", "ISO 4217")]
    [InlineData("timeZone", "Atlantis/Centre", "time zone")]
    [InlineData("dayEndsAt", "4 in the morning", "time of day")]
    [InlineData("cashTolerance", "two", "decimal string")]
    [InlineData("approvalAbove", "20", "2 decimals")]
    [InlineData("matchMinutes", "a while", "matchMinutes")]
    [InlineData("disputeHours", "-1", "disputeHours")]
    [InlineData("rate", "1.5", "from 0 to 0.99")]
    [InlineData("programmeTenders", "shells", "tenders of the catalogue")]
    [InlineData("store", "4000 0000 0000 0002", "full card number")]
    public async Task A_rule_that_cannot_be_is_refused_at_its_name(string field, string typed, string sentence)
    {
        var visitor = await Shop.SignedIn();
        Assert.Contains(sentence, await Refused(visitor, (await Form(visitor)).Type(field, typed)), StringComparison.Ordinal);
        Assert.NotEqual(typed, (await visitor.Page("/store")).QuerySelector($"[name={field}]")!.GetAttribute("value"));
    }

    [Theory]
    [InlineData("registers", "L4", "float", "-5.00", "not negative")]
    [InlineData("registers", "L4", "dropAbove", "-5.00", "not negative")]
    [InlineData("registers", "L4", "id", "L3", "given twice")]
    [InlineData("terminals", "T-04", "register", "L77", "expected a register")]
    [InlineData("terminals", "T-04", "settlesAt", "tea time", "time of day")]
    [InlineData("terminals", "T-04", "from", "noon", "expected")]
    [InlineData("people", "p13", "id", "p12", "given twice")]
    [InlineData("tenders", "check", "tolerance", "-0.01", "not negative")]
    [InlineData("tenders", "check", "tolerance", "a cent", "decimal")]
    [InlineData("denominations", "0.25", "worth", "0.10", "given twice")]
    [InlineData("denominations", "0.25", "worth", "-0.25", "above 0")]
    [InlineData("denominations", "0.25", "grams", "heavy", "decimal string")]
    [InlineData("denominations", "0.25", "keep", "many", "in a float")]
    [InlineData("accounts", "tax", "account", "", "account")]
    public async Task A_row_that_cannot_be_is_refused_and_the_rest_of_what_was_typed_stays(string table, string key, string column,
        string typed, string sentence)
    {
        var visitor = await Shop.SignedIn();
        var before = (await Exported(visitor)).ToJsonString();
        using var answer = await visitor.Client.PostAsync("/store",
            (await Form(visitor)).Type(table, key, column, typed).Type("registers", "L2", "name", "Lane Two").Content());
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        var page = await Visitor.Read(answer);
        Assert.Contains(sentence, page.QuerySelector(".objections")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(sentence != "given twice", page.QuerySelector($"[name='{table}.{column}'][aria-invalid='true']") is not null);
        Assert.Contains("Lane Two", page.QuerySelectorAll("[name='registers.name']").Select(i => i.GetAttribute("value")));
        Assert.Equal(before, (await Exported(visitor)).ToJsonString());
    }

    [Fact]
    public async Task A_terminal_in_two_places_at_once_is_told_in_the_list_of_what_is_missing()
    {
        var visitor = await Shop.SignedIn();
        await Save(visitor, (await Form(visitor)).Type("terminals", "", "register", "L1").Type("terminals", "", "id", "T-08"));
        Assert.Contains("In two places at once: T-08", (await visitor.Page("/store")).QuerySelector(".steps")!.TextContent,
            StringComparison.Ordinal);
        var form = await Form(visitor);
        await Save(visitor, form.Type("terminals", "T-08", "until", "2026-11-21T12:00:00-05:00")
            .TypeLast("terminals", "T-08", "from", "2026-11-21T12:00:00-05:00"));
        Assert.DoesNotContain("In two places at once", (await visitor.Page("/store")).QuerySelector(".steps")!.TextContent,
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_is_typed_wrongly_is_refused_with_a_sentence_and_stays_typed()
    {
        var visitor = await Shop.SignedIn();
        Assert.Contains("expected tenders of the catalogue",
            await Refused(visitor, (await Form(visitor)).Type("registers", "L3", "tenders", "cash, shells")), StringComparison.Ordinal);
        Assert.Contains("expected registers that the set-up names",
            await Refused(visitor, (await Form(visitor)).Type("people", "p12", "registers", "L77")), StringComparison.Ordinal);
        Assert.Contains("pack", await Refused(visitor, (await Form(visitor)).Type("denominations", "0.25", "pack", "a roll")),
            StringComparison.Ordinal);
        using var answer =
            await visitor.Client.PostAsync("/store", (await Form(visitor)).Type("registers", "L3", "float", "lots").Content());
        Assert.Contains("lots", (await Visitor.Read(answer)).QuerySelectorAll("[name='registers.float']")
            .Select(i => i.GetAttribute("value")));
    }

    [Fact]
    public async Task A_register_that_takes_what_it_should_not_is_told_while_one_watches()
    {
        var visitor = await Shop.SignedIn();
        await Save(visitor, (await Form(visitor)).Type("registers", "SB", "tenders", "credit, debit, ebt-food, gift-card"));
        Assert.Contains("which Self-service B is not set up to take",
            (await visitor.Page($"{Shop.Day}/watch")).QuerySelector(".look")!.TextContent, StringComparison.Ordinal);
        var told = (await visitor.Page($"{Shop.Day}/journal?finding=true&register=SB")).QuerySelectorAll(".events .flag");
        Assert.NotEmpty(told);
        var ticket = await visitor.Page(told[0].Closest("tr")!.QuerySelector("a")!.GetAttribute("href")!);
        Assert.Contains("is not set up to take", ticket.QuerySelector(".flagged")!.TextContent, StringComparison.Ordinal);
    }
}
