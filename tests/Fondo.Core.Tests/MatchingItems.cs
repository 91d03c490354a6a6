using CsCheck;
using Fondo.Core.Amounts;
using Fondo.Core.Cells;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §5, as far as reference and approval reach.</summary>
public sealed class MatchingItems
{
    [Fact]
    public void Reference_comes_before_approval_and_neither_heeds_the_tender()
    {
        var day = Reconcile(
            [
                Ticket("5.00", Card("5.00", "77"), id: "a"),
                Ticket("6.00", """{"type":"debit","amount":"6.00","terminal":"T-1","card":"1234","auth":"A9"}""", id: "b")
            ],
            rows: Row("5.00", "77", "1", brand: "ebt", benefit: "food") + Row("6.00", "9", "2"));
        Assert.Equal([("a#1", "T-1/7/1", "reference"), ("b#1", "T-1/7/2", "approval")],
            day.Matches.Select(m => (m.Journal[0].Key, m.Rows[0].Key, m.Rule.Written())));
        Assert.Equal(CellState.Off, day.Cell("L1", "ebt-food").State);
    }

    /// <summary>Each rule in its turn: what agrees, and what the match is called.</summary>
    [Theory]
    [InlineData("5.00", "sale", "T-1", "77", "A77", "1234", "10:00", "reference")]
    [InlineData("5.00", "sale", "T-2", "77", "", "", "21:00", "reference")]
    [InlineData("5.00", "sale", "T-1", "78", "A77", "1234", "21:00", "approval")]
    [InlineData("5.00", "sale", "T-1", "", "", "", "10:15", "proximity")]
    [InlineData("5.00", "sale", "T-1", "78", "A78", "1234", "10:15", "proximity")]
    [InlineData("5.00", "sale", "T-1", "", "", "", "10:16", null)]
    [InlineData("5.00", "sale", "T-1", "", "", "9999", "10:00", null)]
    [InlineData("5.00", "sale", "T-2", "", "A77", "", "21:00", "other-terminal")]
    [InlineData("5.00", "sale", "T-2", "", "A77", "9999", "10:00", null)]
    [InlineData("5.00", "sale", "T-2", "", "", "1234", "10:15", "other-terminal")]
    [InlineData("5.00", "sale", "T-2", "", "", "1234", "10:16", null)]
    [InlineData("5.00", "sale", "T-2", "", "", "", "10:00", null)]
    [InlineData("7.31", "sale", "T-2", "77", "", "", "21:00", "amount-differs")]
    [InlineData("7.31", "sale", "T-2", "", "A77", "1234", "21:00", "amount-differs")]
    [InlineData("50.00", "sale", "T-1", "", "", "1234", "10:15", "amount-differs")]
    [InlineData("50.00", "sale", "T-1", "", "", "1234", "10:16", null)]
    [InlineData("50.00", "sale", "T-1", "", "", "", "10:00", null)]
    [InlineData("7.31", "sale", "T-1", "", "", "1234", "10:00", null)]
    [InlineData("5.00", "refund", "T-2", "77", "", "", "21:00", "direction")]
    [InlineData("5.00", "refund", "T-2", "", "A77", "1234", "21:00", "direction")]
    [InlineData("5.00", "refund", "T-1", "", "", "", "10:15", "direction")]
    [InlineData("5.00", "refund", "T-2", "", "", "1234", "10:00", "direction")]
    [InlineData("6.00", "refund", "T-1", "77", "A77", "1234", "10:00", null)]
    public void A_tender_finds_its_row(string amount, string type, string terminal, string rrn, string auth, string card, string at,
        string? rule)
    {
        var day = Reconcile(
            [Ticket("5.00", Card("5.00", "77"), id: "t")],
            rows: $"{terminal},7,1,{At(at)},{type},{amount},0.00,0.00,heron,{card},{auth},{rrn},chip,\n");
        Assert.Equal(rule, day.Matches.SingleOrDefault()?.Rule.Written());
        Assert.Equal(rule is null ? 2 : 0, day.OpenItems.Length);
    }

    [Fact]
    public void Causes_name_why_an_item_stayed_open()
    {
        var day = Reconcile(
            [
                Ticket("1.23", Card("1.23", "1"), "10:00", id: "early"),
                Ticket("2.00", Card("2.00", "2"), "11:30", id: "late"),
                Ticket("3.00", Card("3.00", "3", terminal: "T-2"), "10:00", "L2", id: "absent"),
                Ticket("4.00", Card("4.00", "4"), id: "void"), Event("void", "\"original\":\"void\""),
                Ticket("5.00", Card("5.00", "5", ",\"result\":\"reversed\"") + ",{\"type\":\"cash\",\"amount\":\"5.00\"}"),
                Ticket("6.00", Card("6.00", "6", ",\"result\":\"declined\"") + ",{\"type\":\"cash\",\"amount\":\"6.00\"}"),
                Ticket("8.00", Card("8.00", "8")),
            ],
            rows: Row("4.00", "4", "4") + Row("5.00", "5", "5") + Row("6.00", "6", "6") + Row("8.00", "8", "8")
                + Row("8.00", "88", "9", "10:05") + Row("77.13", "9", "10"),
            totals: $"terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\nT-1,7,{At("11:00")},6,108.13,0,0.00\n");
        Assert.Equal(
            new Dictionary<string, string>
            {
                ["early#1"] = "missing-from-batch",
                ["late#1"] = "after-cutoff",
                ["absent#1"] = "batch-absent",
                ["T-1/7/4"] = "void-not-sent",
                ["T-1/7/5"] = "reversal-not-sent",
                ["T-1/7/6"] = "declined-but-settled",
                ["T-1/7/9"] = "charged-twice",
                ["T-1/7/10"] = "not-in-journal",
            },
            day.OpenItems.ToDictionary(o => o.Item.Key, o => o.Cause.Written()));
        Assert.Empty(day.BatchDifferences);
    }

    [Fact]
    public void A_batch_that_does_not_add_up_to_its_total_is_incomplete()
    {
        var day = Reconcile([], rows: Row("9.00", "9", "10"),
            totals: $"terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\nT-1,7,{At("22:00")},2,19.00,0,0.00\n");
        Assert.Equal(["T-1/7"], day.BatchDifferences.Select(d => d.Key));
    }

    /// <summary>Alike tenders and rows are paired as an exhaustive search would: most pairs, least distance in sum.</summary>
    [Fact]
    public void Alike_items_are_paired_best_as_a_whole() =>
        Gen.Int[0, 40].Array[1, 5].Select(Gen.Int[0, 40].Array[1, 5]).Sample((left, right) =>
        {
            var day = Reconcile(
                left.Select((m, i) => Ticket("5.00", Card("5.00", "77"), $"10:{m:00}", id: $"t{i}")),
                rows: string.Concat(right.Select((m, i) => Alike(i, $"10:{m:00}"))));
            Assert.Equal(Math.Min(left.Length, right.Length), day.Matches.Length);
            Assert.Equal(Least(left, right), day.Matches.Sum(m => (long)(m.Journal[0].At - m.Rows[0].At).Duration().TotalMinutes));
        }, iter: 300);

    private static long Least(int[] left, int[] right)
    {
        if (left.Length > right.Length)
        {
            (left, right) = (right, left);
        }

        return left.Length == 0
            ? 0
            : Enumerable.Range(0, right.Length)
                .Min(i => Math.Abs(left[0] - right[i]) + Least(left[1..], [.. right.Where((_, j) => j != i)]));
    }
}
