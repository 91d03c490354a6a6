using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Core.Custody;
using Fondo.Core.SetUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §12: a reopened day keeps what it handed on; what changes in it is posted in the earliest open day, item by
/// item.</summary>
public sealed class Corrections
{
    private static readonly TradingDay _monday = new(new(2026, 11, 16)), _thursday = new(new(2026, 11, 19));

    private static Funding Cards(TradingDay day, long amount) =>
        new("cards", day, [new(new("credit"), new(amount))], 1, Money.Zero, true, day.Date.AddDays(2));

    private static MoneyStart Start(long loose, Funding[] fundings, HeldBag[] bags) =>
        new(new(new Money(loose), [.. bags], []), new([], [.. fundings], []));

    /// <summary>Monday handed on 640.00 in the safe, 100.00 with the processor and bag B-1; corrected to 655.00, 105.00 and no bag. On
    /// Thursday 900.00 lie there, the processor has paid, and the bag is still shut.</summary>
    [Fact]
    public void What_a_later_day_begins_with_follows_by_the_difference()
    {
        var (before, after) =
            (Start(640_00, [Cards(_monday, 100_00)], [new("B-1", _monday, new(60_00))]), Start(655_00, [Cards(_monday, 105_00)], []));
        var start = Start(900_00, [Cards(_thursday, 70_00)], [new("B-1", _monday, new(60_00)), new("B-2", _thursday, new(40_00))])
            .With(before, after);
        Assert.Equal(915_00, start.Custody.Loose!.Value.Minor);
        Assert.Equal(["B-2 4000"], start.Custody.Bags.Select(b => $"{b.Name} {b.Amount.Minor}"));
        // What the processor paid was 5.00 too little by what is known now: so much is still owed.
        Assert.Equal(["2026-11-16 500", "2026-11-19 7000"], start.Bank.Fundings.Select(f => $"{f.Day} {f.Gross.Minor}"));
    }

    [Fact]
    public void What_did_not_change_changes_nothing()
    {
        var handed = Start(640_00, [Cards(_monday, 100_00)], [new("B-1", _monday, new(60_00))]);
        var start = Start(900_00, [], []);
        var same = start.With(handed, handed);
        Assert.Equal((900_00L, 0, 0), (same.Custody.Loose!.Value.Minor, same.Custody.Bags.Length, same.Bank.Fundings.Length));
    }
}
