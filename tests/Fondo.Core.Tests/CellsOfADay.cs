using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §1: what should be there, and what shows that it is.</summary>
public sealed class CellsOfADay
{
    [Fact]
    public void Cash_expected_counts_everything_that_moves_cash()
    {
        var day = Reconcile(
        [
            Event("open", "\"amount\":\"200.00\"", "07:00"),
            Ticket("18.50", """{"type":"cash","amount":"20.00","change":"1.50"}"""),
            Ticket("-4.00", """{"type":"cash","amount":"-4.00"}""", kind: "refund"),
            Ticket("30.00", """{"type":"debit","amount":"50.00","cashback":"20.00","terminal":"T-1"}"""),
            Ticket("10.00", """{"type":"credit","amount":"12.00","tip":"2.00","terminal":"T-1"}"""),
            Event("loan", "\"amount\":\"50.00\""), Event("paid-in", "\"amount\":\"5.00\",\"reason\":\"found\""),
            Event("paid-out", "\"amount\":\"2.00\",\"reason\":\"tip\""),
            Event("drop", "\"amount\":\"100.00\",\"bag\":\"B-1\""),
            Event("no-sale", ""),
        ]);
        // 200 + 50 + 5 + 18.50 − 4 − 20 − 100 − 2; the tip is owed, not taken, until the paid-out says so.
        var cash = day.Cell("L1", "cash", "L1-A");
        Assert.Equal((147_50, 2, CellState.Waiting), (cash.Expected.Minor, cash.ExpectedCount, cash.State));
        Assert.Equal(50_00, day.Cell("L1", "debit").Expected.Minor);
        Assert.Equal(12_00, day.Cell("L1", "credit").Expected.Minor);
        Assert.Null(day.Cell("L1", "credit").Proof);
    }

    [Fact]
    public void What_was_voided_declined_reversed_or_rung_after_the_close_does_not_count()
    {
        var day = Reconcile(
        [
            Event("open", "\"amount\":\"0.00\"", "07:00"),
            Event("void", "\"original\":\"v1\"", "09:00"), // stands before its ticket in the file
            Ticket("7.00", """{"type":"cash","amount":"7.00"}""", id: "v1"),
            Ticket("5.00",
                $$"""{"type":"cash","amount":"5.00"},{{Card("5.00", "1", ",\"result\":\"reversed\"")}},{{Card("5.00", "2", ",\"result\":\"declined\"")}}"""),
            Event("close", "", "20:00"),
            Ticket("9.00", """{"type":"cash","amount":"9.00"}""", "20:01"),
            Ticket("3.00", """{"type":"cash","amount":"3.00"}""", "20:00"), // in the same second: still today's
        ]);
        Assert.Equal((8_00, 2), (day.Cell("L1", "cash", "L1-A").Expected.Minor, day.Cell("L1", "cash", "L1-A").ExpectedCount));
        Assert.DoesNotContain(day.Cells, c => c.Key.Written.Tender == "credit");
    }

    [Theory]
    [InlineData("\"100.00\":1,\"1.00\":2", CellState.Proved)] // over by exactly the tolerance
    [InlineData("\"100.00\":1,\"1.00\":2,\"0.01\":1", CellState.Off)]
    [InlineData("\"50.00\":1,\"20.00\":2,\"1.00\":8", CellState.Proved)]
    [InlineData("\"50.00\":1,\"20.00\":2,\"1.00\":7,\"0.25\":3", CellState.Off)]
    public void Cash_proves_within_tolerance(string cash, CellState state) =>
        Assert.Equal(state, Reconcile([Event("open", "\"amount\":\"100.00\"")], counts: Counted(cash)).Cell("L1", "cash", "L1-A").State);

    [Fact]
    public void The_highest_attempt_stands()
    {
        var day =
            Reconcile([Event("open", "\"amount\":\"100.00\"")], counts: Counted("\"100.00\":1", attempt: 2) + "," + Counted("\"20.00\":1"));
        Assert.Equal(100_00, day.Cell("L1", "cash", "L1-A").Proof!.Value.Minor);
    }

    [Fact]
    public void Checks_prove_by_amount_and_number_coupons_by_amount()
    {
        string[] journal =
        [
            Event("open", "\"amount\":\"0.00\""),
            Ticket("30.00", """{"type":"check","amount":"30.00","number":"7"}"""),
            Ticket("20.00", """{"type":"check","amount":"19.00","number":"8"},{"type":"coupon","amount":"1.00"}"""),
        ];
        var right = Reconcile(journal,
            counts: Counted("",
                more: ",\"checks\":[{\"number\":\"7\",\"amount\":\"30.00\"},{\"number\":\"8\",\"amount\":\"19.00\"}],\"stubs\":{\"coupon\":\"1.00\"}"));
        Assert.All(right.Cells, c => Assert.Equal(CellState.Proved, c.State));
        Assert.Null(right.Cell("L1", "coupon", "L1-A").ProofCount);

        var merged = Reconcile(journal,
            counts: Counted("", more: ",\"checks\":[{\"number\":\"7\",\"amount\":\"49.00\"}],\"stubs\":{\"voucher\":\"1.00\"}"));
        Assert.Equal((0L, CellState.Off),
            (merged.Cell("L1", "check", "L1-A").Variance!.Value.Minor, merged.Cell("L1", "check", "L1-A").State));
        Assert.Equal(-1_00, merged.Cell("L1", "coupon", "L1-A").Variance!.Value.Minor);
        Assert.Equal(1_00, merged.Cell("L1", "voucher", "L1-A").Variance!.Value.Minor);
    }

    [Fact]
    public void A_row_proves_what_its_benefit_brand_and_place_say()
    {
        var day = Reconcile([], rows:
            Row("1.00", "1", "1", brand: "ebt", benefit: "food") + Row("2.00", "2", "2", brand: "ebt", benefit: "cash")
                + Row("3.00", "3", "3", brand: "wic")
            + Row("4.00", "4", "4", brand: "Debit") + Row("5.00", "5", "5") + Row("6.00", "6", "1", terminal: "T-9")
                + Row("7.00", "7", "6", type: "refund"));
        var expected = new[] { ("ebt-food", 100), ("ebt-cash", 200), ("wic", 300), ("debit", 400), ("credit", 500 - 700) };
        Assert.All(expected, e => Assert.Equal(e.Item2, day.Cell("L1", e.Item1).Proof!.Value.Minor));
        Assert.Equal(6_00, day.Cell("W1", "online").Proof!.Value.Minor);
    }

    [Fact]
    public void A_moved_terminal_proves_where_it_stood_and_nowhere_in_between()
    {
        var day = Reconcile([], rows: Row("1.00", "1", "1", "11:59") + Row("2.00", "2", "2", "12:00") + Row("4.00", "4", "3", "13:00"));
        Assert.Equal(1_00, day.Cell("L1", "credit").Proof!.Value.Minor);
        Assert.Equal(4_00, day.Cell("L2", "credit").Proof!.Value.Minor);
        Assert.Contains(day.Cells, c => c.Key.Register is null && c.Proof?.Minor == 2_00);
        Assert.Contains(day.OpenItems, o => o.Item.Key == "T-1/7/2" && o.Cause == Cause.NotInJournal);
    }

    [Fact]
    public void Equal_amounts_with_other_numbers_are_a_finding()
    {
        var day = Reconcile([Ticket("10.00", Card("10.00", "1"))], rows: Row("4.00", "8", "1") + Row("6.00", "9", "2"));
        var credit = day.Cell("L1", "credit");
        Assert.Equal((0L, 1, 2, CellState.Off),
            (credit.Variance!.Value.Minor, credit.ExpectedCount, credit.ProofCount!.Value, credit.State));
    }

    [Fact]
    public void Without_the_books_ledger_cells_are_journal_only()
    {
        string[] journal = [Ticket("10.00", """{"type":"gift-card","amount":"10.00","ref":"1234"}""")];
        Assert.Equal((CellState.JournalOnly, null),
            (Reconcile(journal).Cell("L1", "gift-card").State, Reconcile(journal).Cell("L1", "gift-card").Proof));
        const string Books = "tender,seq,at,register,type,amount,ref\ngift-card,1,2026-11-21T10:00:00-05:00,L1,sale,10.00,1234\n";
        Assert.Equal(CellState.Proved, Reconcile(journal, ledger: Books).Cell("L1", "gift-card").State);
    }

    [Fact]
    public void A_register_without_rows_is_proved_at_nothing_once_batches_are_in()
    {
        var credit = Reconcile([Ticket("10.00", Card("10.00", "1"))], rows: "").Cell("L1", "credit");
        Assert.Equal((0L, 0, -10_00L, CellState.Off),
            (credit.Proof!.Value.Minor, credit.ProofCount!.Value, credit.Variance!.Value.Minor, credit.State));
    }

    [Fact]
    public void The_makeup_of_every_cell_adds_up_to_what_is_expected()
    {
        var day = Reconciliation.Of(ExampleDays.Read("cash-discount"));
        Assert.All(day.Cells, c => Assert.Equal(c.Expected.Minor, Makeup.Of(day.Day, (CellKey.Takings)c.Key).Sum(p => p.Amount.Minor)));
    }
}
