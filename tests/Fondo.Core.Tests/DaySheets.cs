using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>The day's sheets of benefits and of the price programme (rules §3, §4).</summary>
public sealed class DaySheets
{
    private static Reconciliation Example(string name) => Reconciliation.Of(ExampleDays.Read(name));

    [Fact]
    public void The_surcharge_sheet_adds_up()
    {
        var day = Example("surcharge");
        var lines = ProgrammeSheet.Of(day).Lines.ToDictionary(l => l.Register.Value);
        // A register's difference is what its batch-proved cells are off by, and nothing else.
        foreach (var line in lines.Values)
        {
            var off = day.Cells.Where(c => c.Key.Register == line.Register && c.ProofCount is not null
                && day.Day.Setup.ProofOf(c.Key) == ProofKind.Batch).Sum(c => c.Variance!.Value);
            Assert.Equal(off, line.Difference);
        }

        // One fee was taken 0.30 too high; the other tickets agree to a cent each.
        var recorded = lines.Values.Sum(l => l.FeesRecorded - l.FeesDue);
        Assert.InRange(recorded.Minor, 30 - 20, 30 + 20);
        Assert.All(lines.Values, l => Assert.Equal(Money.Zero, l.DiscountsDue));
        Assert.Equal(Money.Zero, lines["W1"].FeesDue);
    }

    [Fact]
    public void Fees_that_were_never_settled_do_not_count_as_settled()
    {
        var setup = MadeUp.Setup.Replace("\"approvalAbove\":\"20.00\"",
            "\"approvalAbove\":\"20.00\",\"priceProgramme\":{\"kind\":\"surcharge\",\"rate\":\"0.030\",\"tenders\":[\"credit\"]}",
            StringComparison.Ordinal);
        var day = Reconciliation.Of(Read(
            [
                Ticket("10.30", Card("10.30", "1", ",\"fee\":\"0.30\"")),
                Ticket("20.60", Card("20.60", "2", ",\"fee\":\"0.60\"")),
                Ticket("44.00", Card("44.00", "3", ",\"tip\":\"4.00\"", "debit"))
            ],
            Row("10.30", "1", "1") + Row("20.00", "2", "2") + Row("44.00", "3", "3", brand: "debit"), setup: setup).Day!);
        var line = Assert.Single(ProgrammeSheet.Of(day).Lines);
        Assert.Equal((70_00, 90, 90, 30, 4_00, 74_30, -60),
            (line.CardValue.Minor, line.FeesDue.Minor, line.FeesRecorded.Minor, line.FeesSettled.Minor, line.Tips.Minor,
                line.CardSettled.Minor, line.Difference.Minor));
    }

    [Fact]
    public void The_cash_discount_sheet_shows_what_was_due_and_given()
    {
        var lines = ProgrammeSheet.Of(Example("cash-discount")).Lines;
        // One discount was given 1.28 too high.
        Assert.InRange(lines.Sum(l => l.DiscountsGiven - l.DiscountsDue).Minor, 128 - 40, 128 + 40);
        Assert.All(lines, l => Assert.Equal(Money.Zero, l.FeesDue));
        Assert.All(lines, l => Assert.True(l.CashValue >= l.DiscountsDue));
    }

    [Fact]
    public void The_benefit_sheet_agrees_with_the_cells()
    {
        foreach (var name in new[] { "clean", "surcharge", "cash-discount" })
        {
            var day = Example(name);
            var sheet = BenefitSheet.Of(day);
            Money Sum(string tender, Func<Cell, Money?> of) =>
                day.Cells.Where(c => c.Key.Written.Tender == tender).Sum(c => of(c) ?? Money.Zero);
            Assert.Equal(Sum("ebt-food", c => c.Expected), sheet.Lines.Sum(l => l.Food.Recorded));
            Assert.Equal(Sum("ebt-food", c => c.Proof), sheet.Lines.Sum(l => l.Food.Settled));
            Assert.Equal(Sum("ebt-cash", c => c.Variance), sheet.Lines.Sum(l => l.Cash.Variance));
            Assert.All(sheet.Lines, l => Assert.True(l.Food.Recorded <= l.Eligible));
        }

        // The one ticket on which tax was charged all the same.
        Assert.InRange(BenefitSheet.Of(Example("cash-discount")).Lines.Sum(l => l.TaxTooMuch).Minor, 92, 100);
    }

    [Fact]
    public void The_tax_that_falls_away_is_told_and_a_card_of_both_benefits_is_named()
    {
        const string seedling = """{"sku":"s","name":"s","qty":"1","amount":"6.00","tax":"0.00","taxRate":"0.05","ebt":true}""";
        var day = Reconcile(
            [Event("sale",
                $"\"lines\":[{seedling}],\"subtotal\":\"6.00\",\"tax\":\"0.00\",\"total\":\"6.00\",\"tenders\":["
                    + $"{Card("4.00", "1", type: "ebt-food")},{Card("22.00", "2", ",\"cashback\":\"20.00\"", "ebt-cash")}]")],
            Row("4.00", "1", "1", brand: "ebt", benefit: "food") + Row("22.00", "2", "2", brand: "ebt", benefit: "cash"));
        var sheet = BenefitSheet.Of(day);
        var line = Assert.Single(sheet.Lines);
        Assert.Equal((6_00, 20, 0, 20_00), (line.Eligible.Minor, line.TaxRelieved.Minor, line.TaxTooMuch.Minor, line.Cashback.Minor));
        Assert.Equal([new BothBenefits("1234", new(4_00), new(22_00))], sheet.Cards);
    }
}
