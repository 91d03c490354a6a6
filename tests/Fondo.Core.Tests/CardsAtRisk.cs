using Fondo.Core.Sheets;
using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Until when an open card item can be put right: rules §5 give 48 hours from settlement where the store says nothing
/// else.</summary>
public sealed class CardsAtRisk
{
    /// <summary>Batch 7 of T-2 closes at 21:30: whatever it has, or should have had, can be put right until 21:30 two days later. T-1 has
    /// no batch and nothing says when it settles: there the end of the day counts.</summary>
    [Fact]
    public void The_least_time_left_comes_first_then_the_most_money()
    {
        var totals = $"terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\nT-2,7,{At("21:30")},2,30.00,0,0.00\n";
        var result = Reconcile(
            [
                Ticket("64.00", Card("64.00", "R00000000001", terminal: "T-1"), "11:00", id: "A-1"), // its terminal never settled
                Ticket("5.00", Card("5.00", "R00000000002", terminal: "T-2"), "14:00", "L2", id: "A-2"), // missing from the batch
            ],
            Row("10.00", "R00000000008", "1", "14:30", "T-2") + Row("20.00", "R00000000009", "2", "14:40", "T-2"), totals: totals);
        var risks = AtRisk.In(result);
        Assert.Equal(["T-2/7/2", "T-2/7/1", "A-2#1", "A-1#1"], risks.Select(r => r.Open.Item.Key));
        Assert.Equal(
            ["2026-11-23T21:30:00", "2026-11-23T21:30:00", "2026-11-23T21:30:00", "2026-11-24T04:00:00"],
            risks.Select(r => r.Until.ToString("yyyy-MM-ddTHH:mm:ss", System.Globalization.CultureInfo.InvariantCulture)));
        Assert.Equal([2000L, 1000, 500, 6400], risks.Select(r => r.Amount.Minor));
        Assert.Equal([true, true, true, false],
            risks.Select(r =>
                r.IsOver(DateTimeOffset.Parse("2026-11-23T21:30:00-05:00", System.Globalization.CultureInfo.InvariantCulture))));
    }
}
