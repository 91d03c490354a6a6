using Fondo.Core.Cells;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;

namespace Fondo.Core.Tests;

/// <summary>What a terminal holds beside the journal, and what is proved as printed totals. Figures worked out by hand from the rows that
/// stand here.</summary>
public sealed class TerminalsCompared
{
    private static Core.Days.Day MadeUpDay(string journal) =>
        MadeUp.Read(journal.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)).Day!;

    private static readonly DateTimeOffset _noon = new(2026, 11, 21, 12, 0, 0, TimeSpan.FromHours(-5));

    private const string Sales = """
        {"id":"A-1","register":"L2","drawer":"L2-A","cashier":"p1","at":"2026-11-21T12:00:00-05:00","kind":"sale","lines":[{"sku":"x","name":"x","qty":"1","amount":"64.00","tax":"0.00","taxRate":"0","ebt":false}],"subtotal":"64.00","discount":"0.00","tax":"0.00","fee":"0.00","rounding":"0.00","total":"64.00","tenders":[{"type":"credit","amount":"64.00","terminal":"T-2","brand":"Heron","card":"4417","auth":"A00001","rrn":"R00000000001"}]}
        {"id":"A-2","register":"L2","drawer":"L2-A","cashier":"p1","at":"2026-11-21T12:05:00-05:00","kind":"sale","lines":[{"sku":"x","name":"x","qty":"1","amount":"10.00","tax":"0.00","taxRate":"0","ebt":true}],"subtotal":"10.00","discount":"0.00","tax":"0.00","fee":"0.00","rounding":"0.00","total":"10.00","tenders":[{"type":"ebt-food","amount":"8.00","terminal":"T-2","brand":"ebt","card":"1111","auth":"A00002","rrn":"R00000000002"},{"type":"debit","amount":"2.00","terminal":"T-2","brand":"debit","card":"2222","auth":"A00003","rrn":"R00000000003"}]}
        {"id":"A-3","register":"L2","drawer":"L2-A","cashier":"p1","at":"2026-11-21T12:10:00-05:00","kind":"refund","original":"A-1","lines":[{"sku":"x","name":"x","qty":"1","amount":"-4.00","tax":"0.00","taxRate":"0","ebt":false}],"subtotal":"-4.00","discount":"0.00","tax":"0.00","fee":"0.00","rounding":"0.00","total":"-4.00","tenders":[{"type":"credit","amount":"-4.00","terminal":"T-2","brand":"heron","card":"4417","auth":"A00004","rrn":"R00000000004"}]}
        """;

    private static BatchRow Row(string seq, Direction direction, long amount, string? brand, string rrn, Benefit benefit = Benefit.None) =>
        new(new(new("T-2"), "held", seq), _noon, direction, new(amount), default, default,
            new(new TerminalId("T-2"), brand, null, null, rrn, null), benefit);

    [Fact]
    public void Both_sides_stand_by_brand_in_number_and_amount()
    {
        var result = Reconciliation.Of(MadeUpDay(Sales));
        var compared = TerminalComparison.Of(new("T-2"), TerminalComparison.Unsettled(result)[new("T-2")],
            [
                Row("1", Direction.Sale, 6400, "HERON", "R00000000001"),
                Row("2", Direction.Refund, 400, "heron", "R00000000004"),
                Row("3", Direction.Sale, 800, "ebt", "R00000000002", Benefit.Food)
            ]);
        Assert.Equal(["debit", "food benefits", "heron"], compared.Brands.Select(b => b.Brand));
        Assert.Equal(new CardTotals(1, new(6400), 1, new(400)), compared.Brands[2].Journal);
        Assert.Equal([false, true, true], compared.Brands.Select(b => b.Agrees));
        Assert.Equal((4, 7000L), (compared.Journal.Number, compared.Journal.Net.Minor)); // 64.00 + 8.00 + 2.00 − 4.00
        Assert.Equal((3, 6800L), (compared.Held.Number, compared.Held.Net.Minor));
        Assert.False(compared.Agrees);
    }

    /// <summary>Equal amounts with different counts do not agree (rules §1).</summary>
    [Fact]
    public void One_of_ten_is_not_two_of_five() =>
        Assert.False(new BrandLine("heron", new(1, new(1000), 0, default), new(2, new(1000), 0, default)).Agrees);

    /// <summary>What is settled already waits no more.</summary>
    [Fact]
    public void A_tender_that_a_row_proves_is_not_held_any_more()
    {
        var day = MadeUpDay(Sales) with { Rows = [Row("1", Direction.Sale, 6400, "heron", "R00000000001")] };
        Assert.Equal(["A-2#1", "A-2#2", "A-3#1"],
            TerminalComparison.Unsettled(Reconciliation.Of(day))[new("T-2")].Select(t => t.Key.ToString()).Order());
    }

    private static PrintedLine Printed(string brand, int sales, long amount, int refunds = 0, long back = 0, Benefit benefit = Benefit.None,
        int minutes = 600) =>
        new(new("T-2"), _noon.AddMinutes(minutes), null, brand, benefit, sales, new(amount), refunds, new(back));

    private static Cell CellOf(Reconciliation result, string tender) => result.Cells.Single(c => c.Key.Written.Tender == tender);

    /// <summary>Heron 64.00 less a refund of 4.00, food benefits 8.00, debit 2.00.</summary>
    [Fact]
    public void Printed_totals_prove_cells_in_number_and_amount()
    {
        var day = MadeUpDay(Sales) with
        {
            Rows = null,
            Printed = [Printed("heron", 1, 6400, 1, 400), Printed("ebt", 1, 800, benefit: Benefit.Food), Printed("debit", 1, 300)]
        };
        var result = Reconciliation.Of(day);
        Assert.Equal((CellState.Proved, 6000L, 2),
            (CellOf(result, "credit").State, CellOf(result, "credit").Proof!.Value.Minor, CellOf(result, "credit").ProofCount!.Value));
        Assert.Equal(CellState.Proved, CellOf(result, "ebt-food").State);
        Assert.Equal((CellState.Off, 100L), (CellOf(result, "debit").State, CellOf(result, "debit").Variance!.Value.Minor));
        Assert.Empty(result.OpenItems);
        Assert.Equal([new TerminalId("T-2")], Overview.Of(result).SettledTerminals);
    }

    [Fact]
    public void The_latest_print_stands_whole_and_rows_take_its_place()
    {
        var day = MadeUpDay(Sales) with
        {
            Rows = [],
            Printed = [Printed("heron", 9, 9900), Printed("debit", 1, 200), Printed("heron", 1, 6400, 1, 400, minutes: 601)]
        };
        var result = Reconciliation.Of(day);
        Assert.Equal(CellState.Proved, CellOf(result, "credit").State);
        Assert.Equal(0, CellOf(result, "debit").Proof!.Value.Minor); // the later print does not know any
        var settled = Reconciliation.Of(day with { Rows = [Row("1", Direction.Sale, 6400, "heron", "R00000000001")] });
        Assert.Equal((6400L, 1), (CellOf(settled, "credit").Proof!.Value.Minor, CellOf(settled, "credit").ProofCount!.Value));
        Assert.Equal(3, settled.OpenItems.Length);
    }
}
