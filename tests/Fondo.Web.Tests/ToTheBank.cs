using System.Net;
using System.Net.Http.Headers;
using System.Text;
using AngleSharp.Dom;
using Fondo.Core.Entries;
using Fondo.Files.Mapping;
using Fondo.Standins.Bank;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Mappings;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Web.Tests;

/// <summary>From the safe to the bank, as pages do it: a deposit sealed by two, handed over, credited; statements taken in or told why
/// not.</summary>
public sealed class ToTheBank : IAsyncLifetime
{
    private const string Deposit = $"{Shop.Day}/deposit", Safe = $"{Shop.Day}/safe", Bank = $"{Shop.Day}/bank";

    private static readonly DateOnly _day = new(2026, 11, 21);

    private readonly Shop _shop = new();

    public async ValueTask InitializeAsync() => await _shop.InitializeAsync();

    public ValueTask DisposeAsync() => _shop.DisposeAsync();

    private static Dictionary<string, string> Sealing(Guid form, string bag, string twenties = "10", string witness = "p02",
        string pin = "7410") =>
        new() { ["form"] = form.ToString(), ["bag"] = bag, ["witness"] = witness, ["witness-pin"] = pin, ["p2000"] = twenties };

    private Task<int> Deposits() => _shop.InStore(db => db.Deposits.CountAsync());

    private static async Task<string> Says(Visitor visitor, Dictionary<string, string> fields) =>
        string.Join(' ', (await visitor.PostForPage(Deposit, fields)).QuerySelectorAll(".objection").Select(o => o.TextContent.Trim())
            .Where(t => t.Length > 0));

    [Fact]
    public async Task A_deposit_is_sealed_by_two_and_once()
    {
        var supervisor = await _shop.SignedIn();
        var proposed = (await supervisor.Page(Deposit)).QuerySelectorAll("input[data-worth]").Select(i => i.GetAttribute("value"))
            .OfType<string>();
        Assert.NotEmpty(proposed); // the safe is counted: what goes is proposed piece by piece
        foreach (var (fields, says) in new[]
        {
            (Sealing(Guid.NewGuid(), "70401", witness: "p01", pin: "2580"), "A deposit takes two people"),
            (Sealing(Guid.NewGuid(), "70401", pin: "0000"), "does not belong to this person"),
            (Sealing(Guid.NewGuid(), ""), "Type the number on the bag"),
            (Sealing(Guid.NewGuid(), "4000 0000 0000 0002"), "full card number"),
            (Sealing(Guid.NewGuid(), "70401", "9000"), "cannot go"),
            (Sealing(Guid.NewGuid(), "70401", "x"), "whole number of pieces"),
            (Sealing(Guid.NewGuid(), "70401", ""), "This deposit is empty"),
        })
        {
            Assert.Contains(says, await Says(supervisor, fields), StringComparison.Ordinal);
        }

        Assert.Equal(0, await Deposits());
        var form = Guid.NewGuid();
        Assert.Equal(HttpStatusCode.Redirect, (await supervisor.Post(Deposit, Sealing(form, "70401"))).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await supervisor.Post(Deposit, Sealing(form, "70401"))).StatusCode);
        Assert.Contains("already sealed a deposit with different contents", await Says(supervisor, Sealing(form, "70401", "9")),
            StringComparison.Ordinal);
        Assert.Contains("Bag 70401 was already used for deposit 1", await Says(supervisor, Sealing(Guid.NewGuid(), "70401")),
            StringComparison.Ordinal);
        Assert.Equal(1, await Deposits());
        var slip = await supervisor.Page($"{Deposit}/1");
        Assert.Contains("200.00 in bag 70401", slip.QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("1,70401,2026-11-21,notes,20.00,0,10,,200.00",
            await (await supervisor.Get($"{Deposit}/1?handler=File")).Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await (await _shop.Cashier()).Get(Deposit)).StatusCode);
    }

    [Fact]
    public async Task It_goes_or_is_opened_again_but_not_both()
    {
        var supervisor = await _shop.SignedIn();
        await supervisor.Post(Deposit, Sealing(Guid.NewGuid(), "A"));
        await supervisor.Post(Deposit, Sealing(Guid.NewGuid(), "B"));
        Assert.Equal(HttpStatusCode.Redirect,
            (await supervisor.Post($"{Deposit}/1", new() { ["to"] = "Ferry Lane carriers", ["seal"] = "S2201" })).StatusCode);
        Assert.Contains("handed to Ferry Lane carriers",
            (await supervisor.PostForPage($"{Deposit}/1", new() { ["to"] = "somebody else" }, Safe)).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("cannot be reopened here",
            (await supervisor.PostForPage($"{Safe}?handler=Unseal", new() { ["number"] = "1", ["reason"] = "wrong bag" },
                Safe)).Body!.TextContent, StringComparison.Ordinal);
        var before = await Loose();
        Assert.Contains("opening a sealed deposit takes two people",
            (await supervisor.PostForPage($"{Safe}?handler=Unseal", new() { ["number"] = "2", ["reason"] = "a check was forgotten" },
                Safe)).Body!.TextContent, StringComparison.Ordinal);
        await supervisor.Post($"{Safe}?handler=Unseal",
            new() { ["number"] = "2", ["reason"] = "a check was forgotten", ["witness"] = "p02", ["witness-pin"] = "7410" }, Safe);
        Assert.Equal(before + 200_00, await Loose());
        Assert.Contains("Opened again by", (await supervisor.Page($"{Deposit}/2")).Body!.TextContent, StringComparison.Ordinal);
    }

    private Task<long?> Loose() => _shop.Ask<DayStore, long?>(async d => (await d.View(_day))!.Money.Custody.End.Loose?.Minor);

    private static async Task<IDocument> Statement(Visitor visitor, string text, string name = "statement.xml")
    {
        using var form = new MultipartFormDataContent { { new StringContent(await visitor.Token(Bank)), "__RequestVerificationToken" } };
        var file = new ByteArrayContent(Encoding.UTF8.GetBytes(text));
        file.Headers.ContentType = new MediaTypeHeaderValue("text/xml");
        form.Add(file, "statement", name);
        using var answer = await visitor.Client.PostAsync(Bank, form);
        return answer.StatusCode == HttpStatusCode.Redirect ? await visitor.Page(Bank) : await Visitor.Read(answer);
    }

    [Fact]
    public async Task A_statement_is_taken_whole_once_and_matched()
    {
        var supervisor = await _shop.SignedIn();
        await supervisor.Post(Deposit, Sealing(Guid.NewGuid(), "70401", "60"));
        var bank = new StandInBank("4471", "USD", 1_000_00);
        bank.Receive("70401", _day, 1_200_00, 0, @short: 20_00);
        bank.Book(new(2026, 11, 24), -3_50, "ACCOUNT FEE");
        var text = bank.Statement(new(2026, 11, 22), new(2026, 11, 24));
        Assert.Contains("does not add up",
            (await Statement(supervisor, text.Replace("2176.50", "2176.51", StringComparison.Ordinal))).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Equal(0, await _shop.InStore(db => db.BankLines.CountAsync()));
        var page = await Statement(supervisor, text);
        Assert.Contains("3 new lines", page.QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("deposit 1, bag 70401", page.QuerySelector(".bank-lines")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("was imported before. Nothing changed", (await Statement(supervisor, text)).Body!.TextContent,
            StringComparison.Ordinal);
        var corrected = text.Replace(">3.50<", ">4.50<", StringComparison.Ordinal).Replace("2176.50", "2175.50", StringComparison.Ordinal);
        Assert.Contains("with different contents", (await Statement(supervisor, corrected)).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("account is 4471",
            (await Statement(supervisor, new StandInBank("9", "USD", 0).Statement(new(2026, 11, 25), new(2026, 11, 25)))).Body!.TextContent,
            StringComparison.Ordinal);
        Assert.Contains("well-formed", (await Statement(supervisor, text[..500])).Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains("expected", (await Statement(supervisor, "a,b\n1,2\n", "bank.csv")).Body!.TextContent, StringComparison.Ordinal);

        // The fee is a cell: accepted by two it is explained, and booked as what the bank keeps.
        var fee = page.QuerySelectorAll(".bank-lines td:nth-child(4) a")
            .Single(a => a.TextContent.Contains("short 3.50", StringComparison.Ordinal)
                || a.ParentElement!.ParentElement!.TextContent.Contains("ACCOUNT FEE", StringComparison.Ordinal)).GetAttribute("href")!;
        await supervisor.Post($"{fee}?handler=Entry",
            new() { ["Id"] = Guid.NewGuid().ToString(), ["Kind"] = "Accept", ["Amount"] = "3.50", ["Reason"] = "the month’s fee" }, fee);
        await supervisor.Post($"{fee}?handler=Approve",
            new()
            {
                ["entry"] = (await _shop.InStore(db => db.Entries.SingleAsync())).Id.ToString(),
                ["approver"] = "p02",
                ["pin"] = "7410"
            }, fee);
        Assert.Contains("explained", (await supervisor.Page(fee)).QuerySelector("h1")!.TextContent, StringComparison.Ordinal);
        var books = (await supervisor.Page($"{Shop.Day}/books")).QuerySelector(".books")!.TextContent;
        Assert.Contains("Expenses:Bank charges", books, StringComparison.Ordinal);
        Assert.Contains("Assets:Bank", books, StringComparison.Ordinal);
        var deposit = page.QuerySelectorAll(".bank-lines td:nth-child(4) a")
            .First(a => a.ParentElement!.ParentElement!.TextContent.Contains("ADJUSTMENT", StringComparison.Ordinal)).GetAttribute("href")!;
        Assert.Contains("Bag 70401 was packed by Odile Marchetti and Tamsin Okafor: 1 × 20.00 too few",
            (await supervisor.Page(deposit)).QuerySelector(".leads")!.TextContent, StringComparison.Ordinal);
    }

    /// <summary>A shape of its own, by a mapping: on the bank's page and among files that are taken in; the second time nothing
    /// changes.</summary>
    [Fact]
    public async Task A_statement_of_another_shape_comes_by_its_mapping()
    {
        var supervisor = await _shop.SignedIn();
        await supervisor.Post(Deposit, Sealing(Guid.NewGuid(), "70401", "60"));
        const string text =
            "Posting date;Details;Debit;Credit;Balance\n24.11.2026;ACCOUNT FEE;3,50;;2.196,50\n23.11.2026;DEPOSIT BAG "
                + "70401;;1.200,00;2.200,00\n";
        var guess = MappingGuess.Of("activity-2026-11-24.csv", Encoding.UTF8.GetBytes(text), await _shop.SetUp());
        var mapping = guess with { Name = "our-bank", Fixed = guess.Fixed.Add(MappedFields.Account, "4471") };
        Assert.True((await _shop.Ask<MappingBook, Store.Outcome>(b => b.Save(mapping, Shop.Odile))).IsDone);
        Assert.Contains("the balance before",
            (await Statement(supervisor, text.Replace("3,50", "3,60", StringComparison.Ordinal), "activity-2026-11-24.csv"))
                .QuerySelector("#statement-says")!.TextContent, StringComparison.Ordinal);
        var page = await Statement(supervisor, text, "activity-2026-11-24.csv");
        Assert.Contains("2 new lines", page.QuerySelector(".notice")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("deposit 1, bag 70401", page.QuerySelector(".bank-lines")!.TextContent, StringComparison.Ordinal);
        var again = await _shop.Ask<MappedIntake, IntakeResult>(m =>
            m.Take([new("activity-2026-11-24.csv", () => new MemoryStream(Encoding.UTF8.GetBytes(text)))], null, "inbox"));
        Assert.Equal((true, 0), (again.IsTaken, again.Added));
        Assert.Equal(2, await _shop.InStore(db => db.BankLines.CountAsync()));
        var next = new StandInBank("4471", "USD", 2_196_50).Statement(new(2026, 11, 25), new(2026, 11, 25));
        var camt = await _shop.Ask<MappedIntake, IntakeResult>(m =>
            m.Take([new("statement-2026-11-25.xml", () => new MemoryStream(Encoding.UTF8.GetBytes(next)))], null, "inbox"));
        Assert.True(camt.IsTaken, camt.Objection);
        Assert.Equal(2, await _shop.InStore(db => db.BankStatements.CountAsync()));
    }

    /// <summary>By account, by product, by ticket: the same entry, and every line of it as a file comes to the same on each side.</summary>
    [Fact]
    public async Task The_books_are_laid_out_as_the_bookkeeper_likes()
    {
        var supervisor = await _shop.SignedIn();
        var says = new List<string>();
        foreach (var by in new[] { "", "product", "ticket" })
        {
            var page = await supervisor.Page($"{Shop.Day}/books?by={by}");
            says.Add(page.QuerySelector("h1")!.TextContent);
            Assert.Contains(by switch { "product" => "Country bread", "ticket" => "L1-00", _ => "Income:Sales" },
                string.Concat(page.QuerySelectorAll(".books > tbody > tr > th").Select(t => t.TextContent + " ")),
                StringComparison.Ordinal);
        }

        Assert.Single(says.Distinct());
        var lines = (await (await supervisor.Get($"{Shop.Day}/books?handler=File&kind=lines")).Content.ReadAsStringAsync())
            .Split("\r\n", StringSplitOptions.RemoveEmptyEntries).Skip(1).Select(l => l.Split(',')).ToList();
        decimal Side(int column) =>
            lines.Where(l => l[column].Length > 0).Sum(l => decimal.Parse(l[column], System.Globalization.CultureInfo.InvariantCulture));
        Assert.Equal(Side(3), Side(4));
        Assert.True(lines.Count > 1_000);
    }

    [Fact]
    public async Task A_charge_that_a_processor_takes_back_names_its_sale()
    {
        var supervisor = await _shop.SignedIn();
        var view = (await _shop.Ask<DayStore, DayView?>(d => d.View(_day)))!;
        var sale = view.Day.Journal.OfType<Core.Journal.Ticket>().Where(t => !t.IsRefund)
            .SelectMany(t => t.Tenders.Where(n => n.Counts && n.Type == Core.Journal.TenderId.Credit).Select(n => (Ticket: t, n.Amount)))
            .First();
        var bank = new StandInBank("4471", "USD", 1_000_00);
        bank.Book(new(2026, 11, 24), -sale.Amount.Minor, $"{view.Setup.Processors[0].Reference} DISPUTED CHARGE");
        var page = await Statement(supervisor, bank.Statement(new(2026, 11, 22), new(2026, 11, 24)));
        var line = page.QuerySelector(".bank-lines a")!.GetAttribute("href")!;
        Assert.Contains($"ticket {sale.Ticket.Id}. The customer disputes it",
            (await supervisor.Page(line)).QuerySelector(".leads")!.TextContent, StringComparison.Ordinal);
    }

    /// <summary>A statement without end is refused after the ten megabytes that one may have.</summary>
    [Fact]
    public async Task A_statement_without_end_is_not_read_to_its_end()
    {
        var read = 0L;
        var taken = await _shop.Ask<MappedIntake, IntakeResult>(m =>
            m.Take([new("statement.xml", () => new Endless(n => read += n))], null, "inbox"));
        Assert.Contains("larger than 10 MB", taken.Objection, StringComparison.Ordinal);
        Assert.InRange(read, 10_000_000, 11_000_000);
    }

    private sealed class Endless(Action<int> told) : MemoryStream
    {
        public override ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
        {
            buffer.Span.Fill((byte)'x');
            told(buffer.Length);
            return ValueTask.FromResult(buffer.Length);
        }
    }

    /// <summary>What a customer owes since an earlier day is on the list until it is paid or given up; giving it up takes a second
    /// person.</summary>
    [Fact]
    public async Task A_claim_is_on_the_list_until_it_has_an_end()
    {
        var supervisor = await _shop.SignedIn();
        var view = (await _shop.Ask<DayStore, DayView?>(d => d.View(_day)))!;
        var off = view.Unresolved.First(b => b.Left is { IsZero: false } && b.Cell.Key.Drawer is null);
        var claim = Guid.NewGuid();
        Store.Outcome made = await _shop.Ask<Resolving, Store.Outcome>(r => r.Add(_day, claim,
            [new(EntryKind.Claim, [new(off.Cell.Key, off.Left!.Value)],
                new EntryDetail.Owed(ClaimParty.Customer, off.Left.Value.Sign < 0, new("p01"), DateTimeOffset.UtcNow.AddDays(40)),
                "charged otherwise", [])], Shop.Odile));
        Assert.True(made.IsDone, made.Objection);
        await _shop.Ask<Resolving, Store.Outcome>(r => r.Approve(_day, claim, Shop.Tamsin));
        var page = await supervisor.Page($"{Shop.Day}/money");
        Assert.Contains("charged otherwise", page.QuerySelector("form.claim")!.TextContent, StringComparison.Ordinal);
        await supervisor.Post($"{Shop.Day}/money?handler=End",
            new()
            {
                ["form"] = Guid.NewGuid().ToString(),
                ["claim"] = claim.ToString(),
                ["how"] = "given-up",
                ["reason"] = "nobody answers"
            }, $"{Shop.Day}/money");
        page = await supervisor.Page($"{Shop.Day}/money");
        Assert.Contains("waits for a second person", page.QuerySelector("form.claim")!.TextContent, StringComparison.Ordinal);
        var end = await _shop.InStore(db => db.Entries.Where(e => e.Reason == "nobody answers").SingleAsync());
        Assert.True((await _shop.Ask<Resolving, Store.Outcome>(r => r.Approve(_day, end.Id, Shop.Tamsin))).IsDone);
        Assert.Null((await supervisor.Page($"{Shop.Day}/money")).QuerySelector("form.claim"));
        Assert.Contains("was already ended",
            (await supervisor.PostForPage($"{Shop.Day}/money?handler=End",
                new() { ["form"] = Guid.NewGuid().ToString(), ["claim"] = claim.ToString(), ["how"] = "paid", ["reason"] = "cash" },
                $"{Shop.Day}/money")).Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Floats_of_all_registers_are_left_together()
    {
        var supervisor = await _shop.SignedIn();
        var page = await supervisor.Page($"{Shop.Day}/floats");
        var fields = page.QuerySelectorAll("form.floats input").Where(i => i.GetAttribute("name") != "__RequestVerificationToken")
            .ToDictionary(i => i.GetAttribute("name")!, i => i.GetAttribute("value") ?? "");
        Assert.Equal(HttpStatusCode.Redirect, (await supervisor.Post($"{Shop.Day}/floats", fields)).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await supervisor.Post($"{Shop.Day}/floats", fields)).StatusCode);
        var view = await _shop.Ask<DayStore, DayView?>(d => d.View(_day));
        var kept = view!.Day.Counts.Where(c => c.Kind == Core.Proof.CountKind.Kept).ToList();
        Assert.Equal(Floats.LastCounted(view).Count, kept.Count);
        Assert.All(kept, k =>
            Assert.Equal(view.Setup.Find(view.Overview.Sessions.First(s => s.Drawer == k.Drawer).Register)!.Float.Minor, k.Cash.Minor));
        Assert.Contains("floats are saved", (await supervisor.Page($"{Shop.Day}/floats")).QuerySelector("h1")!.TextContent,
            StringComparison.Ordinal);
        fields["form"] = Guid.NewGuid().ToString();
        fields[fields.Keys.First(k => k.EndsWith("-p2000", StringComparison.Ordinal))] = "900";
        Assert.Contains("than there are", (await supervisor.PostForPage($"{Shop.Day}/floats", fields)).Body!.TextContent,
            StringComparison.Ordinal);
    }
}
