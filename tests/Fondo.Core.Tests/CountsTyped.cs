using CsCheck;
using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Tests;

/// <summary>What is typed, weighed or sent by a machine into a count (rules §8).</summary>
public sealed class CountsTyped
{
    private static readonly Currency _dollar = Currency.Of("USD");

    private static Denomination Kind(string worth) => Denominations.Of(_dollar).Single(d => _dollar.Format(d.Worth) == worth);

    private static RowRead Row(string worth, string typed, Scale? scale = null) =>
        CountSheet.Row(typed, Kind(worth), _dollar, scale ?? Scale.Standard);

    /// <summary>Rolls and straps: 40 quarters, 50 dimes, 50 cents, 40 nickels; 100 notes (from memory). Weights: quarter 5.670 g, cent
    /// 2.500 g, dime 2.268 g (United States Mint, from memory).</summary>
    [Theory]
    [InlineData("0.25", "2*", 80)]
    [InlineData("0.25", "2*+13", 93)]
    [InlineData("0.10", "3r-1", 149)]
    [InlineData("20.00", "1s+4", 104)]
    [InlineData("0.25", "7.50", 30)]
    [InlineData("0.25", "7,50", 30)]
    [InlineData("0.25", "7,50+1", 31)]
    [InlineData("0.25", ".75", 3)]
    [InlineData("20.00", "240.00+1", 13)]
    [InlineData("0.25", "226.8/", 40)]
    [InlineData("0.01", "125g", 50)]
    [InlineData("0.10", "113.4/+2*", 150)]
    [InlineData("1.00", " 20 + 5 − 1", 24)]
    [InlineData("1.00", "", 0)]
    [InlineData("1.00", "+7", 7)]
    public void Comes_to(string worth, string typed, int pieces)
    {
        var read = Row(worth, typed);
        Assert.Equal((null, pieces), (read.Fault, read.Pieces));
    }

    [Theory]
    [InlineData("0.25", "-3", "fewer than 0 pieces")]
    [InlineData("0.25", "3-5", "fewer than 0 pieces")]
    [InlineData("0.25", "2.5", "a value has 2 decimals, like 1.00")]
    [InlineData("0.25", "1,200", "a value has 2 decimals, like 1.00")]
    [InlineData("0.25", "7.60", "7.60 is not a multiple of 0.25")]
    [InlineData("0.25", "1.5*", "whole number of rolls")]
    [InlineData("20.00", "x*", "whole number of straps")]
    [InlineData("0.25", "abc", "whole number of pieces")]
    [InlineData("0.25", "20+", "whole number of pieces")]
    [InlineData("0.25", "5++5", "whole number of pieces")]
    [InlineData("0.25", "/", "type grams before the /")]
    [InlineData("0.25", "1e3/", "type grams before the /")]
    [InlineData("0.25", "999999999", "more than 100,000")]
    [InlineData("0.25", "99999999999999999999999*", "more than 100,000")]
    [InlineData("0.25", "99999999.25", "more than 100,000")]
    public void Says_what_is_wrong_with(string worth, string typed, string objection)
    {
        var read = Row(worth, typed);
        Assert.Equal(0, read.Pieces);
        Assert.Contains(objection, read.Fault!.Says(typed, _dollar), StringComparison.Ordinal);
    }

    [Fact]
    public void Keeps_how_it_was_counted()
    {
        var read = Row("0.25", "2*+13−1+5.00+56.7/", new(0.1m, 0));
        Assert.Equal([new CountedPart(Means.Pack, "2", 80), new(Means.Piece, "13", 13), new(Means.Piece, "1", -1),
            new(Means.Value, "5.00", 20), new(Means.Weight, "56.7", 10)], read.Parts);
    }

    /// <summary>By hand: 40 quarters are 226.8 g, 41 are 232.47 g; half way lies 229.635 g. A scale that reads to half a gram is off by
    /// 0.25 g at most.</summary>
    [Theory]
    [InlineData("226.8", "0.5", Weighing.Sure, 40)]
    [InlineData("229.3", "0.5", Weighing.Sure, 40)]
    [InlineData("229.5", "0.5", Weighing.Between, 40)]
    [InlineData("229.8", "0.5", Weighing.Between, 40)]
    [InlineData("230.0", "0.5", Weighing.Sure, 41)]
    [InlineData("229.5", "0.1", Weighing.Sure, 40)]
    [InlineData("0", "0.5", Weighing.Sure, 0)]
    public void A_remainder_that_the_scale_cannot_tell_goes_back_to_the_hand(string grams, string division, Weighing says, int pieces)
    {
        var culture = System.Globalization.CultureInfo.InvariantCulture;
        var weighed = new Scale(decimal.Parse(division, culture), 0).Weigh(decimal.Parse(grams, culture), 5.670m);
        Assert.Equal((says, pieces), (weighed.Says, weighed.Pieces));
    }

    /// <summary>A note weighs about a gram: a scale that reads to a gram counts them all the same.</summary>
    [Fact]
    public void A_scale_as_coarse_as_a_piece_counts_whole_readings() =>
        Assert.Equal(new Weighed(Weighing.Sure, 31, 31), new Scale(1, 0).Weigh(31, 1));

    [Fact]
    public void The_container_is_taken_off()
    {
        Assert.Equal(40, Row("0.25", "376.8/", new(0.5m, 150)).Pieces);
        Assert.Contains("less than the container alone, which weighs 150 g",
            Row("0.25", "120/", new(0.5m, 150)).Fault!.Says("120/", _dollar),
            StringComparison.Ordinal);
        Assert.Contains("weighs is not in the set-up",
            CountSheet.Row("5/", new(new(25), false), _dollar, Scale.Standard).Fault!.Says("5/", _dollar),
            StringComparison.Ordinal);
    }

    /// <summary>Whatever lies on the scale, and however it reads within half a division: it says the right number, or that it cannot
    /// tell.</summary>
    [Fact]
    public void Never_says_a_wrong_number() =>
        Gen.Select(Gen.Int[0, 4000], Gen.Int[-500, 500], Gen.Int[1, 40], Gen.Int[0, 30_000]).Sample((pieces, error, division, tare) =>
    {
        var (scale, unit) = (new Scale(division / 10m, tare / 100m), 5.670m);
        var weighed = scale.Weigh((pieces * unit) + (scale.Division * error / 1000m) + scale.Tare, unit);
        Assert.True(weighed.Says == Weighing.Sure ? weighed.Pieces == pieces
            : weighed.Says == Weighing.Between ? weighed.Pieces <= pieces && pieces <= weighed.Most
            : pieces == 0);
    });

    /// <summary>Whatever is typed, a row reads or says why not.</summary>
    [Fact]
    public void Reads_or_says_why_not() => Gen.String[Gen.Char["0123456789+-−*/rsg., x"], 0, 24].Sample(typed =>
    {
        var read = Row("0.05", typed);
        Assert.True(read.Fault is null
            ? read.Pieces is >= 0 and <= CountSheet.MostPieces && read.Parts.Sum(p => p.Pieces) == read.Pieces
            : read is { Pieces: 0, Parts.IsEmpty: true });
    });

    /// <summary>ABA routing numbers: 111000025 is valid (from memory).</summary>
    [Theory]
    [InlineData("111000025", true)]
    [InlineData("111000026", false)]
    [InlineData("11100002", false)]
    [InlineData("111O00025", false)]
    [InlineData("", false)]
    public void Checks_routing_numbers(string number, bool isValid) => Assert.Equal(isValid, RoutingNumber.IsValid(number));

    [Theory]
    [InlineData("58.2", 5820)]
    [InlineData("1,058.20", 105820)]
    [InlineData("48,15", 4815)]
    [InlineData("48,1", 4810)]
    [InlineData("1,058", 105800)]
    [InlineData("12,345,678.90", 1234567890)]
    [InlineData("1.058,20", 105820)]
    [InlineData("1 058,20", 105820)]
    [InlineData("3,50+2,25", 575)]
    [InlineData("1,0582", null)]
    [InlineData("0,500", 50)]
    [InlineData("12,34,56", null)]
    [InlineData("1,058,2", null)]
    [InlineData("3.50+2", 550)]
    [InlineData("10−2.25", 775)]
    [InlineData("-4", -400)]
    [InlineData("3.505", null)]
    [InlineData("3.50+", null)]
    [InlineData("x", null)]
    [InlineData("", null)]
    [InlineData("9999999999", null)]
    public void Reads_amounts_as_people_type_them(string typed, int? minor) =>
        Assert.Equal(minor, (int?)TypedAmount.Read(typed, _dollar)?.Minor);

    /// <summary>Where a currency has three decimals, a group of three behind a comma is still thousands, unless nothing stands before
    /// it.</summary>
    [Theory]
    [InlineData("1,058", 1_058_000)]
    [InlineData("0,500", 500)]
    [InlineData("1,5", 1_500)]
    [InlineData("1.058", 1_058)]
    public void Reads_amounts_of_three_decimals(string typed, int minor) =>
        Assert.Equal(minor, (int?)TypedAmount.Read(typed, Currency.Of("KWD"))?.Minor);

    /// <summary>Where a store writes a comma before its decimals, points part thousands.</summary>
    [Theory]
    [InlineData("EUR", "48,15", 48_15)]
    [InlineData("EUR", "600", 600_00)]
    [InlineData("EUR", "600,00", 600_00)]
    [InlineData("EUR", "1.200", 1_200_00)]
    [InlineData("EUR", "1.200,5", 1_200_50)]
    [InlineData("EUR", "1,200.50", 1_200_50)]
    [InlineData("EUR", "58.20", 58_20)]
    [InlineData("EUR", "1,200", null)]
    [InlineData("EUR", "3,50+2,25", 5_75)]
    [InlineData("TND", "1,058", 1_058)]
    [InlineData("TND", "1.058", 1_058_000)]
    [InlineData("TND", "0,500", 500)]
    public void Reads_amounts_as_a_store_with_a_comma_writes_them(string code, string typed, int? minor) =>
        Assert.Equal(minor, (int?)TypedAmount.Read(typed, Currency.Of(code) with { DecimalMark = ',' })?.Minor);

    /// <summary>What a store writes is read as what it was.</summary>
    [Fact]
    public void What_is_written_is_read() =>
        Gen.Select(Gen.Int[-900_000_000, 900_000_000], Gen.OneOf(Gen.Const("JPY"), Gen.Const("EUR"), Gen.Const("KWD")),
                Gen.OneOf(Gen.Const(Currency.Point), Gen.Const(Currency.Comma)))
            .Sample((minor, code, mark) =>
            {
                var currency = Currency.Of(code) with { DecimalMark = mark };
                return TypedAmount.Read(currency.Say(new(minor)), currency) == new Money(minor)
                    && TypedAmount.Read(currency.Typed(new(minor)), currency) == new Money(minor);
            });

    [Fact]
    public void The_latest_word_of_machines_counts()
    {
        var drawer = CountTarget.Of(new DrawerId("L1-A"));
        MachineReading Reading(string device, string number, int minute, params MachineRow[] rows) =>
            new(device, number, new(2026, 11, 21, 21, minute, 0, TimeSpan.Zero), drawer, [.. rows]);
        var says = MachineSays.Of(
            [
                Reading("counter-1", "2", 5, new MachineRow(new(20_00), 31, null)),
                Reading("counter-1", "1", 1, new(new(20_00), 30, null), new(new(5_00), 8, null)),
                Reading("scale-1", "7", 3, new(new(25), null, 226.8m), new(new(10), null, 1.0m))
            ],
            Denominations.Of(_dollar), _dollar, Scale.Standard);
        Assert.Equal([(2000L, 31, "counter-1 2"), (500L, 8, "counter-1 1"), (25L, 40, "scale-1 7")],
            says.Where(s => s.Pieces is not null).Select(s => (s.Denomination.Minor, s.Pieces!.Value, s.Machine)));
        Assert.Contains("The scale cannot tell",
            RowFaultText.Of(Assert.Single(says, s => s.Pieces is null).Fault!, _dollar), StringComparison.Ordinal);
    }
}
