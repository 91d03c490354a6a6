using System.Collections.Immutable;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Proof;
using Google.OrTools.Sat;

namespace Fondo.Core.Tests;

/// <summary>What stays in a drawer for the next day (rules §9).</summary>
public sealed class FloatsKept
{
    private static readonly ImmutableArray<Denomination> _dollars = Denominations.Of(Currency.Of("USD"));

    private static ImmutableArray<Pieces> Drawer(params (long Worth, int Number)[] pieces) =>
        [.. pieces.Select(p => new Pieces(new(p.Worth), p.Number))];

    private static Money Worth(IEnumerable<Pieces> pieces) => pieces.Sum(p => p.Worth);

    [Fact]
    public void A_full_drawer_keeps_just_the_pieces_that_a_float_should_have()
    {
        var counted = Drawer((100_00, 3), (20_00, 20), (10_00, 12), (5_00, 11), (1_00, 60), (25, 90), (10, 120), (5, 130), (1, 450));
        var kept = FloatToKeep.Choose(counted, new(200_00), _dollars);
        Assert.Equal(new Money(200_00), Worth(kept));
        Assert.Equal(Drawer((20_00, 2), (10_00, 4), (5_00, 8), (1_00, 40), (25, 80), (10, 100), (5, 120), (1, 400)), kept);
    }

    [Theory]
    [InlineData("USD", 200_00)]
    [InlineData("CAD", 200_00)]
    [InlineData("EUR", 200_00)]
    [InlineData("GBP", 200_00)]
    [InlineData("JPY", 20_000)]
    [InlineData("KWD", 50_000)]
    public void The_preferred_pieces_of_a_currency_are_a_float(string code, long target)
    {
        var kinds = Denominations.Of(Currency.Of(code));
        var preferred = kinds.Where(d => d.Kept > 0).Select(d => new Pieces(d.Worth, d.Kept)).ToList();
        Assert.Equal(target, Worth(preferred).Minor);
        Assert.Equal(preferred, FloatToKeep.Choose([.. kinds.Select(d => new Pieces(d.Worth, 1_000))], new(target), kinds));
    }

    [Fact]
    public void Where_the_float_cannot_be_made_the_nearest_below_stays()
    {
        Assert.Equal(new Money(180_00), Worth(FloatToKeep.Choose(Drawer((100_00, 1), (20_00, 4)), new(199_00), _dollars)));
        Assert.Equal(new Money(41_07), Worth(FloatToKeep.Choose(Drawer((20_00, 2), (1_00, 1), (1, 7)), new(200_00), _dollars)));
    }

    [Theory]
    [InlineData(0)]
    [InlineData(-5)]
    public void Without_a_float_nothing_stays(long cents) => Assert.Empty(FloatToKeep.Choose(Drawer((1_00, 5)), new(cents), _dollars));

    [Fact]
    public void Out_of_an_empty_drawer_nothing_stays() => Assert.Empty(FloatToKeep.Choose([], new(200_00), _dollars));

    [Fact]
    public void Pieces_larger_than_the_float_are_left_alone() =>
        Assert.Empty(FloatToKeep.Choose(Drawer((100_00, 4)), new(50_00), _dollars));

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    [InlineData(6)]
    public void It_is_as_good_as_what_OR_Tools_finds(int seed)
    {
        var random = new Random(seed);
        var kinds = _dollars.Where(_ => random.Next(3) > 0).Select(d => d with { Kept = random.Next(30) }).ToImmutableArray();
        var counted = kinds.Select(d => new Pieces(d.Worth, random.Next(d.IsNote ? 25 : 120))).ToImmutableArray();
        var target = random.Next(20_00, 300_00);

        var kept = FloatToKeep.Choose(counted, new(target), kinds);
        Assert.All(kept, k => Assert.InRange(k.Number, 1, counted.Single(c => c.Denomination == k.Denomination).Number));

        var model = new CpModel();
        var numbers = counted.Select(c => model.NewIntVar(0, c.Number, $"{c.Denomination.Minor}")).ToArray();
        var distances = counted.Select((c, i) =>
        {
            var preferred = kinds.Single(k => k.Worth == c.Denomination).Kept;
            var distance = model.NewIntVar(0, 1000, "");
            model.Add(distance >= numbers[i] - preferred);
            model.Add(distance >= preferred - numbers[i]);
            return distance;
        }).ToArray();
        var worth = LinearExpr.WeightedSum(numbers, counted.Select(c => c.Denomination.Minor));
        model.Add(worth <= target);
        // First the worth, then the distance: no distance outweighs a cent.
        model.Maximize(worth * 20_000 - LinearExpr.Sum(distances));
        var solver = new CpSolver();
        Assert.Equal(CpSolverStatus.Optimal, solver.Solve(model));

        Assert.Equal(solver.Value(worth), Worth(kept).Minor);
        Assert.Equal(distances.Sum(d => solver.Value(d)), Distance(kept));

        long Distance(ImmutableArray<Pieces> chosen) => counted.Sum(c =>
            Math.Abs(chosen.Where(k => k.Denomination == c.Denomination)
                .Sum(k => k.Number) - kinds.Single(k => k.Worth == c.Denomination).Kept));
    }
}
