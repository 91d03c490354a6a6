using CsCheck;
using Fondo.Core.Amounts;
using Fondo.Core.Proof;

namespace Fondo.Core.Tests;

/// <summary>Rules §5: a settled transaction that arrives twice counts once, whatever its batch or sequence number.</summary>
public sealed class OneTransactionOnce
{
    private static string Row(string batch, string seq, string amount = "20.00", string rrn = "R1", string auth = "A1",
        string card = "1234", string at = "10:00", string type = "sale") =>
        $"T-1,{batch},{seq},2026-11-21T{at}:00-05:00,{type},{amount},0.00,0.00,heron,{card},{auth},{rrn},chip,\n";

    /// <summary>Of two rows: how many count.</summary>
    [Theory]
    [InlineData("the same by its reference", "8", "R1", "A1", "1234", "10:00", "20.00", "sale", 1)]
    [InlineData("and whatever else its file says of it", "8", "R1", "A9", "", "10:03", "20.00", "sale", 1)]
    [InlineData("another reference is another transaction", "8", "R2", "A1", "1234", "10:00", "20.00", "sale", 2)]
    [InlineData("without reference by time, card and approval", "8", "", "A1", "1234", "10:00", "20.00", "sale", 1)]
    [InlineData("not at another time", "8", "", "A1", "1234", "10:01", "20.00", "sale", 2)]
    [InlineData("not with another approval", "8", "", "A2", "1234", "10:00", "20.00", "sale", 2)]
    [InlineData("not with none", "8", "", "", "1234", "10:00", "20.00", "sale", 2)]
    [InlineData("not with another card", "8", "", "A1", "4321", "10:00", "20.00", "sale", 2)]
    [InlineData("not of another amount", "8", "R1", "A1", "1234", "10:00", "20.01", "sale", 2)]
    [InlineData("a refund is not its sale", "8", "R1", "A1", "1234", "10:00", "20.00", "refund", 2)]
    public void Two_rows(string what, string batch, string rrn, string auth, string card, string at, string amount, string type, int count)
    {
        foreach (var rows in new[] { Row("7", "1") + Row(batch, "5", amount, rrn, auth, card, at, type),
            Row(batch, "5", amount, rrn, auth, card, at, type) + Row("7", "1") })
        {
            var day = MadeUp.Read([], rows).Day!;
            Assert.True(count == day.Rows!.Value.Length, what);
            Assert.Equal(2 - count, day.RowsAgain.Length);
        }
    }

    /// <summary>Over the wire as batch 721, which says its totals, and in a file without batch numbers: 20.00 once, and batch 721 is
    /// whole.</summary>
    [Fact]
    public void A_batch_that_came_over_the_wire_and_in_a_file_is_whole_and_counts_once()
    {
        var rows = Row("261121", "R1") + Row("261121", "R2", "5.00", "R2", "A2", at: "10:05") + Row("721", "1")
            + Row("721", "2", "5.00", "R2", "A2", at: "10:05");
        var totals = "terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\n"
            + "T-1,721,2026-11-21T11:00:00-05:00,2,25.00,0,0.00\n";
        var result = MadeUp.Reconcile([MadeUp.Event("open", "\"amount\":\"200.00\"", at: "09:00")], rows, totals: totals);
        Assert.Empty(result.BatchDifferences);
        Assert.Equal(["T-1/721/1", "T-1/721/2"], result.Day.Rows!.Value.Select(r => r.Key.ToString()).Order());
        Assert.Equal(25_00L, result.Cells.Sum(c => c.Proof ?? Money.Zero).Minor);
    }

    /// <summary>Rows in whatever order, some of them several times under other numbers: each transaction once, and always the same
    /// rows.</summary>
    [Fact]
    public void The_order_has_no_meaning() => Gen.Select(Gen.Int[0, 5], Gen.Int[0, 3], Gen.Int[1, 3]).List[0, 40].Select(Gen.Int).Sample(
        (drawn, seed) =>
        {
            var rows = drawn.Select((d, i) => new BatchRow(new(new("T-1"), $"{d.Item3}", $"{i}"),
                new DateTimeOffset(2026, 11, 21, 10, d.Item1, 0, TimeSpan.Zero), Direction.Sale, new(100 * d.Item1), default, default,
                new(new("T-1"), "heron", "1234", $"A{d.Item1}",
                    d.Item2 == 0 ? "" : $"R{d.Item1}{d.Item2}", "chip"), Benefit.None)).ToList();
            var mixed = rows.ToArray();
            new Random(seed).Shuffle(mixed);
            var (one, other) = (SettledOnce.Of([.. rows], []), SettledOnce.Of([.. mixed], []));
            Assert.Equal(one.Once.OrderBy(r => r.Key), other.Once.OrderBy(r => r.Key));
            Assert.Equal(rows.Count, one.Once.Length + one.Again.Length);
            // By hand: of each moment its references; where none has one, itself.
            Assert.Equal(drawn.GroupBy(d => d.Item1).Sum(g => Math.Max(1, g.Select(d => d.Item2).Where(r => r > 0).Distinct().Count())),
                one.Once.Length);
        }, iter: 300);
}
