using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Books;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Files;
using Fondo.Files.Reading;
using Fondo.Files.Writing;
using Fondo.Standins.Days;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §13: one balanced entry, every amount where the trade posts it (common practice). Debits are positive.</summary>
public sealed class TheBooks
{
    internal static string Line(string amount, string tax = "0.00", string rate = "0", string more = "") =>
        $$"""{"sku":"x","name":"Clay pot","qty":"1","amount":"{{amount}}","tax":"{{tax}}","taxRate":"{{rate}}","ebt":false{{more}}}""";

    internal static string Sale(string lines, string subtotal, string tax, string total, string tenders, string more = "",
        string kind = "sale", string discount = "0.00", string fee = "0.00") =>
        Event(kind,
            $"\"lines\":[{lines}],\"subtotal\":\"{subtotal}\",\"discount\":\"{discount}\",\"tax\":\"{tax}\",\"fee\":\""
                + $"{fee}\",\"rounding\":\"0.00\",\"total\":\"{total}\",\"tenders\":[{tenders}]{more}");

    internal static string Pays(string type, string amount, string more = "") => $$"""{"type":"{{type}}","amount":"{{amount}}"{{more}}}""";

    private static string[] Posted(Reconciliation day, params Entry[] entries)
    {
        var entry = AccountingEntry.Of(day, entries);
        Assert.Equal(Money.Zero, entry.Balance);
        return [.. entry.Sums.GroupBy(s => s.Account).Select(g => (g.Key, Amount: g.Sum(s => s.Amount))).Where(a => !a.Amount.IsZero)
            .Select(a => $"{a.Key} {Currency.Of("USD").Format(a.Amount)}")];
    }

    private static string[] Posted(params string[] journal) => Posted(Reconcile(journal));

    [Fact]
    public void A_cash_sale_with_tax_and_change() =>
        Assert.Equal(
            ["Assets:Cash to deposit 10.80", "Income:Sales -10.00", "Liabilities:Sales tax -0.80"],
            Posted(Sale(Line("10.00", "0.80", "0.08"), "10.00", "0.80", "10.80", Pays("cash", "20.00", ",\"change\":\"9.20\""))));

    /// <summary>Goods of 10.00 and a fee of 0.30 on a card that also pays a tip of 2.00 and 5.00 cash back: 17.30 will come from the
    /// processor.</summary>
    [Fact]
    public void A_card_with_fee_tip_and_cash_back() =>
        Assert.Equal(
            ["Assets:Card clearing 17.30", "Assets:Cash to deposit -5.00", "Income:Card fees -0.30", "Income:Sales -10.00",
                "Liabilities:Tips -2.00"],
            Posted(Reconcile([Sale(Line("10.00"), "10.00", "0.00", "10.30",
                Card("17.30", "1", ",\"tip\":\"2.00\",\"cashback\":\"5.00\",\"fee\":\"0.30\""), fee: "0.30")], Row("17.30", "1", "1"))));

    /// <summary>Rules §5, nothing forgotten: of a day without any batch the cards are carried, until a batch has them.</summary>
    [Fact]
    public void A_card_that_no_batch_has_is_carried_and_not_with_the_processor()
    {
        var day = Reconcile([Sale(Line("17.30"), "17.30", "0.00", "17.30", Card("17.30", "1"))]);
        Assert.Equal(["Assets:Carried items 17.30", "Income:Sales -17.30"], Posted(day));
        Assert.Equal(17_30, Assert.Single(Carrying.Next(day, []).Journal).Tender.Amount.Minor);
    }

    /// <summary>What is owed later is no sale: a gift card sold, a payment on account, a bottle deposit; and both ends of them.</summary>
    [Fact]
    public void Gift_cards_accounts_and_deposits_are_no_sales()
    {
        Assert.Equal(["Assets:Cash to deposit 25.00", "Liabilities:Gift cards -25.00"],
            Posted(Sale(Line("25.00", more: ",\"account\":\"gift-card-load\""), "25.00", "0.00", "25.00", Pays("cash", "25.00"))));
        Assert.Equal(["Income:Sales -25.00", "Liabilities:Gift cards 25.00"],
            Posted(Sale(Line("25.00"), "25.00", "0.00", "25.00", Pays("gift-card", "25.00", ",\"ref\":\"1234\""))));
        Assert.Equal(["Assets:Customer accounts 40.00", "Income:Sales -40.00"],
            Posted(Sale(Line("40.00"), "40.00", "0.00", "40.00", Pays("house-account", "40.00", ",\"ref\":\"1\""))));
        Assert.Equal(["Assets:Cash to deposit 40.00", "Assets:Customer accounts -40.00"],
            Posted(Sale(Line("40.00", more: ",\"account\":\"account-payment\""), "40.00", "0.00", "40.00", Pays("cash", "40.00"))));
        Assert.Equal(["Assets:Cash to deposit 1.20", "Liabilities:Container deposits -1.20"],
            Posted(Sale(Line("1.20", more: ",\"account\":\"container-deposit\""), "1.20", "0.00", "1.20", Pays("cash", "1.20"))));
    }

    /// <summary>Rules §13, as a deposit and by parts; the division by hand from §10. 50.00 at 8 %: goods 46.296…, tax 3.703…; the cent that
    /// is left goes to the goods. 10.01 at 7.25 %: 9.333… and 0.676…; to the tax.</summary>
    [Theory]
    [InlineData("50.00", "0.00", "0.08", "deposit", "Assets:Cash to deposit 50.00|Liabilities:Customer deposits -50.00")]
    [InlineData("50.00", "0.00", "0.08", "parts",
        "Assets:Cash to deposit 50.00|Assets:Inventory -30.00|Expenses:Cost of goods 30.00|Income:Sales -46.30|Liabilities:Sales tax -3.70")]
    [InlineData("10.01", "0.00", "0.0725", "parts",
        "Assets:Cash to deposit 10.01|Assets:Inventory -30.00|Expenses:Cost of goods 30.00|Income:Sales -9.33|Liabilities:Sales tax -0.68")]
    [InlineData("10.00", "0.80", "0.08", "parts",
        "Assets:Cash to deposit 10.80|Assets:Inventory -30.00|Expenses:Cost of goods 30.00|Income:Sales -10.00|Liabilities:Sales tax -0.80")]
    [InlineData("40.00", "0.00", "0", "parts",
        "Assets:Cash to deposit 40.00|Assets:Inventory -30.00|Expenses:Cost of goods 30.00|Income:Sales -40.00")]
    public void A_layaway_is_a_deposit_or_goes_by_parts(string paid, string tax, string rate, string layaway, string posted)
    {
        var total = (decimal.Parse(paid, CultureInfo.InvariantCulture) + decimal.Parse(tax, CultureInfo.InvariantCulture))
            .ToString(CultureInfo.InvariantCulture);
        var day = Read([Sale(Line(paid, tax, rate, ",\"account\":\"layaway\",\"cost\":\"30.00\""), paid, tax, total, Pays("cash", total))],
            setup: MadeUp.Setup.Replace("\"policy\":{", $"\"policy\":{{\"layaway\":\"{layaway}\",", StringComparison.Ordinal)).Day!;
        Assert.Equal(posted.Split('|'), Posted(Reconciliation.Of(day)));
    }

    [Fact]
    public void Discounts_cost_and_refunds()
    {
        Assert.Equal(["Assets:Cash to deposit 9.00", "Income:Discounts 1.00", "Income:Sales -10.00"],
            Posted(Sale(Line("10.00"), "10.00", "0.00", "9.00", Pays("cash", "9.00"), discount: "1.00")));
        Assert.Equal(["Assets:Cash to deposit 10.00", "Assets:Inventory -6.00", "Expenses:Cost of goods 6.00", "Income:Sales -10.00"],
            Posted(Sale(Line("10.00", more: ",\"cost\":\"6.00\""), "10.00", "0.00", "10.00", Pays("cash", "10.00"))));
        Assert.Equal(["Assets:Cash to deposit -10.80", "Income:Sales 10.00", "Liabilities:Sales tax 0.80"],
            Posted(Sale(Line("-10.00", "-0.80", "0.08"), "-10.00", "-0.80", "-10.80", Pays("cash", "-10.80"), kind: "refund")));
    }

    [Fact]
    public void Cash_that_goes_in_and_out_without_a_ticket()
    {
        Assert.Equal(["Assets:Cash to deposit -4.00", "Expenses:Petty cash 4.00"],
            Posted(Event("paid-out", "\"amount\":\"4.00\",\"reason\":\"stamps\"")));
        Assert.Equal(["Assets:Cash to deposit -2.00", "Liabilities:Tips 2.00"],
            Posted(Event("paid-out", "\"amount\":\"2.00\",\"reason\":\"of the day\",\"purpose\":\"tips\"")));
        Assert.Equal(["Assets:Cash to deposit 7.00", "Income:Other -7.00"],
            Posted(Event("paid-in", "\"amount\":\"7.00\",\"reason\":\"found\"")));
        // A float, a drop and a loan stay cash of the store.
        Assert.Empty(Posted(Event("open", "\"amount\":\"100.00\""), Event("drop", "\"amount\":\"50.00\",\"bag\":\"B-1\""),
            Event("loan", "\"amount\":\"20.00\"")));
    }

    private static readonly CellKey _cash = new CellKey.Takings(new("L1"), new("L1-A"), TenderId.Cash),
        _credit = new CellKey.Takings(new("L1"), null, TenderId.Credit);

    private static Entry Entry(EntryKind kind, EntryDetail? detail, params (CellKey Cell, long Amount)[] postings) =>
        new(Guid.NewGuid(), kind, [.. postings.Select(p => new Posting(p.Cell, new(p.Amount)))], "why", new("p1"), DateTimeOffset.UnixEpoch,
            [], null, false, null)
        { Detail = detail };

    /// <summary>100.00 in the drawer, 120.00 counted for: 20.00 short. By each kind of entry, what the books say of it.</summary>
    [Fact]
    public void Over_and_short_goes_where_its_entry_says()
    {
        var day = Reconcile([Event("open", "\"amount\":\"120.00\""), Event("close", "", "20:00")], rows: Row("20.00", "1", "1"),
            counts: Counted("\"100.00\":1"));
        var until = DateTimeOffset.UnixEpoch;
        (Entry, string[])[] said =
        [
            // over in credit and short in cash: nothing in sum
            (Entry(EntryKind.Accept, null, (_cash, -20_00)), ["Assets:Card clearing 20.00", "Assets:Cash to deposit -20.00"]),
            (Entry(EntryKind.Record, new EntryDetail.Moved(MovementKind.Drop, "B-1"), (_cash, -20_00)),
                ["Assets:Card clearing 20.00", "Expenses:Over and short -20.00"]),
            (Entry(EntryKind.Recount, new EntryDetail.Recounted("k", []), (_cash, -20_00)),
                ["Assets:Card clearing 20.00", "Expenses:Over and short -20.00"]),
            (Entry(EntryKind.Record, new EntryDetail.Moved(MovementKind.PaidOut), (_cash, -20_00)),
                ["Assets:Card clearing 20.00", "Assets:Cash to deposit -20.00", "Expenses:Over and short -20.00",
                    "Expenses:Petty cash 20.00"]),
            (Entry(EntryKind.Claim, new EntryDetail.Owed(ClaimParty.Customer, true, new("p1"), until), (_cash, -20_00)),
                ["Assets:Card clearing 20.00", "Assets:Cash to deposit -20.00", "Assets:Claims 20.00", "Expenses:Over and short -20.00"]),
            (Entry(EntryKind.Carry, new EntryDetail.Awaited(new("p1"), until, AwaitedProof.BankLine), (_cash, -20_00)),
                ["Assets:Card clearing 20.00", "Assets:Carried items 20.00", "Assets:Cash to deposit -20.00",
                    "Expenses:Over and short -20.00"]),
            (Entry(EntryKind.Reclassify, null, (_cash, -20_00), (_credit, 20_00)),
                ["Assets:Card clearing 20.00", "Assets:Cash to deposit -20.00"]),
        ];
        foreach (var (entry, expected) in said)
        {
            Assert.Equal(expected, Posted(day, entry));
        }

        // Taken back, it is as if it had never been made; while it waits for a second person, too.
        var drop = said[1].Item1;
        var back = Entry(EntryKind.Reverse, null, (_cash, 20_00)) with { Reverses = drop.Id };
        Assert.Equal(Posted(day), Posted(day, drop, back));
        Assert.Equal(Posted(day), Posted(day, drop with { NeedsApproval = true }));
    }

    private static Reconciliation Made(int seed, int registers, int tickets, int faults)
    {
        var made = DayMaker.MakeFaulty(seed, registers, tickets, faults, overlap: false);
        var builder = new DayBuilder();
        foreach (var name in DayFiles.All.Where(made.Files.ContainsKey))
        {
            builder.Take(name, new MemoryStream(Encoding.UTF8.GetBytes(made.Files[name])));
        }

        return Reconciliation.Of(builder.Build().Day!);
    }

    private static List<Entry> Random(Reconciliation day, Random random)
    {
        var cells = day.Cells.Where(c => c.Proof is not null).ToList();
        EntryDetail?[] details = [
            null,
            new EntryDetail.Moved((MovementKind)random.Next(10)),
            new EntryDetail.Recounted("k", []),
            new EntryDetail.Awaited(new("p1"), default, AwaitedProof.LaterBatch),
            new EntryDetail.Owed(ClaimParty.Bank, random.Next(2) == 0, new("p1"), default)
        ];
        return [.. Enumerable.Range(0, random.Next(15)).Select(_ => details[random.Next(5)] is { } detail
            ? Entry(detail.Kind, detail, (cells[random.Next(cells.Count)].Key, random.Next(-9000, 9000)))
            : random.Next(2) == 0 ? Entry(EntryKind.Accept, null, (cells[random.Next(cells.Count)].Key, random.Next(-9000, 9000)))
            : random.Next(1, 9000) is var amount ? Entry(EntryKind.Reclassify, null, (cells[0].Key, amount), (cells[^1].Key, -amount))
            : null!)];
    }

    /// <summary>Over generated days with faults and any entries: the entry balances, for the store; what the processors owe is what was
    /// settled and not settled yet; a correction makes the earlier entry the later one.</summary>
    [Fact]
    public void Every_entry_balances_and_clearing_is_what_proves()
    {
        var random = new Random(5);
        for (var seed = 4200; seed < 4212; seed++)
        {
            var day = Made(seed, 6, 700, 12);
            var before = AccountingEntry.Of(day, []);
            for (var round = 0; round < 6; round++)
            {
                var entries = Random(day, random);
                var entry = AccountingEntry.Of(day, entries);
                Assert.Equal(Money.Zero, entry.Balance);
                var correction = before.CorrectionTo(entry);
                Assert.Equal(Money.Zero, correction.Balance);
                Assert.Equal(
                    Totals(entry), Totals(new([.. before.Sums, .. correction.Sums])));
            }

            // Independent of the entry's own way: a recount and a drop are the only entries that leave a tender's own account as it should
            // have been.
            var clearing = day.Cells.Where(c => day.Day.Setup.ProofOf(c.Key) == ProofKind.Batch).Sum(c => c.Proof ?? c.Expected);
            Assert.Equal(clearing, before.Sums.Where(s => s.Account is "Assets:Card clearing" or "Assets:Benefit clearing")
                .Sum(s => s.Amount));
        }

        static Dictionary<(string, RegisterId?, string), Money> Totals(AccountingEntry entry) =>
            entry.Sums.GroupBy(s => (s.Account, s.Register, s.What)).Select(g => (g.Key, Amount: g.Sum(s => s.Amount)))
                .Where(s => !s.Amount.IsZero).ToDictionary(s => s.Key, s => s.Amount);
    }

    /// <summary>Carried on one day and come on the next: the account of carried items is empty again.</summary>
    [Fact]
    public void What_is_carried_stands_on_its_account_until_it_comes()
    {
        var until = new DateTimeOffset(2026, 11, 23, 0, 0, 0, TimeSpan.Zero);
        var evening = Reconcile([Ticket("10.00", Card("10.00", "1"), id: "a"), Ticket("7.00", Card("7.00", "3"), id: "late")],
            Row("10.00", "1", "1"));
        var carry = Entry(EntryKind.Carry, new EntryDetail.Awaited(new("p1"), until, AwaitedProof.LaterBatch), (_credit, -7_00)) with
        {
            Evidence = ["late#1"]
        };
        Assert.Contains("Assets:Carried items 7.00", Posted(evening, carry));
        Assert.Contains("Assets:Card clearing 10.00", Posted(evening, carry));
        var next = Reconciliation.Of(Read([], Row("7.00", "3", "2")).Day! with { Carried = Carrying.Next(evening, [carry]) });
        Assert.Equal(["Assets:Card clearing 7.00", "Assets:Carried items -7.00"],
            Posted(next, Entry(EntryKind.Record, new EntryDetail.Moved(MovementKind.Arrival), (_credit, 7_00))));
        // Or nobody waits for it any more.
        var waits = Reconciliation.Of(Read([]).Day! with { Carried = Carrying.Next(evening, [carry]) });
        Assert.Equal(["Assets:Carried items -7.00", "Expenses:Over and short 7.00"],
            Posted(waits, Entry(EntryKind.Accept, null) with { Evidence = ["late#1"] }));
        Assert.Equal(["Assets:Carried items -7.00", "Assets:Claims 7.00"],
            Posted(waits, Entry(EntryKind.Claim, new EntryDetail.Owed(ClaimParty.Processor, true, new("p1"), until)) with
            {
                Evidence = ["late#1"]
            }));
    }

    /// <summary>Two programs that keep books accept the exported journal and come to the same balances (ledger and hledger, Debian's
    /// packages).</summary>
    [Theory]
    [InlineData("ledger", "bal --flat --no-total")]
    [InlineData("hledger", "bal --flat --no-total")]
    public void Programs_that_keep_books_read_the_journal(string program, string arguments)
    {
        var file = Path.GetTempFileName();
        try
        {
            List<AccountingEntry> all = [];
            var text = new StringBuilder();
            for (var seed = 4300; seed < 4304; seed++)
            {
                var day = Made(seed, 4, 300, 8);
                all.Add(AccountingEntry.Of(day, Random(day, new(seed))));
                text.Append(BooksText.Journal(
                    new(new(2026, 11, 1 + seed - 4300), $"close {seed}", "Mossgate Market Hall; (the “hall”) | 2026"), all[^1],
                    day.Day.Setup.Currency, r => day.Day.Setup.NameOf(r)));
            }

            File.WriteAllText(file, text.ToString());
            using var process = Process.Start(new ProcessStartInfo(program, $"-f {file} {arguments}")
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true
            })!;
            var said = process.StandardOutput.ReadToEnd();
            Assert.True(process.WaitForExit(30_000) && process.ExitCode == 0, process.StandardError.ReadToEnd());
            var balances = said.Split('\n', StringSplitOptions.RemoveEmptyEntries)
                .Select(l => l.Trim().Split("  ", 2, StringSplitOptions.TrimEntries))
                .ToDictionary(l => l[1], l => decimal.Parse(
                    l[0].Replace("USD", "", StringComparison.Ordinal).Replace(",", "", StringComparison.Ordinal).Trim(),
                    CultureInfo.InvariantCulture));
            var ours = all.SelectMany(e => e.Sums).GroupBy(s => s.Account).Select(g => (g.Key, Amount: g.Sum(s => s.Amount).Minor / 100m))
                .Where(a => a.Amount != 0).ToDictionary(a => a.Key, a => a.Amount);
            Assert.Equal(ours.OrderBy(a => a.Key, StringComparer.Ordinal), balances.OrderBy(a => a.Key, StringComparer.Ordinal));
        }
        finally
        {
            File.Delete(file);
        }
    }

    /// <summary>Articles that a bookkeeping program would read as a date, a tag, a virtual posting or a comment.</summary>
    [Theory]
    [InlineData("ledger")]
    [InlineData("hledger")]
    public void Odd_names_of_articles_do_not_stop_the_journal(string program)
    {
        string[] names = ["Calendar [2027]", "Gift card date: 5", "date:5", "[=2026/13/45]", "type: x, date2: y", "Mug {{12.00}}",
            "@@ 12.00 EUR", "Pot (large)", "a ; b | c", ":tag:", "*", "! ?", "=1+1", "Ends in \\", "“curly” Käse"];
        var file = Path.GetTempFileName();
        try
        {
            var sums = names.SelectMany(n => new[]
            {
                new BookSum("Income:Sales", null, n, new(-1_00), 1),
                new BookSum("Assets:Cash to deposit", null, n, new(1_00), 1)
            }).ToImmutableArray();
            File.WriteAllText(file, BooksText.Journal(new(new(2026, 11, 21), "close 8", "Mossgate"), new(sums), Currency.Of("USD"),
                _ => "Lane 1"));
            using var process = Process.Start(new ProcessStartInfo(program, $"-f {file} bal --flat --no-total")
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true
            })!;
            var said = process.StandardOutput.ReadToEnd();
            Assert.True(process.WaitForExit(30_000) && process.ExitCode == 0, process.StandardError.ReadToEnd());
            Assert.Contains($"-{names.Length}.00 USD", said.Replace("USD -", "-", StringComparison.Ordinal), StringComparison.Ordinal);
        }
        finally
        {
            File.Delete(file);
        }
    }

    /// <summary>A spreadsheet runs what begins with one of = + - @; a number is a number.</summary>
    [Theory]
    [InlineData("=1+1", "'=1+1")]
    [InlineData("+A1", "'+A1")]
    [InlineData("-A1", "'-A1")]
    [InlineData("@SUM(A1,A2)", "\"'@SUM(A1,A2)\"")]
    [InlineData("-12.50", "-12.50")]
    [InlineData("Pot, large", "\"Pot, large\"")]
    [InlineData(null, "")]
    public void No_text_is_a_formula(string? text, string field) => Assert.Equal(field, Files.Text.CsvText.Shown(text));

    /// <summary>A paid-out is a tip where the register says so, and never by its reason.</summary>
    [Theory]
    [InlineData(",\"reason\":\"tip jar\"", "Expenses:Petty cash 5.00")]
    [InlineData(",\"reason\":\"Friday\",\"purpose\":\"tips\"", "Liabilities:Tips 5.00")]
    [InlineData(",\"reason\":\"tips\",\"purpose\":\"supplier\"", "Expenses:Petty cash 5.00")]
    public void What_was_paid_out_goes_by_its_purpose(string more, string posted) =>
        Assert.Contains(posted, Posted(Reconcile([Event("paid-out", "\"amount\":\"5.00\"" + more)])));

    [Fact]
    public void An_unknown_purpose_is_refused() => Assert.Contains("purpose",
        string.Join(' ', Read([Event("paid-out", "\"amount\":\"5.00\",\"purpose\":\"fun\"")]).Findings), StringComparison.Ordinal);

    /// <summary>Parts of registers balance each, and together with what is of no register they are the whole entry.</summary>
    [Fact]
    public void A_registers_part_of_the_entry_balances()
    {
        for (var seed = 4310; seed < 4314; seed++)
        {
            var day = Made(seed, 4, 300, 8);
            var entry = AccountingEntry.Of(day, Random(day, new(seed)));
            var parts = entry.Sums.Select(s => s.Register).OfType<Core.Journal.RegisterId>().Distinct().Select(entry.Of).ToList();
            Assert.NotEmpty(parts);
            Assert.All(parts, p => Assert.Equal(Money.Zero, p.Balance));
            Assert.Equal(entry.Sums.Where(s => s.Register is not null).OrderBy(s => s.ToString(), StringComparer.Ordinal),
                parts.SelectMany(p => p.Sums).Where(s => s.Account != "Equity:Between registers")
                    .OrderBy(s => s.ToString(), StringComparer.Ordinal));
        }
    }

    [Fact]
    public void The_CSV_has_a_debit_or_a_credit_on_each_line()
    {
        var day = Reconcile([Sale(Line("10.00", "0.80", "0.08"), "10.00", "0.80", "10.80", Pays("cash", "20.00", ",\"change\":\"9.20\""))]);
        Assert.Equal(
            [
                "date,reference,account,debit,credit,currency,register,what,number",
                "2026-11-21,close 8,Assets:Cash to deposit,10.80,,USD,Lane 1,Cash,1",
                "2026-11-21,close 8,Income:Sales,,10.00,USD,Lane 1,Clay pot,1",
                "2026-11-21,close 8,Liabilities:Sales tax,,0.80,USD,Lane 1,tax 8 %,1",
            ],
            BooksText.Csv(new(new(2026, 11, 21), "close 8", "Mossgate"), AccountingEntry.Of(day, []), Currency.Of("USD"),
                r => day.Day.Setup.NameOf(r)).Split("\r\n", StringSplitOptions.RemoveEmptyEntries));
    }
}
