using CsCheck;
using Fondo.Core.Amounts;

namespace Fondo.Core.Tests;

public sealed class Amounts
{
    private static readonly Currency _dollars = Currency.Of("USD");

    [Theory]
    [InlineData("12.93", 1293)]
    [InlineData("-4.00", -400)]
    [InlineData("0.00", 0)]
    [InlineData("0.05", 5)]
    [InlineData("1234567.89", 123456789)]
    public void Reads_and_writes_amounts(string text, long minor)
    {
        Assert.True(_dollars.TryParse(text, out var amount));
        Assert.Equal(minor, amount.Minor);
        Assert.Equal(text, _dollars.Format(amount));
    }

    [Theory]
    [InlineData("")]
    [InlineData("12")]
    [InlineData("12.9")]
    [InlineData("12.933")]
    [InlineData("+12.93")]
    [InlineData("1,234.00")]
    [InlineData("1e3.00")]
    [InlineData(" 1.00")]
    [InlineData(".50")]
    [InlineData("-.50")]
    [InlineData("NaN")]
    [InlineData("99999999999999999999.00")]
    [InlineData("１２.００")]
    public void Refuses_what_is_no_amount(string text) => Assert.False(_dollars.TryParse(text, out _));

    [Fact]
    public void What_is_written_is_read_again() =>
        Gen.Long[-999_999_999, 999_999_999].Select(Gen.Int[0, 3].Select(i => new[] { "USD", "JPY", "KWD", "CLF" }[i]))
            .Sample((minor, code) =>
        {
            var currency = Currency.Of(code);
            Assert.True(currency.TryParse(currency.Format(new(minor)), out var read));
            Assert.Equal(minor, read.Minor);
        });

    // ISO 4217, from memory.
    [Theory]
    [InlineData("USD", 2)]
    [InlineData("JPY", 0)]
    [InlineData("KWD", 3)]
    [InlineData("EUR", 2)]
    public void Minor_units(string code, int digits) => Assert.Equal(digits, Currency.Of(code).MinorDigits);

    [Fact]
    public void Sums_that_overflow_are_never_wrapped() => Assert.Throws<OverflowException>(() => new Money(long.MaxValue) + new Money(1));

    // Hamilton's method: 10.00 in thirds leaves one cent, which goes to the first (common practice: ties by order).
    [Theory]
    [InlineData(1000, new long[] { 1, 1, 1 }, new long[] { 334, 333, 333 })]
    [InlineData(-1000, new long[] { 1, 1, 1 }, new long[] { -334, -333, -333 })]
    [InlineData(100, new long[] { 475, 600, 900 }, new long[] { 24, 30, 46 })]
    [InlineData(7, new long[] { 0, 5, 0 }, new long[] { 0, 7, 0 })]
    public void Shares_by_largest_remainder(long amount, long[] weights, long[] parts) =>
        Assert.Equal(parts, Shares.Of(new(amount), weights).Select(p => p.Minor));

    [Fact]
    public void Shares_add_up_and_stay_within_a_cent_of_their_quota() =>
        Gen.Int[-1_000_000, 1_000_000].Select(Gen.Long[0, 100_000].Array[1, 12]).Where((_, w) => w.Sum() > 0).Sample((amount, weights) =>
        {
            var parts = Shares.Of(new(amount), weights);
            Assert.Equal(amount, parts.Sum().Minor);
            for (var i = 0; i < weights.Length; i++)
            {
                Assert.True(Math.Abs(parts[i].Minor - (amount * (decimal)weights[i] / weights.Sum())) < 1);
            }
        });

    [Fact]
    public void Nothing_can_be_shared_by_nothing() => Assert.Throws<ArgumentException>(() => Shares.Of(new(5), [0, 0]));
}
