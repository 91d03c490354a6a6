using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files.Reading;
using Fondo.Standins.Days;

namespace Fondo.Core.Tests;

/// <summary>What must hold on any day, whatever happened on it: over generated days with faults of every kind.</summary>
public sealed class DaysAsAWhole
{
    public static TheoryData<int> Seeds => [.. Enumerable.Range(301, 12)];

    private static Reconciliation Result(int seed)
    {
        var made = DayMaker.MakeFaulty(seed, 4 + (seed % 6), 350, seed % 16, overlap: true, (Prices)(seed % 3), cardRate: seed % 2 * 30);
        var builder = new DayBuilder();
        foreach (var (name, text) in made.Files.OrderBy(f => f.Key == "day.json" ? 0 : 1))
        {
            builder.Take(name, new MemoryStream(System.Text.Encoding.UTF8.GetBytes(text)));
        }

        var reading = builder.Build();
        Assert.Empty(reading.Findings);
        return Reconciliation.Of(reading.Day!);
    }

    [Theory]
    [MemberData(nameof(Seeds))]
    public void A_drawers_day_goes_step_by_step_from_its_float_to_its_cell(int seed)
    {
        var result = Result(seed);
        var overview = Overview.Of(result);
        Assert.Equal(overview.Sessions.Length, overview.Drawers.Length);
        foreach (var drawer in overview.Drawers)
        {
            var level = Money.Zero;
            foreach (var step in drawer.Steps)
            {
                Assert.Equal(level += step.Change, step.Level);
            }

            Assert.Equal(drawer.Steps.Select(s => s.Event.At).Order(), drawer.Steps.Select(s => s.Event.At));
            Assert.IsType<SessionOpen>(drawer.Steps[0].Event);
            Assert.Equal(result.Cell(drawer.Session.Register.Value, "cash", drawer.Session.Drawer.Value).Expected, level);
            Assert.Null(drawer.DropDue(result.Day.Setup.Find(drawer.Session.Register)!, result.Day.Setup.Currency)); // it is closed
        }
    }

    [Theory]
    [MemberData(nameof(Seeds))]
    public void A_reading_is_the_same_whichever_way_it_is_cut(int seed)
    {
        var result = Result(seed);
        var reading = Reading.Of(result.Day);
        foreach (var cut in new[] { reading.Registers, reading.Cashiers })
        {
            Assert.Equal((reading.Total.Number, reading.Total.Amount), (cut.Sum(l => l.Number), cut.Sum(l => l.Amount)));
        }

        // By tender it is what the cells expect, but for the drawers' other movements.
        foreach (var line in reading.Tenders.Where(l => l.Key != "cash"))
        {
            var cells = result.Cells.Where(c => c.Key.Written.Tender == line.Key).ToList();
            Assert.Equal((line.Number, line.Amount), (cells.Sum(c => c.ExpectedCount), cells.Sum(c => c.Expected)));
        }

        var cash = reading.Tenders.Single(l => l.Key == "cash").Amount;
        var moved = result.Day.Journal.Sum(e => e switch { SessionOpen o => o.Float, CashMovement m => m.Effect, _ => Money.Zero });
        var back = Standing.Tenders(result.Day, new Standing(result.Day)).Sum(t => t.Tender.Cashback);
        Assert.Equal(result.Cells.Where(c => c.Key.OfTender == TenderId.Cash).Sum(c => c.Expected), cash + moved - back);
        Assert.Equal(reading.Brands.Sum(b => b.Amount),
            Standing.Tenders(result.Day, new Standing(result.Day)).Where(t => t.Tender.Card?.Brand is not null).Sum(t => t.Tender.Amount));
    }

    /// <summary>What stays and what goes are what was counted; what stays is the float, wherever a float can be made.</summary>
    [Theory]
    [MemberData(nameof(Seeds))]
    public void The_float_that_stays_comes_out_of_what_was_counted(int seed)
    {
        var result = Result(seed);
        foreach (var count in CellSums.ClosingCounts(result.Day).Values)
        {
            var register = DrawerSession.In(result.Day).First(s => s.Drawer == count.Drawer).Register;
            var standard = result.Day.Setup.Find(register)!.Float;
            var kept = Cash.FloatToKeep.Choose(count.Pieces, standard, result.Day.Setup.Denominations);
            Assert.All(kept, k => Assert.InRange(k.Number, 1, count.Pieces.Single(p => p.Denomination == k.Denomination).Number));
            Assert.True(kept.Sum(k => k.Worth) <= standard);
            if (count.Pieces.FirstOrDefault(p => p.Denomination.Minor == 1).Number >= 100
                && count.Pieces.Where(p => p.Denomination.Minor is >= 25 and <= 10_00).Sum(p => p.Worth) > standard)
            {
                Assert.Equal(standard, kept.Sum(k => k.Worth));
            }
        }
    }

    /// <summary>Cells are worked out from the events, whatever their order and however they are cut into sessions.</summary>
    [Theory]
    [MemberData(nameof(Seeds))]
    public void Every_approved_tender_stands_in_one_cell(int seed)
    {
        var result = Result(seed);
        var taken = Standing.Tenders(result.Day, new Standing(result.Day)).ToList();
        Assert.Equal(taken.Count, result.Cells.Sum(c => c.ExpectedCount));
        Assert.Equal((result.Day.Rows?.Length ?? 0) + (result.Day.Ledger?.Length ?? 0)
            + CellSums.ClosingCounts(result.Day).Values.Sum(c => c.Checks.Length), result.Cells.Sum(c => c.ProofCount ?? 0));
        Assert.All(result.Cells, c => Assert.Equal(
            c.Variance is { } variance && (variance.Abs() > result.Day.Setup.ToleranceOf(c.Key)
                || (c.ProofCount is { } n && n != c.ExpectedCount)), c.State == CellState.Off));
    }

    [Theory]
    [InlineData("", "", true)] // both for the whole day
    [InlineData("u12", "f12", false)] // handed over at noon
    [InlineData("u12", "f13", false)]
    [InlineData("u13", "f12", true)]
    [InlineData("f12", "u12", false)] // the other way round
    [InlineData("", "f12", true)]
    [InlineData("f09u12", "f12u14", false)]
    [InlineData("f09u13", "f12u14", true)]
    public void A_terminal_stands_in_one_place_at_a_time(string first, string second, bool overlap)
    {
        static TerminalPlace Place(string text) => new(new("T-1"), new("L1"), Hour(text, 'f'), Hour(text, 'u'));
        static DateTimeOffset? Hour(string text, char of) => text.IndexOf(of, StringComparison.Ordinal) is >= 0 and var at
            ? new DateTimeOffset(2026, 11, 21, int.Parse(text.AsSpan(at + 1, 2), System.Globalization.CultureInfo.InvariantCulture), 0, 0,
                TimeSpan.Zero)
            : null;
        Assert.Equal(overlap, Place(first).Overlaps(Place(second)));
        Assert.Equal(overlap, Place(second).Overlaps(Place(first)));
        // It overlaps where some minute is held by both.
        var minutes = Enumerable.Range(0, 24 * 60).Select(m => new DateTimeOffset(2026, 11, 21, 0, 0, 0, TimeSpan.Zero).AddMinutes(m));
        Assert.Equal(overlap, minutes.Any(m => Place(first).Holds(m) && Place(second).Holds(m)));
    }
}
