using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Core.Cells;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>The bank's lines against deposits and what processors owe.</summary>
public sealed class TheBank
{
    private static readonly TradingDay _today = new(new(2026, 11, 24));

    private static readonly Setup _setup = Read([]).Day!.Setup with
    {
        Processors = [new("cards", "Quill", "QUILL 20441", [TenderId.Credit, TenderId.Debit], 2, true,
            [new("heron", 0.0175m, new(8)), new("", 0.02m, new(10))])]
    };

    private static Deposit Deposit(int number, long cash, long checks = 0, string? bag = null) => new(
        number, new(new(2026, 11, 23)), bag ?? $"7040{number}", [new(new(1), (int)cash)],
        checks == 0 ? [] : [new(new(new(2026, 11, 23)), new("L1-A"), "1042", new(checks), 1)], new("p1"), new("p2"),
        new(2026, 11, 23, 22, 0, 0, TimeSpan.FromHours(-5)))
    {
        HandedOver = new("Ferry Lane carriers", "", new("p1"), new(2026, 11, 23, 22, 5, 0, TimeSpan.FromHours(-5))),
    };

    private static Funding Funding(int day, long gross, long fee = 0, int number = 10) => new("cards", new(new(2026, 11, day)),
        [new(TenderId.Credit, new(gross))], number, new(fee), true, BankDays.After(new(2026, 11, day), 2));

    private static int _next;

    private static BankLine Line(long amount, string text, int day = 24, int? items = null) =>
        new($"R{++_next}", _today, new(2026, 11, day), new(amount), text, items);

    private static BankDay Bank(Deposit[] deposits, Funding[] fundings, params BankLine[] lines) =>
        BankDay.Of(_setup, new([.. deposits.Select(d => new OpenDeposit(d, Money.Zero))], [.. fundings], []), [.. lines], [],
            new HashSet<int>(), []);

    /// <summary>A charge that is taken back names the sale of its amount; of two alike each is half as likely; without one the processor
    /// alone is named.</summary>
    [Fact]
    public void A_disputed_charge_names_its_sale()
    {
        var bank = Bank([], [], Line(-24_50, "QUILL 20441 DISPUTED CHARGE"));
        var cell = Assert.Single(bank.Cells);
        ChargeTakenBack Charge(string ticket) => new(bank.Lines[0].Key, new(ticket), new(new(2026, 11, 14)), new("L1"),
            new(2026, 11, 14, 15, 12, 0, TimeSpan.Zero), TenderId.Credit, "1234");
        string[] Says(params ChargeTakenBack[] charges) => [.. BankLeads.Of(bank, [], [], charges, _setup,
            new Dictionary<CellKey, Bridge> { [cell.Key] = Bridge.Of(cell, [], Money.Zero) })
            .Select(l => $"{l.Chance.ToString(System.Globalization.CultureInfo.InvariantCulture)} {l.Says(_setup)}")];
        Assert.Contains("a charge that a customer disputes", Assert.Single(Says()), StringComparison.Ordinal);
        var one = Says(Charge("L1-000123"));
        Assert.Contains("credit sale of 24.50 at Lane 1 on 14 Nov, 10:12, card ending 1234, ticket L1-000123", one[0],
            StringComparison.Ordinal);
        Assert.Equal(3, Says(Charge("L1-000123"), Charge("L1-000200")).Length);
        Assert.True(double.Parse(one[0].Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture) < double.Parse(
            Says(Charge("L1-000123"), Charge("L1-000200"))[0].Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture));
    }

    /// <summary>A day that is closed late may see its own payment come: it is known, and nothing of it is on its way any more.</summary>
    [Fact]
    public void What_the_day_itself_settled_may_be_paid_before_it_is_closed()
    {
        var own = Funding(_today.Date.Day, 100_00, 2_00);
        var bank = BankDay.Of(_setup, new([], [Funding(_today.Date.Day - 1, 50_00)], []), [Line(98_00, "QUILL 20441 SETTLEMENT")], [],
            new HashSet<int>(), [own]);
        Assert.Empty(bank.Open);
        Assert.Equal(own, Assert.Single(Assert.IsType<BankMatch.Funded>(Assert.Single(bank.Matches)).Fundings));
        Assert.Equal(50_00, Assert.Single(bank.End.Fundings).Gross.Minor);
    }

    [Fact]
    public void A_deposit_is_known_by_its_bag_then_by_its_amount()
    {
        var bank = Bank([Deposit(1, 500_00), Deposit(2, 500_00), Deposit(3, 700_00)], [], Line(500_00, "DEPOSIT BAG 70402"),
            Line(500_00, "DEPOSIT"), Line(700_00, "counter"));
        Assert.Equal([2, 1, 3], bank.Matches.OfType<BankMatch.WholeDeposit>().Select(m => m.Open.Deposit.Number));
        Assert.All(bank.Cells, c => Assert.Equal(CellState.Proved, c.State));
        Assert.Empty(bank.End.Deposits);
        // Bag 7040 is not bag 70402, and a deposit of next week is not this one.
        Assert.Single(Bank([Deposit(1, 1_00, bag: "7040")], [], Line(2_00, "DEPOSIT BAG 70402")).Open);
        Assert.Single(Bank([Deposit(1, 1_00)], [], Line(1_00, "DEPOSIT", day: 22)).Open);
    }

    [Fact]
    public void A_deposit_may_come_in_two_parts()
    {
        var first = Bank([Deposit(1, 500_00, 58_20)], [], Line(500_00, "CASH BAG 70401"));
        Assert.Equal(58_20, Assert.Single(first.End.Deposits).Outstanding.Minor);
        Assert.Empty(first.Cells);
        var second = BankDay.Of(_setup, first.End, [Line(58_20, "CHECKS BAG 70401")], [], new HashSet<int>(), []);
        Assert.Equal(CellState.Proved, Assert.Single(second.Cells).State);
        Assert.Empty(second.End.Deposits);
    }

    /// <summary>A twenty short: the cell is off by it, and its lead names the piece and the people.</summary>
    [Fact]
    public void What_the_bank_takes_off_is_a_cell_with_the_people_and_the_piece()
    {
        var deposit = Deposit(1, 0) with { Pieces = [new(new(20_00), 140), new(new(10_00), 30)] };
        foreach (var bank in new[]
        {
            Bank([deposit], [], Line(3_100_00, "DEPOSIT BAG 70401"), Line(-20_00, "ADJUSTMENT BAG 70401")),
            Bank([], [], Line(-20_00, "ADJUSTMENT BAG 70401"))
        })
        {
            var cell = Assert.Single(bank.Cells);
            Assert.Equal((-20_00L, CellState.Off), (cell.Variance!.Value.Minor, cell.State));
            var leads = BankLeads.Of(bank, [deposit], [], [], _setup,
                new Dictionary<CellKey, Bridge> { [cell.Key] = Bridge.Of(cell, [], Money.Zero) });
            Assert.Contains("1 × 20.00 too few in a strap", leads[0].Says(_setup), StringComparison.Ordinal);
            Assert.Contains("packed by Ansel Ruiz and", leads[0].Says(_setup), StringComparison.Ordinal);
        }
    }

    /// <summary>Sales of 100.00 and 50.00 and 20.00 back, all heron: 1.75 % of 150.00 is 2.625, so 2.63, and three items at 0.08: 2.87 are
    /// kept of 130.00. Friday and two bank days is Tuesday.</summary>
    [Fact]
    public void A_fee_is_a_share_of_sales_and_so_much_an_item()
    {
        var day = Reconcile([], Row("100.00", "1", "1", terminal: "T-2") + Row("50.00", "2", "2", terminal: "T-2")
            + Row("20.00", "3", "3", terminal: "T-2", type: "refund"));
        var funding = Assert.Single(Banking.Funding.Of(Matched(day)));
        Assert.Equal((130_00L, 3, 2_87L, 127_13L), (funding.Gross.Minor, funding.Number, funding.Fee.Minor, funding.Expected.Minor));
        Assert.Equal(new DateOnly(2026, 11, 24), BankDays.After(new(2026, 11, 20), 2));
        Assert.Equal(new DateOnly(2026, 11, 25), BankDays.After(new(2026, 11, 20), 2, _setup with { BankHolidays = [new(2026, 11, 23)] }));

        static Reconciling.Reconciliation Matched(Reconciling.Reconciliation day) =>
            Reconciling.Reconciliation.Of(day.Day with { Setup = day.Day.Setup with { Processors = _setup.Processors } });
    }

    [Fact]
    public void One_line_may_pay_for_a_long_weekend()
    {
        var bank =
            Bank([], [Funding(20, 100_00, 2_00), Funding(21, 50_00, 1_00), Funding(22, 30_00)], Line(177_00, "QUILL 20441 SETTLEMENT"));
        Assert.Equal([20, 21, 22], Assert.Single(bank.Matches.OfType<BankMatch.Funded>()).Fundings.Select(f => f.Day.Date.Day));
        Assert.Empty(bank.End.Fundings);
    }

    /// <summary>98.00 were expected and 96.63 came: off in amount. The bank's number of transactions is no number of cards: it proves
    /// nothing.</summary>
    [Fact]
    public void What_a_processor_pays_otherwise_is_shown_in_amount()
    {
        var cell = Assert.Single(Bank([], [Funding(20, 100_00, 2_00)], Line(96_63, "QUILL 20441")).Cells);
        Assert.Equal((-1_37L, CellState.Off), (cell.Variance!.Value.Minor, cell.State));
        var gathered = Assert.Single(Bank([], [Funding(20, 100_00, 2_00)], Line(98_00, "QUILL 20441", items: 1)).Cells);
        Assert.Equal((0L, CellState.Proved), (gathered.Variance!.Value.Minor, gathered.State));
    }

    private static BankStatement Statement(string id, int from, int to, long opening, params BankLine[] lines) =>
        new(id, "4471", "USD", new(2026, 11, from), new(2026, 11, to), new(opening), new(opening + lines.Sum(l => l.Amount.Minor)),
            [.. lines]);

    [Theory]
    [InlineData("EUR", "4471", 0, 25, 26, "is in EUR")]
    [InlineData("USD", "9", 0, 25, 26, "is of account 9; the store’s account is 4471")]
    [InlineData("USD", "4471", 100, 25, 26, "does not add up")]
    [InlineData("USD", "4471", 0, 23, 26, null)]
    [InlineData("USD", "4471", 0, 26, 25, "before it starts")]
    [InlineData("USD", "4471", 0, 25, 26, null)]
    public void A_statement_is_the_stores_and_adds_up(string currency, string account, long more, int from, int to, string? says)
    {
        var statement = Statement("B", from, to, 105_00, Line(7_00, "y")) with { Currency = currency, Account = account };
        var objection = (statement with { Closing = statement.Closing + new Money(more) }).Objection(["4471"], Currency.Of("USD"))
            ?.Says(Currency.Of("USD"));
        Assert.True(says is null ? objection is null : objection?.Contains(says, StringComparison.Ordinal) == true, objection);
    }

    /// <summary>The published structure (ISO 20022 camt.053.001.02 and .08, element names from memory): Document / BkToCstrmStmt / Stmt
    /// with Acct, Bal of OPBD and CLBD, Ntry with Amt, CdtDbtInd, Sts, BookgDt, NtryDtls.
    /// Pending entries are no bookings; the status of version 08 stands in Cd; the amount may leave its decimals away.</summary>
    [Theory]
    [InlineData("02", "<Sts>BOOK</Sts>", "<Sts>PDNG</Sts>")]
    [InlineData("08", "<Sts><Cd>BOOK</Cd></Sts>", "<Sts><Cd>PDNG</Cd></Sts>")]
    public void A_statement_as_the_standard_writes_it(string version, string booked, string pending)
    {
        var read = CamtFile.Read(new MemoryStream(Encoding.UTF8.GetBytes(Camt(version, booked, pending))), _setup.TimeZone);
        Assert.Null(read.Objection);
        var statement = Assert.Single(read.Statements);
        Assert.Equal(("2026-11", "US00MOSS4471", "USD", new DateOnly(2026, 11, 23), new DateOnly(2026, 11, 24), 100_00L, 112_50L),
            (statement.Id, statement.Account, statement.Currency, statement.From, statement.To, statement.Opening.Minor,
                statement.Closing.Minor));
        Assert.Equal([("REF1", 20_00L, "bag 70401 · cash", (int?)null), ("2026-11/3", -7_50L, "FEES", 12)],
            statement.Lines.Select(l => (l.Key, l.Amount.Minor, l.Text, l.Number)));
        Assert.Null(statement.Objection([], Currency.Of("USD")));
    }

    private static string Camt(string version, string booked, string pending) => $"""
        <Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.{version}"><BkToCstmrStmt><GrpHdr><MsgId>M1</MsgId></GrpHdr>
        <Stmt><Id>2026-11</Id><FrToDt><FrDtTm>2026-11-23T00:00:00</FrDtTm><ToDtTm>2026-11-24T23:59:59</ToDtTm></FrToDt><Acct><Id><IBAN>US00MOSS4471</IBAN></Id></Acct>
        <Bal><Tp><CdOrPrtry><Cd>OPBD</Cd></CdOrPrtry></Tp><Amt Ccy="USD">100</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-23</Dt></Dt></Bal>
        <Bal><Tp><CdOrPrtry><Cd>CLBD</Cd></CdOrPrtry></Tp><Amt Ccy="USD">112.50</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-24</Dt></Dt></Bal>
        <Ntry><Amt Ccy="USD">20.00</Amt><CdtDbtInd>CRDT</CdtDbtInd>{booked}<BookgDt><Dt>2026-11-23</Dt></BookgDt><AcctSvcrRef>REF1</AcctSvcrRef><NtryDtls><TxDtls><RmtInf><Ustrd>bag  70401</Ustrd></RmtInf></TxDtls></NtryDtls><AddtlNtryInf>cash</AddtlNtryInf></Ntry>
        <Ntry><Amt Ccy="USD">9.99</Amt><CdtDbtInd>CRDT</CdtDbtInd>{pending}<BookgDt><Dt>2026-11-24</Dt></BookgDt></Ntry>
        <Ntry><Amt Ccy="USD">7.5</Amt><CdtDbtInd>DBIT</CdtDbtInd>{booked}<BookgDt><DtTm>2026-11-24T08:00:00</DtTm></BookgDt><NtryDtls><Btch><NbOfTxs>12</NbOfTxs></Btch></NtryDtls><AddtlNtryInf>FEES</AddtlNtryInf></Ntry>
        </Stmt></BkToCstmrStmt></Document>
        """;

    [Theory]
    [InlineData("", "well-formed")]
    [InlineData("<a/>", "expected camt.053")]
    [InlineData("<Document xmlns=\"urn:iso:std:iso:20022:tech:xsd:camt.053.001.06\"/>", "version 02 or 08")]
    [InlineData("<!DOCTYPE x [<!ENTITY e \"y\">]><x>&e;</x>", "well-formed")]
    public void What_is_no_statement_is_told(string text, string says) =>
        Assert.Contains(says, CamtFile.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)), _setup.TimeZone).Objection!,
            StringComparison.Ordinal);

    [Theory]
    [InlineData("<Amt Ccy=\"USD\">20.00</Amt>", "<Amt Ccy=\"EUR\">20.00</Amt>", "line 5: the amount is in EUR")]
    [InlineData("<Amt Ccy=\"USD\">20.00</Amt>", "<Amt Ccy=\"USD\">20.005</Amt>", "“20.005” is not an amount of USD")]
    [InlineData("<Dt>2026-11-23</Dt></BookgDt>", "<Dt>2026-13-23</Dt></BookgDt>", "is not a date")]
    [InlineData("<Cd>OPBD</Cd>", "<Cd>XPCD</Cd>", "the opening balance is missing")]
    [InlineData("bag  70401", "card 4000 0000 0000 0002", "full card number")]
    public void A_fault_is_told_with_its_line(string was, string becomes, string says) =>
        Assert.Contains(says, CamtFile.Read(
            new MemoryStream(Encoding.UTF8.GetBytes(Camt("02", "<Sts>BOOK</Sts>", "<Sts>PDNG</Sts>")
                .Replace(was, becomes, StringComparison.Ordinal))), _setup.TimeZone).Objection!, StringComparison.OrdinalIgnoreCase);

    [Fact]
    public void The_same_as_CSV()
    {
        const string head = "statement,account,currency,from,to,opening,closing,booked,amount,reference,text,items\n";
        StatementReading Csv(string rows) =>
            StatementCsv.Read("bank.csv", new MemoryStream(Encoding.UTF8.GetBytes(head + rows)), Currency.Of("USD"));
        var read =
            Csv(
                "S1,4471,USD,2026-11-23,2026-11-24,100.00,112.50,2026-11-23,20.00,REF1,bag "
                    + "70401,\nS1,4471,USD,2026-11-23,2026-11-24,100.00,112.50,2026-11-24,-7.50,,FEES,12\n");
        Assert.Equal([("REF1", 20_00L), ("S1/2", -7_50L)], Assert.Single(read.Statements).Lines.Select(l => (l.Key, l.Amount.Minor)));
        Assert.Contains("expected a date",
            Csv("S1,4471,USD,2026-11-31,2026-11-24,100.00,112.50,2026-11-23,20.00,REF1,bag 70401,\n").Objection!, StringComparison.Ordinal);
        Assert.Contains("as on the rows before",
            Csv(
                "S1,4471,USD,2026-11-23,2026-11-24,100.00,112.50,2026-11-23,20.00,,x,\nS1,4472,USD,2026-11-23,2026-11-24,100.00,112.50,2026-11-24,-7.50,,y,\n").Objection!, StringComparison.Ordinal);
    }
}
