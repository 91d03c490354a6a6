using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Core.Books;
using Fondo.Core.Cells;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §9, the bank: what a line pays, one kind of line that banks really send at a time.</summary>
public sealed class LinesOfTheBank
{
    private static readonly TradingDay _today = new(new(2026, 11, 24));

    private static readonly Setup _setup = Read([]).Day!.Setup with
    {
        Processors = [
            new("cards", "Quill", "QUILL 20441", [TenderId.Credit], 2, true, []),
            new("benefits", "Harvest", "HARVEST 77010", [TenderId.EbtFood], 1, false, [])
        ],
    };

    private static int _next;

    private static Deposit Deposit(int number, long cash, long checks = 0, bool isHandedOver = true) => new(
        number, new(new(2026, 11, 23)), $"7040{number}", [new(new(20_00), (int)(cash / 20_00)), new(new(1), (int)(cash % 20_00))],
        checks == 0 ? [] : [new(new(new(2026, 11, 23)), new("L1-A"), "1042", new(checks), 1)], new("p1"), new("p2"), Evening)
    {
        HandedOver = isHandedOver ? new("Ferry Lane carriers", "", new("p1"), Evening.AddMinutes(5)) : null,
    };

    /// <summary>21:30 in the store is tomorrow in Greenwich.</summary>
    private static DateTimeOffset Evening => new DateTimeOffset(2026, 11, 23, 21, 30, 0, TimeSpan.FromHours(-5)).ToUniversalTime();

    private static Funding Funding(int day, long gross, long fee = 0) => new("cards", new(new(2026, 11, day)),
        [new(TenderId.Credit, new(gross))], 10, new(fee), true, BankDays.After(new(2026, 11, day), 2));

    private static BankLine Line(long amount, string text, int day = 24, string? key = null) =>
        new(key ?? $"R{++_next}", _today, new(2026, 11, day), new(amount), text, null);

    private static BankDay Bank(Deposit[] deposits, Funding[] fundings, BankLine[] lines, Deposit[]? credited = null,
        BankDecision[]? decisions = null, OwedFee[]? fees = null, OpenClaim[]? claims = null, string[]? explained = null) =>
        BankDay.Of(_setup, new([.. deposits.Select(d => new OpenDeposit(d, Money.Zero))], [.. fundings], [.. fees ?? []]), [.. lines], [],
            new HashSet<int>(), [], null, credited, decisions, claims, explained?.ToHashSet());

    /// <summary>Debits and credits of the whole way come to nothing, whatever the lines are.</summary>
    private static void Balances(BankDay bank)
    {
        var overview = Sheets.Overview.Of(Reconcile([]));
        var money = MoneyDay.Of(overview, new(overview, new Dictionary<RegisterId, Count>()), [], MoneyStart.Unknown, CustodyActs.None, [],
            []) with
        { Bank = bank };
        Assert.Equal(Money.Zero, AccountingEntry.Of(overview.Result, [], money).Balance);
    }

    private static string Open(BankDay bank) => string.Join(' ', bank.Open.Select(l => l.Text));

    /// <summary>A person matches the credit as the last of its bag, and the same statement takes it back: the bag is in transit
    /// again.</summary>
    [Fact]
    public void A_credit_that_is_matched_by_hand_and_taken_back_leaves_its_deposit_in_transit()
    {
        var deposit = Deposit(1, 500_00);
        BankDecision Last(string line) =>
            new(Guid.NewGuid(), BankDecisionKind.Last, line, BankTarget.Of(deposit), "as the advice says", new("p1"), Evening);

        var bank = Bank([deposit], [], [Line(500_00, "DEPOSIT 70401", key: "in"), Line(-500_00, "REVERSAL 70401", key: "back")],
            decisions: [Last("in")]);
        Assert.Empty(bank.Open);
        Assert.Equal(Money.Zero, Assert.Single(bank.End.Deposits).Credited);
        Balances(bank);

        var again = Bank([deposit], [], [Line(500_00, "DEPOSIT 70401 AGAIN")]);
        Assert.Empty(again.End.Deposits);
        Balances(again);
    }

    [Fact]
    public void A_bag_that_never_left_the_safe_is_not_paid_by_an_amount_that_happens_to_fit()
    {
        var bank = Bank([Deposit(1, 500_00, isHandedOver: false)], [], [Line(500_00, "TRANSFER")]);
        Assert.Equal("TRANSFER", Open(bank));
        Assert.Single(bank.End.Deposits);
        // Its number names it, whoever carried it.
        Assert.Empty(Bank([Deposit(1, 500_00, isHandedOver: false)], [], [Line(500_00, "DEPOSIT 70401")]).End.Deposits);
    }

    [Theory]
    [InlineData(-3_00, "FEE FOR BAG 70401")]
    [InlineData(-12_00, "COIN HANDLING CHARGES DEPOSIT 1")]
    [InlineData(-58_20, "RETURNED CHECK 1042 BAG 70401")]
    [InlineData(5_00, "FEE REFUND BAG 70401")]
    public void A_fee_or_a_returned_check_that_mentions_a_bag_pays_no_deposit(long amount, string text)
    {
        var bank = Bank([Deposit(1, 500_00, 58_20)], [], [Line(amount, text)]);
        Assert.Equal(text, Open(bank));
        Assert.Equal(558_20, Assert.Single(bank.End.Deposits).Outstanding.Minor);
        Balances(bank);
    }

    [Theory]
    [InlineData(-34_87, "QUILL 20441 CHARGEBACK")]
    [InlineData(34_87, "QUILL 20441 CHARGEBACK REVERSED")]
    [InlineData(-98_00, "QUILL 20441 DISPUTE")]
    public void A_dispute_pays_no_funding(long amount, string text)
    {
        var bank = Bank([], [Funding(20, 100_00, 2_00)], [Line(amount, text)]);
        Assert.Equal(text, Open(bank));
        Assert.Single(bank.End.Fundings);
    }

    [Fact]
    public void Two_lines_pay_one_day()
    {
        var bank =
            Bank([], [Funding(20, 100_00, 2_00), Funding(23, 70_00)], [Line(60_00, "QUILL 20441 HERON"), Line(38_00, "QUILL 20441 OTHER")]);
        Assert.Equal(CellState.Proved, Assert.Single(bank.Cells).State);
        Assert.Equal(70_00, Assert.Single(bank.End.Fundings).Gross.Minor);
        Balances(bank);
    }

    /// <summary>60.00 of 98.00 come today, 38.00 tomorrow: what remains is on its way under the same item, and nothing is off.</summary>
    [Fact]
    public void Parts_of_a_funding_on_two_days()
    {
        var first = Bank([], [Funding(20, 100_00, 2_00)], [Line(60_00, "QUILL 20441 SETTLEMENT")]);
        Assert.Empty(first.Cells);
        Assert.Equal((40_00L, 38_00L), (Assert.Single(first.End.Fundings).Gross.Minor, first.End.Fundings[0].Expected.Minor));
        Balances(first);
        var second = BankDay.Of(_setup, first.End, [Line(38_00, "QUILL 20441 SETTLEMENT", 25)], [], new HashSet<int>(), []);
        Assert.Equal(CellState.Proved, Assert.Single(second.Cells).State);
        Assert.Empty(second.End.Fundings);
        Balances(second);
    }

    [Fact]
    public void Parts_of_a_deposit_on_two_days()
    {
        var first = Bank([Deposit(1, 2_000_00)], [], [Line(1_200_00, "BAG 70401 PART 1")]);
        Assert.Equal(800_00, Assert.Single(first.End.Deposits).Outstanding.Minor);
        var second = BankDay.Of(_setup, first.End, [Line(780_00, "BAG 70401 PART 2", 25)], [], new HashSet<int>(), []);
        Assert.Equal(-20_00, Assert.Single(second.Cells).Variance!.Value.Minor);
        Assert.Empty(second.End.Deposits);
    }

    [Fact]
    public void One_line_for_two_bags_is_two_credits()
    {
        var line = Line(1_500_00, "CASH DEPOSITS") with { Details = [new(new(1_000_00), "BAG 70401"), new(new(500_00), "BAG 70402")] };
        var bank = Bank([Deposit(1, 1_000_00), Deposit(2, 500_00)], [], [line]);
        Assert.Empty(bank.End.Deposits);
        Assert.All(bank.Cells, c => Assert.Equal(CellState.Proved, c.State));
        Assert.Equal(1_500_00, bank.Lines.Sum(l => l.Amount.Minor));
        Balances(bank);
        // Details that name one bag only, or do not add up, leave the line whole.
        Assert.Single(Bank([Deposit(1, 1_000_00)], [],
            [line with { Details = [new(new(1_000_00), "BAG 70401"), new(new(400_00), "BAG 70402")] }]).Lines);
    }

    /// <summary>Sealed at 21:30 and credited the same evening: in Greenwich it was sealed tomorrow.</summary>
    [Fact]
    public void The_evenings_credit_is_not_before_its_deposit() =>
        Assert.Empty(Bank([Deposit(1, 500_00)], [], [Line(500_00, "NIGHT DEPOSIT", 23)]).End.Deposits);

    [Fact]
    public void A_credit_that_is_taken_back_puts_its_deposit_on_its_way_again()
    {
        var bank = Bank([], [], [Line(-500_00, "REVERSAL BAG 70401")], credited: [Deposit(1, 500_00)]);
        Assert.Empty(bank.Open);
        Assert.Equal(500_00, Assert.Single(bank.End.Deposits).Outstanding.Minor);
        Balances(bank);
        // Where the bank says so, its amount is enough; a correction of one piece takes nothing back.
        Assert.Single(Bank([], [], [Line(-500_00, "STORNO") with { IsReversal = true }], credited: [Deposit(1, 500_00)]).End.Deposits);
        Assert.Empty(Bank([], [], [Line(-20_00, "CORRECTION BAG 70401")], credited: [Deposit(1, 500_00)]).End.Deposits);
        // Rules §9: taken back and credited again on one statement, though the first credit was on a day that is closed.
        var again = Bank([], [], [Line(-500_00, "REVERSAL BAG 70401"), Line(500_00, "BAG 70401 AGAIN")], credited: [Deposit(1, 500_00)]);
        Assert.Empty(again.Open);
        Assert.Empty(again.End.Deposits);
        Assert.Equal(CellState.Proved, Assert.Single(again.Cells).State);
        var half = Bank([], [], [Line(-500_00, "REVERSAL BAG 70401"), Line(200_00, "BAG 70401 AGAIN")], credited: [Deposit(1, 500_00)]);
        Assert.Equal(new Money(300_00), Assert.Single(half.End.Deposits).Outstanding);
        // Credited, taken back and credited again on one statement.
        var all =
            Bank([Deposit(1, 500_00)], [], [Line(500_00, "BAG 70401"), Line(-500_00, "REVERSAL BAG 70401"), Line(500_00, "BAG 70401")]);
        Assert.Equal(CellState.Proved, Assert.Single(all.Cells).State);
        Assert.Empty(all.Open);
    }

    private static OpenClaim Claim(long amount, ClaimParty party, AwaitedProof? awaits = null) =>
        new(Guid.NewGuid(), new(new(2026, 11, 23)), new(amount), amount > 0, party, new("p1"), Evening, "a note short in the strap")
        {
            Awaits = awaits
        };

    /// <summary>Rules §9: to an open claim or carried item, after deposits and fundings.</summary>
    [Theory]
    [InlineData(20_00, ClaimParty.Bank, null, "TRANSFER", true)]
    [InlineData(-20_00, ClaimParty.Bank, null, "TRANSFER OUT", true)]
    [InlineData(20_00, ClaimParty.Processor, null, "QUILL 20441 ADJUSTMENT", true)]
    [InlineData(20_00, ClaimParty.Bank, null, "QUILL 20441 ADJUSTMENT", false)]
    [InlineData(-20_00, ClaimParty.Bank, null, "ACCOUNT FEE", false)]
    [InlineData(-20_00, ClaimParty.Processor, null, "QUILL 20441 CHARGEBACK", false)]
    [InlineData(20_00, ClaimParty.Bank, AwaitedProof.BankLine, "TRANSFER", true)]
    [InlineData(20_00, ClaimParty.Bank, AwaitedProof.LaterBatch, "TRANSFER", false)]
    public void A_line_pays_an_open_claim_of_exactly_its_amount(long amount, ClaimParty party, AwaitedProof? awaits, string text,
        bool isPaid)
    {
        var bank = Bank([], [], [Line(amount, text)], claims: [Claim(amount, party, awaits)]);
        Assert.Equal(isPaid, bank.Matches is [BankMatch.Claimed]);
        Assert.Equal(!isPaid, bank.Open.Length == 1);
        Balances(bank);
    }

    [Fact]
    public void A_claim_comes_after_a_deposit_and_a_line_that_an_entry_explains_stays_with_it()
    {
        Assert.IsType<BankMatch.WholeDeposit>(Assert.Single(Bank([Deposit(1, 500_00)], [], [Line(500_00, "TRANSFER")],
            claims: [Claim(500_00, ClaimParty.Bank)]).Matches));
        Assert.Empty(Bank([], [], [Line(20_00, "TRANSFER", key: "R-own")], claims: [Claim(20_00, ClaimParty.Bank)],
            explained: ["R-own"]).Matches);
        Assert.Single(Bank([], [], [Line(20_00, "A"), Line(20_00, "B")], claims: [Claim(20_00, ClaimParty.Bank)]).Open);
    }

    /// <summary>By hand in part: the rest of the claim stays open; the books of the day are in balance.</summary>
    [Fact]
    public void What_a_line_pays_of_a_claim_is_off_the_list_and_off_its_account()
    {
        var (claim, line) = (Claim(30_00, ClaimParty.Customer), Line(20_00, "TRANSFER", key: "R-part"));
        BankDecision match =
            new(Guid.NewGuid(), BankDecisionKind.Match, "R-part", BankTarget.Of(claim), "their letter", new("p1"), Evening);
        var overview = Sheets.Overview.Of(Reconcile([]));
        MoneyDay Of(params BankDecision[] decisions) => MoneyDay.Of(
            overview, new(overview, new Dictionary<RegisterId, Count>()), [], MoneyStart.Unknown with { Claims = [claim] },
            CustodyActs.None, [line], [], null, decisions);
        Assert.Equal(30_00, Assert.Single(Of().Claims).Amount.Minor);
        var paid = Of(match);
        Assert.Equal(10_00, Assert.Single(paid.Claims).Amount.Minor);
        var sums = AccountingEntry.Of(overview.Result, [], paid).Sums;
        Assert.Equal(["Assets:Bank 2000", "Assets:Claims -2000"], sums.Select(s => $"{s.Account} {s.Amount.Minor}"));
    }

    /// <summary>Two bags of one amount: the line names the second.</summary>
    [Fact]
    public void What_is_taken_back_is_the_deposit_that_the_line_names()
    {
        var credited = new[] { Deposit(1, 400_00), Deposit(3, 400_00) };
        var bank = Bank([], [], [Line(-400_00, "REVERSAL 70403") with { IsReversal = true }], credited);
        Assert.Equal(3, Assert.Single(bank.End.Deposits).Deposit.Number);
        Balances(bank);
    }

    [Fact]
    public void A_debit_is_matched_by_hand_to_the_deposit_that_it_takes_back()
    {
        var (credited, line) = (Deposit(1, 400_00), Line(-390_00, "CORRECTION", key: "R-back"));
        Assert.Equal("CORRECTION", Open(Bank([], [], [line], [credited])));
        Assert.Contains(BankTarget.Of(credited), Bank([], [], [line], [credited]).Targets(line, []));
        Assert.DoesNotContain(BankTarget.Of(credited), Bank([], [], [line], [credited]).Targets(Line(390_00, "CREDIT"), []));
        var bank = Bank([], [], [line], [credited],
            [new(Guid.NewGuid(), BankDecisionKind.Match, "R-back", BankTarget.Of(credited), "the bank’s letter", new("p1"), Evening)]);
        Assert.Equal(390_00, Assert.Single(bank.End.Deposits).Outstanding.Minor);
        Balances(bank);
    }

    [Fact]
    public void A_line_without_details_that_names_two_bags_and_comes_to_both_pays_both()
    {
        var bank = Bank([Deposit(1, 400_00), Deposit(2, 60_00)], [], [Line(460_00, "DEPOSITS 70401 70402")]);
        Assert.Empty(bank.End.Deposits);
        Assert.Empty(bank.Open);
        Balances(bank);
        Assert.Single(Bank([Deposit(1, 400_00), Deposit(2, 60_00)], [], [Line(470_00, "DEPOSITS 70401 70402")]).Lines);
    }

    /// <summary>From one account of the store to another: a line on each, and nothing in the books but the two accounts.</summary>
    [Theory]
    [InlineData("4471", "9902", 25, true)]
    [InlineData("4471", "9902", 29, false)]
    [InlineData("4471", "4471", 25, false)]
    public void A_transfer_is_a_line_on_each_account(string from, string to, int arrives, bool isFound)
    {
        var bank = Bank([], [], [
            Line(-500_00, "TO SAVINGS") with { Account = from },
            Line(500_00, "FROM CURRENT", arrives) with { Account = to }
        ]);
        Assert.Equal(isFound, bank.Open.IsEmpty);
        Assert.Equal(isFound, bank.Matches is [BankMatch.Transfer]);
        Balances(bank);
    }

    [Fact]
    public void A_credit_far_above_a_named_deposit_is_something_else()
    {
        var bank = Bank([Deposit(1, 500_00)], [], [Line(5_000_00, "BAG 70401")]);
        Assert.Equal("BAG 70401", Open(bank));
        Assert.Single(bank.End.Deposits);
    }

    /// <summary>A month's bill is less than all that is owed by now: a line that says it is a fee takes so much of it.</summary>
    [Fact]
    public void A_bill_takes_what_it_says_of_the_fees_that_are_owed()
    {
        var bank = Bank([], [], [Line(-41_20, "HARVEST 77010 FEES NOVEMBER")], fees: [new("benefits", new(63_90))]);
        Assert.Empty(bank.Open);
        Assert.Equal(22_70, Assert.Single(bank.End.Fees).Amount.Minor);
        Balances(bank);
        Assert.Single(Bank([], [], [Line(-41_20, "HARVEST 77010 ADJUSTMENT")], fees: [new("benefits", new(63_90))]).Open);
        Assert.Single(Bank([], [], [Line(-99_20, "HARVEST 77010 FEES")], fees: [new("benefits", new(63_90))]).Open);
    }

    private static BankDecision Decide(BankDecisionKind kind, string line, BankTarget? target = null) =>
        new(Guid.NewGuid(), kind, line, target, "the bank says so", new("p1"), Evening);

    [Fact]
    public void What_a_person_decides_no_rule_overrides()
    {
        var (deposit, other, funding) = (Deposit(1, 500_00), Deposit(2, 500_00), Funding(20, 100_00));
        BankLine[] lines = [Line(500_00, "DEPOSIT", key: "A")];
        Assert.Equal("1", Assert.Single(Bank([deposit, other], [funding], lines).Matches
            .OfType<BankMatch.WholeDeposit>()).Open.Deposit.Name);
        var matched = Bank([deposit, other], [funding], lines, decisions: [Decide(BankDecisionKind.Match, "A", BankTarget.Of(other))]);
        Assert.Equal(2, Assert.Single(matched.Matches.OfType<BankMatch.WholeDeposit>()).Open.Deposit.Number);
        // Parted it pays nothing; released the rules decide again; the last word counts.
        Assert.Equal("DEPOSIT", Open(Bank([deposit, other], [funding], lines,
            decisions: [Decide(BankDecisionKind.Match, "A", BankTarget.Of(other)), Decide(BankDecisionKind.Part, "A")])));
        Assert.Empty(Bank([deposit, other], [funding], lines,
            decisions: [Decide(BankDecisionKind.Part, "A"), Decide(BankDecisionKind.Release, "A")]).Open);
        // A part of a funding by hand; two lines to one.
        var part = Bank([], [funding], [Line(30_00, "TRANSFER", key: "B")],
            decisions: [Decide(BankDecisionKind.Match, "B", BankTarget.Of(funding))]);
        Assert.Equal(70_00, Assert.Single(part.End.Fundings).Expected.Minor);
        Balances(part);
        var both = Bank([], [funding], [Line(30_00, "TRANSFER", key: "B"), Line(70_00, "TRANSFER", key: "C")],
            decisions: [
                Decide(BankDecisionKind.Match, "B", BankTarget.Of(funding)),
                Decide(BankDecisionKind.Match, "C", BankTarget.Of(funding))
            ]);
        Assert.Empty(both.End.Fundings);
        // What it was matched to is closed: the line is open, and says so.
        Assert.Equal("DEPOSIT", Open(Bank([deposit], [], lines,
            decisions: [Decide(BankDecisionKind.Match, "A", new(BankTargetKind.Deposit, "9"))])));
    }

    /// <summary>A bag that never comes, the rest of one, and what a processor never pays: a person stops waiting, and what is missing is a
    /// difference.</summary>
    [Fact]
    public void What_nobody_waits_for_any_more_is_a_difference()
    {
        var (bag, half, funding) = (Deposit(1, 500_00), Deposit(2, 300_00), Funding(20, 100_00, fee: 3_00));
        BankDecision[] stop = [.. new[] { BankTarget.Of(bag), BankTarget.Of(half), BankTarget.Of(funding) }
            .Select(t => Decide(BankDecisionKind.NothingMore, "", t))];
        var bank = Bank([bag, half], [funding], [Line(200_00, "PART 70402")], decisions: stop);
        Assert.Equal((0, 0), (bank.End.Deposits.Length, bank.End.Fundings.Length));
        Assert.Equal([-500_00, -100_00, -97_00], bank.Cells.Select(c => c.Variance!.Value.Minor).Order());
        Balances(bank);
        Assert.False(bank.IsOnItsWay(BankTarget.Of(bag)));
        Assert.Equal(new CellKey.Deposit(1), bank.CellOf(BankTarget.Of(bag)));

        // The last word counts; nothing that a line pays in full is touched by it.
        var again = Bank([bag], [], [], decisions: [stop[0], Decide(BankDecisionKind.ExpectAgain, "", BankTarget.Of(bag))]);
        Assert.Equal(500_00, Assert.Single(again.End.Deposits).Outstanding.Minor);
        Assert.True(again.IsOnItsWay(BankTarget.Of(bag)));
        Assert.Equal(Money.Zero, Assert.Single(Bank([bag], [], [Line(500_00, "BAG 70401")], decisions: stop).Cells).Variance);
    }

    [Theory]
    [InlineData("deposit:5")]
    [InlineData("funding:cards 2026-11-20")]
    [InlineData("change-order:2")]
    public void A_target_reads_as_it_is_written(string text) => Assert.Equal(text, BankTarget.Parse(text)!.Value.ToString());

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("deposit")]
    [InlineData("deposit:")]
    [InlineData("moon:1")]
    public void What_is_no_target_is_none(string? text) => Assert.Null(BankTarget.Parse(text));

    /// <summary>The order in which lines come means nothing, and money is neither made nor lost: what was on its way, less what was booked
    /// to it, is on its way.</summary>
    [Fact]
    public void Lines_in_any_order_say_the_same_and_nothing_is_lost()
    {
        var random = new Random(27);
        for (var round = 0; round < 300; round++)
        {
            var deposits = Enumerable.Range(1, random.Next(1, 5))
                .Select(n => Deposit(n, random.Next(1, 40) * 20_00, random.Next(2) * 58_20, random.Next(4) > 0)).ToArray();
            var fundings = Enumerable.Range(18, random.Next(1, 5)).Select(d => Funding(d, random.Next(50_00, 900_00), random.Next(0, 300)))
                .ToArray();
            var lines = deposits.SelectMany(d => Credits(d, random)).Concat(fundings.SelectMany(f => Payments(f, random)))
                .Concat(Others(random)).ToArray();
            var bank = Bank(deposits, fundings, lines);
            var turned = Bank(deposits, fundings, [.. lines.OrderBy(_ => random.Next())]);
            Assert.Equal(Say(bank), Say(turned));
            Assert.Equal(lines.Sum(l => l.Amount.Minor), bank.Matches.Sum(m => m.Booked.Minor) + bank.Open.Sum(l => l.Amount.Minor));
            Assert.Equal(
                deposits.Sum(d => d.Amount.Minor) + fundings.Sum(f => f.Expected.Minor),
                bank.Matches.Where(m => m is not (BankMatch.Fees or BankMatch.Change))
                    .Sum(m => m.Booked.Minor) - bank.Cells.Where(c => c.Key is not CellKey.BankLine).Sum(c => c.Variance!.Value.Minor)
                    + bank.End.Deposits.Sum(d => d.Outstanding.Minor) + bank.End.Fundings.Sum(f => f.Expected.Minor));
            Balances(bank);
        }

        static string Say(BankDay bank) => string.Join('\n',
            bank.Matches.Select(m => $"{m.GetType().Name} {string.Join(' ', m.Lines.Select(l => l.Key).Order(StringComparer.Ordinal))}")
                .Order(StringComparer.Ordinal).Append(string.Join(' ', bank.Open.Select(l => l.Key))));
    }

    private static IEnumerable<BankLine> Credits(Deposit deposit, Random random) => random.Next(7) switch
    {
        0 => [],
        1 => [Line(deposit.Amount.Minor, "COUNTER")],
        2 => [Line(deposit.Cash.Minor, $"CASH {deposit.Bag}"), Line(deposit.CheckAmount.Minor + 1, $"CHECKS {deposit.Bag}")],
        3 => [Line(deposit.Amount.Minor - 20_00, $"BAG {deposit.Bag}")],
        4 => [Line(deposit.Amount.Minor, $"BAG {deposit.Bag}"), Line(-20_00, $"CORRECTION BAG {deposit.Bag}")],
        5 => [Line((deposit.Amount.Minor / 3) + 1, $"BAG {deposit.Bag}")],
        _ => [Line(deposit.Amount.Minor, $"DEPOSIT {deposit.Number}")],
    };

    private static IEnumerable<BankLine> Payments(Funding funding, Random random) => random.Next(5) switch
    {
        0 => [],
        1 => [
            Line(funding.Expected.Minor / 2, "QUILL 20441 A"),
            Line(funding.Expected.Minor - (funding.Expected.Minor / 2), "QUILL 20441 B")
        ],
        2 => [Line(funding.Gross.Minor, "QUILL 20441")],
        3 => [Line((funding.Expected.Minor / 4) + 1, "QUILL 20441 PART")],
        _ => [Line(funding.Expected.Minor, "QUILL 20441 SETTLEMENT")],
    };

    private static IEnumerable<BankLine> Others(Random random) =>
        from n in Enumerable.Range(0, random.Next(4))
        select Line(random.Next(-300_00, 300_00),
            random.Next(4) switch { 0 => "QUILL 20441 CHARGEBACK", 1 => "ACCOUNT FEE", 2 => "BAG 70401 FEE", _ => "TRANSFER" });
}
