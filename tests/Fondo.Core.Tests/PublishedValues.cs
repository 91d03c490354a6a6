using System.Globalization;
using Fondo.Core.Amounts;

namespace Fondo.Core.Tests;

/// <summary>The arithmetic against values that somebody else has published.</summary>
public sealed class PublishedValues
{
    // Government of Canada, cash rounding guideline (from memory): 1, 2, 6, 7 go down; 3, 4, 8, 9 go up to the nearest 5.
    [Theory]
    [InlineData(10_00, 10_00)]
    [InlineData(10_01, 10_00)]
    [InlineData(10_02, 10_00)]
    [InlineData(10_03, 10_05)]
    [InlineData(10_04, 10_05)]
    [InlineData(10_05, 10_05)]
    [InlineData(10_06, 10_05)]
    [InlineData(10_07, 10_05)]
    [InlineData(10_08, 10_10)]
    [InlineData(10_09, 10_10)]
    [InlineData(-10_03, -10_05)]
    public void Cash_rounding_where_the_smallest_coin_is_five(long total, long rounded) =>
        Assert.Equal(rounded, new Money(total).ToNearest(new(5)).Minor);

    [Fact]
    public void There_is_no_coin_worth_nothing() => Assert.Throws<ArgumentOutOfRangeException>(() => new Money(5).ToNearest(Money.Zero));

    // Streamlined Sales and Use Tax Agreement, section 324 (from memory): to the third decimal, up when that digit is above four.
    [Theory]
    [InlineData(1_00, "0.0825", 8)] // 0.082
    [InlineData(1_03, "0.0825", 8)] // 0.084
    [InlineData(1_04, "0.0825", 9)] // 0.085
    [InlineData(50, "0.07", 4)] // 0.035
    [InlineData(49, "0.07", 3)] // 0.034
    [InlineData(-50, "0.07", -4)]
    [InlineData(999_999_999_99, "0.0825", 82_500_000_00)]
    public void Tax_to_the_cent(long amount, string rate, long tax) =>
        Assert.Equal(tax, new Money(amount).Times(decimal.Parse(rate, CultureInfo.InvariantCulture)).Minor);

    // Hamilton's method on the first apportionment of the US House, 1790 census, 120 seats (from memory): the seats of the bill that was
    // vetoed in 1792.
    [Fact]
    public void Largest_remainder_as_in_the_bill_of_1792()
    {
        long[] population = [630_560, 475_327, 433_611, 353_523, 331_589, 278_514, 236_841, 206_236, 179_570, 141_822, 85_533, 70_835,
            68_705, 68_446, 55_540];
        long[] seats = [21, 16, 14, 12, 11, 9, 8, 7, 6, 5, 3, 2, 2, 2, 2];
        Assert.Equal(seats, Shares.Of(new(120), population).Select(s => s.Minor));
    }

    /// <summary>CLDR gives the digits in common use, ISO 4217 those of the minor unit: where inflation has done away with it, they differ
    /// (from memory).</summary>
    private static readonly Dictionary<string, int> _outOfUse = new()
    {
        ["AFN"] = 2,
        ["ALL"] = 2,
        ["IQD"] = 3,
        ["IRR"] = 2,
        ["KPW"] = 2,
        ["LAK"] = 2,
        ["LBP"] = 2,
        ["MGA"] = 2,
        ["MMK"] = 2,
        ["RSD"] = 2,
        ["SOS"] = 2,
        ["SYP"] = 2,
        ["YER"] = 2,
    };

    [Fact]
    public void Minor_units_agree_with_the_runtimes_locale_data()
    {
        var digits = CultureInfo.GetCultures(CultureTypes.SpecificCultures).Where(c => c.Name.Length > 0)
            .Select(c => (new RegionInfo(c.Name).ISOCurrencySymbol, c.NumberFormat.CurrencyDecimalDigits))
            .Where(c => c.ISOCurrencySymbol.Length == 3 && c.ISOCurrencySymbol != "XXX").DistinctBy(c => c.ISOCurrencySymbol).ToList();
        Assert.InRange(digits.Count, 100, 300); // without locale data there would be one
        Assert.All(digits, c => Assert.Equal(
            (c.ISOCurrencySymbol, _outOfUse.GetValueOrDefault(c.ISOCurrencySymbol, c.CurrencyDecimalDigits)),
            (c.ISOCurrencySymbol, Currency.Of(c.ISOCurrencySymbol).MinorDigits)));
    }
}
