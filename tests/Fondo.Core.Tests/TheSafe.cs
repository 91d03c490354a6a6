using System.Collections.Immutable;
using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Core.Books;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Custody;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §9: the safe is opening + drops + returned floats − loans − issued floats − deposit = counted.</summary>
public sealed class TheSafe
{
    private static Money None => Money.Zero;

    private static readonly CustodyStart _evening = new(new Money(640_00), [], []);

    private static string Open(string amount) => Event("open", $"\"amount\":\"{amount}\"", "08:00");

    private static string Drop(string bag, string amount) => Event("drop", $"\"bag\":\"{bag}\",\"amount\":\"{amount}\"", "12:00");

    private static string Bag(string bag, string cash) =>
        $$"""{"id":"b-{{bag}}","kind":"drop","bag":"{{bag}}","by":"p1","at":"{{At("13:00")}}","cash":{ {{cash}} } }""";

    private static string Safe(string cash, string at = "22:00") =>
        $$"""{"id":"s-{{at}}","kind":"safe","by":"p1","witness":"p2","at":"{{At(at)}}","cash":{ {{cash}} } }""";

    private static Count LeftLastNight(long pieces) => new("y", CountKind.Kept, new("L1-Z"), null, new("p9"), null,
        new DateTimeOffset(2026, 11, 20, 21, 0, 0, TimeSpan.FromHours(-5)), 1, [new(new(20_00), (int)pieces)], [], []);

    private static MoneyDay MoneyOf(Reconciliation day, CustodyStart? start = null, Entry[]? entries = null, CustodyActs? acts = null,
        Count? left = null)
    {
        var overview = Overview.Of(day);
        return MoneyDay.Of(
            overview, new FloatsBefore(overview, left is null ? new Dictionary<RegisterId, Count>() : new() { [new("L1")] = left }),
            entries ?? [], new(start ?? _evening, BankStart.Nothing), acts ?? CustodyActs.None, [], []);
    }

    private static Cell CellOf(MoneyDay money, CellKey key) => money.Cells.Single(c => c.Key == key);

    private static Entry Entry(EntryKind kind, EntryDetail? detail, params (CellKey Cell, long Amount)[] postings) =>
        new(Guid.NewGuid(), kind, [.. postings.Select(p => new Posting(p.Cell, new(p.Amount)))], "why", new("p1"),
            new(2026, 11, 21, 22, 0, 0, TimeSpan.FromHours(-5)), [], null, false, null)
        { Detail = detail };

    /// <summary>640.00 lay there; a bag of 300.00 was opened, a loan of 100.00 given; a drawer of 500.00 came in and left its float of
    /// 200.00; 400.00 went: 640 + 300 − 100 + 500 − 200 − 400 = 740.00.</summary>
    [Fact]
    public void Everything_that_moves_it_adds_up_to_what_is_counted()
    {
        var day = Reconcile([
            Open("200.00"),
            Drop("B-1", "300.00"),
            Event("loan", "\"amount\":\"100.00\"", "11:00"),
            Ticket("500.00", """{"type":"cash","amount":"500.00"}"""),
            Event("close", "", "20:00")
        ],
            counts: $"{Bag("B-1", "\"20.00\":15")},{Counted("\"20.00\":25")},{Safe("\"20.00\":37")}");
        var sealed_ = new Deposit(1, new(new(2026, 11, 21)), "70401", [new(new(20_00), 20)], [], new("p1"), new("p2"),
            new(2026, 11, 21, 21, 30, 0, TimeSpan.FromHours(-5)));
        var money = MoneyOf(day, acts: new([], [sealed_]), left: LeftLastNight(10));
        Assert.Equal((740_00L, 740_00L, CellState.Proved),
            (CellOf(money, new CellKey.Safe()).Expected.Minor, CellOf(money, new CellKey.Safe()).Proof!.Value.Minor,
                CellOf(money, new CellKey.Safe()).State));
        Assert.Equal(740_00, money.Custody.End.Loose!.Value.Minor);
        Assert.Equal([("L1", 200_00L)], money.Custody.Floats.Select(f => (f.Register.Value, f.Amount.Minor)));
        // What leaves after it was counted is taken off what was counted.
        var later = MoneyOf(day, acts: new([], [sealed_ with { At = sealed_.At.AddHours(1) }]), left: LeftLastNight(10));
        Assert.Equal((1_140_00L, 340_00L), (CellOf(later, new CellKey.Safe()).Expected.Minor, later.Custody.End.Loose!.Value.Minor));
        Assert.Equal([(20_00L, 17)], later.Custody.End.Pieces.Select(p => (p.Denomination.Minor, p.Number)));
    }

    [Fact]
    public void What_lay_there_before_anything_was_known_is_what_the_first_count_says()
    {
        var first = MoneyOf(Reconcile([], counts: Safe("\"20.00\":32")), CustodyStart.Unknown);
        Assert.DoesNotContain(first.Cells, c => c.Key == new CellKey.Safe());
        Assert.Equal((640_00L, 640_00L), (first.Custody.FoundInSafe.Minor, first.Custody.End.Loose!.Value.Minor));
    }

    /// <summary>Recorded with 600.00 it holds 580.00, and its drawer is over 20.00: the entry that says so makes both right.</summary>
    [Fact]
    public void A_bag_that_holds_otherwise_is_right_once_its_drawer_is()
    {
        var day = Reconcile([
            Open("200.00"),
            Drop("B-1", "600.00"),
            Ticket("700.00", """{"type":"cash","amount":"700.00"}"""),
            Event("close", "", "20:00")
        ], counts: $"{Bag("B-1", "\"20.00\":29")},{Counted("\"20.00\":16")}");
        var (bag, drawer) = (new CellKey.Bag("B-1"), new CellKey.Takings(new("L1"), new("L1-A"), TenderId.Cash));
        var money = MoneyOf(day);
        Assert.Equal((-20_00L, CellState.Off), (CellOf(money, bag).Variance!.Value.Minor, CellOf(money, bag).State));
        var cells = day.Cells.Concat(money.Cells).ToDictionary(c => c.Key, c => Bridge.Of(c, [], None));
        var lead = Assert.Single(money.Leads(Overview.Of(day), cells), l => l.Cell == bag && l.Kind == LeadKind.DropDiffers);
        var proposal = lead.Proposal(day, new("p1"), "as it says");
        Assert.Equal((drawer, 20_00L), (proposal.Postings[0].Cell, proposal.Postings[0].Amount.Minor));
        var entry = Entry(proposal.Kind, proposal.Detail, (drawer, 20_00));
        Assert.Equal(CellState.Proved, CellOf(MoneyOf(day, entries: [entry]), bag).State);
        Assert.Equal(None, AccountingEntry.Of(day, [entry], MoneyOf(day, entries: [entry])).Balance);
    }

    /// <summary>A bag that nobody recorded; the drop is recorded by hand, with its bag or without.</summary>
    [Theory]
    [InlineData("B-7")]
    [InlineData(null)]
    public void A_drop_recorded_by_hand_is_that_of_the_bag_that_it_makes_right(string? named)
    {
        var day = Reconcile([Open("200.00"), Ticket("500.00", """{"type":"cash","amount":"500.00"}"""), Event("close", "", "20:00")],
            counts: $"{Bag("B-7", "\"20.00\":15")},{Counted("\"20.00\":20")}");
        var entry =
            Entry(EntryKind.Record, new EntryDetail.Moved(MovementKind.Drop, named),
                (new CellKey.Takings(new("L1"), new("L1-A"), TenderId.Cash), -300_00));
        var money = MoneyOf(day, entries: [entry]);
        Assert.Equal((300_00L, CellState.Proved),
            (CellOf(money, new CellKey.Bag("B-7")).Expected.Minor, CellOf(money, new CellKey.Bag("B-7")).State));
        Assert.DoesNotContain(money.Custody.Lines, l => l.Kind == SafeLineKind.Entry);
    }

    /// <summary>200.00 was left, 150.00 was declared; the drawer is over 50.00 in the evening: one reclassification.</summary>
    [Fact]
    public void A_float_that_differs_is_a_cell_from_the_morning_on()
    {
        var day = Reconcile([Open("150.00"), Ticket("100.00", """{"type":"cash","amount":"100.00"}"""), Event("close", "", "20:00")],
            counts: Counted("\"20.00\":15"));
        var money = MoneyOf(day, left: LeftLastNight(10));
        var key = new CellKey.Float(new("L1"), new("L1-A"));
        Assert.Equal((200_00L, 150_00L, CellState.Off),
            (CellOf(money, key).Expected.Minor, CellOf(money, key).Proof!.Value.Minor, CellOf(money, key).State));
        var cells = day.Cells.Concat(money.Cells).ToDictionary(c => c.Key, c => Bridge.Of(c, [], None));
        var lead = Assert.Single(money.Leads(Overview.Of(day), cells), l => l.Cell == key);
        var proposal = lead.Proposal(day, new("p1"), "as it says");
        Assert.Equal((EntryKind.Reclassify, 0L), (proposal.Kind, proposal.Postings.Sum(p => p.Amount).Minor));
        // Nobody left anything: there is nothing that it could differ from.
        Assert.DoesNotContain(MoneyOf(day).Cells, c => c.Key == key);
    }

    [Fact]
    public void Checks_lie_in_the_safe_until_they_go_and_come_back_with_a_bag_that_is_opened_again()
    {
        var day = Reconcile([
            Open("200.00"),
            Ticket("58.20", """{"type":"check","amount":"58.20","number":"1042"}"""),
            Event("close", "", "20:00")
        ], counts: Counted("\"20.00\":10", more: ",\"checks\":[{\"number\":\"1042\",\"amount\":\"58.20\"}]"));
        var check = Assert.Single(MoneyOf(day).Custody.End.Checks);
        var deposit = new Deposit(1, new(new(2026, 11, 21)), "1", [], [check], new("p1"), new("p2"),
            new(2026, 11, 21, 22, 0, 0, TimeSpan.FromHours(-5)));
        Assert.Empty(MoneyOf(day, acts: new([], [deposit])).Custody.End.Checks);
        var next = MoneyOf(Reconcile([]),
            acts: new([], [deposit with
            {
                Day = new(new(2026, 11, 20)),
                Unsealed = new(new(new(2026, 11, 21)), "a slip was forgotten", new("p1"), deposit.At.AddDays(1))
            }]));
        Assert.Equal(58_20, Assert.Single(next.Custody.End.Checks).Amount.Minor);
    }

    /// <summary>9 twenties, 30 tens and some coin; 200.00 stay, in what a float of 200.00 is made of as far as there is of it.</summary>
    [Fact]
    public void A_deposit_leaves_change_and_takes_the_rest()
    {
        ImmutableArray<Pieces> there =
            [new(new(20_00), 9), new(new(10_00), 30), new(new(25), 80), new(new(10), 100), new(new(5), 120), new(new(1), 400)];
        var goes = DepositProposal.Of(there, new(200_00), Denominations.Of(Currency.Of("USD")));
        Assert.Equal(there.Sum(p => p.Worth) - new Money(200_00), goes.Sum(p => p.Worth));
        Assert.DoesNotContain(goes, p => p.Denomination.Minor < 1_00);
        Assert.Equal([("100.00", 1, 17), ("0.25", 1, 5)],
            SlipRow.Of([new(new(25), 45), new(new(100_00), 117)], Denominations.Of(Currency.Of("USD")))
                .Select(r => (Currency.Of("USD").Format(r.Denomination), r.Packs, r.Loose)));
    }

    /// <summary>Two floats for two days want 160 quarters; 85 are there: 75 are missing, two rolls of 40.</summary>
    [Fact]
    public void Change_is_bought_in_whole_rolls_and_straps()
    {
        ImmutableArray<Denomination> kinds = [new(new(25), false, 40, Kept: 40), new(new(5_00), true, 100, Kept: 8)];
        var line = Assert.Single(ChangeOrder.Of([new(new(25), 85), new(new(5_00), 32)], 4, kinds));
        Assert.Equal((25L, 160, 85, 2, 20_00L), (line.Denomination.Minor, line.Wanted, line.There, line.Packs, line.Worth.Minor));
    }

    /// <summary>Rules §9: on the first day the opening amount is what the safe holds before any float; every session's float goes out of
    /// it, also the second of a register. 1,000.00 − 200.00 − 200.00 = 600.00.</summary>
    [Fact]
    public void On_the_first_day_every_float_goes_out_of_the_opening_amount()
    {
        var day = Reconcile([
            Open("200.00"),
            Open("200.00").Replace("L1-A", "L1-B", StringComparison.Ordinal).Replace("T08:00", "T14:00", StringComparison.Ordinal)
        ]);
        var opening = new SafeMovement(Guid.NewGuid(), new(new(2026, 11, 21)), SafeMovementKind.Opening, new(1_000_00), "counted",
            new("p1"), DateTimeOffset.Parse(At("07:00"), System.Globalization.CultureInfo.InvariantCulture));
        var money = MoneyOf(day, CustodyStart.Unknown, acts: new([opening], []));
        Assert.Equal(600_00, money.Custody.Expected!.Value.Minor);
        Assert.Equal(["Assets:Cash to deposit 1000.00", "Equity:Opening balances -1000.00"],
            AccountingEntry.Of(day, [], money).Sums.Select(s => $"{s.Account} {Currency.Of("USD").Format(s.Amount)}"));
        // What a deposit leaves: the opening amount less what lies in the drawers, and never less than the floats that are missing there.
        Assert.Equal(1_000_00, money.Custody.Stays(day.Day.Setup).Minor);
        Assert.Equal(400_00, (money.Custody with { Start = new(new Money(50_00), [], []), Floats = [] }).Stays(day.Day.Setup).Minor);
    }

    /// <summary>Rules §9: a float that a person writes down as taken out of the safe is what its session should begin with.</summary>
    [Fact]
    public void A_float_out_of_the_safe_is_what_its_session_begins_with()
    {
        var issued = new SafeMovement(Guid.NewGuid(), new(new(2026, 11, 21)), SafeMovementKind.FloatIssued, new(200_00), "morning",
            new("p1"), DateTimeOffset.Parse(At("07:55"), System.Globalization.CultureInfo.InvariantCulture))
        { Register = new("L1") };
        var money = MoneyOf(Reconcile([Open("180.00")]), acts: new([issued], []));
        Assert.Equal(440_00, money.Custody.Expected!.Value.Minor);
        Assert.Equal(-20_00, CellOf(money, new CellKey.Float(new("L1"), new("L1-A"))).Variance!.Value.Minor);
    }

    /// <summary>Rules §9: ordered (nothing moves), paid (on its way), delivered (in the safe), closed. 500.00 ordered and paid, 480.00
    /// came, 20.00 never did.</summary>
    [Fact]
    public void A_change_order_is_followed_to_its_end()
    {
        TradingDay today = new(new(2026, 11, 21));
        var at = DateTimeOffset.Parse(At("10:00"), System.Globalization.CultureInfo.InvariantCulture);
        var order = new OpenOrder(1, today, [new(new(1_00), 500)], Money.Zero, Money.Zero, new("p1"));
        SafeMovement Step(SafeMovementKind kind, long amount) =>
            new(Guid.NewGuid(), today, kind, new(amount), "order 1", new("p1"), at) { Order = 1 };
        (Money Loose, Money? OnItsWay, string Books) After(params SafeMovement[] steps)
        {
            var money = MoneyOf(Reconcile([]), acts: new CustodyActs([.. steps], []) { Orders = [order] });
            var sums = AccountingEntry.Of(Reconcile([]), [], money).Sums.GroupBy(s => s.Account)
                .Select(g => (g.Key, Amount: g.Sum(s => s.Amount))).Where(s => !s.Amount.IsZero);
            return (money.Custody.End.Loose!.Value, money.Orders.Length == 0 ? null : money.Orders[0].OnItsWay,
                string.Join(", ", sums.Select(s => $"{s.Key} {s.Amount.Minor}")));
        }

        var (paid, came, closed) = (Step(SafeMovementKind.ChangeGiven, 500_00), Step(SafeMovementKind.ChangeBought, 480_00),
            Step(SafeMovementKind.OrderClosed, 20_00));
        Assert.Equal((new(640_00), Money.Zero, ""), After());
        Assert.Equal((new(140_00), new Money(500_00), "Assets:Cash to deposit -50000, Assets:Change on the way 50000"), After(paid));
        Assert.Equal((new(620_00), new Money(20_00), "Assets:Cash to deposit -2000, Assets:Change on the way 2000"), After(paid, came));
        Assert.Equal((new(620_00), null, "Assets:Cash to deposit -2000, Expenses:Over and short 2000"), After(paid, came, closed));
        Assert.Equal((new(640_00), null, ""), After(paid, Step(SafeMovementKind.ChangeBought, 500_00)));
    }
}
