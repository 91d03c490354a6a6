using CsCheck;
using Fondo.Core.Amounts;

namespace Fondo.Core.Tests;

/// <summary>Rules §7.</summary>
public sealed class SlipsOfTheHand
{
    [Theory]
    [InlineData(10_79, 17_09, Slip.Transposition)]
    [InlineData(12_34, 21_34, Slip.Transposition)]
    [InlineData(1_09, 19, Slip.Transposition)]
    [InlineData(12_34, 123_40, Slip.Decimal)]
    [InlineData(12_34, 1234_00, Slip.Decimal)]
    [InlineData(123_40, 12_34, Slip.Decimal)]
    [InlineData(12_34, 1_24, Slip.DroppedDigit)]
    [InlineData(1_24, 12_34, Slip.DroppedDigit)]
    [InlineData(12_34, 122_34, Slip.DoubledDigit)]
    [InlineData(12_34, 12_84, Slip.OneDigit)]
    [InlineData(50_00, 62_50, Slip.Tip)]
    [InlineData(50_00, 65_00, Slip.Tip)]
    [InlineData(50_00, 66_10, null)]
    [InlineData(62_50, 50_00, null)] // the row cannot be below the tender for a tip
    [InlineData(12_34, -12_34, Slip.Sign)]
    [InlineData(12_34, 24_68, Slip.Double)]
    [InlineData(24_68, 12_34, Slip.Double)]
    [InlineData(12_34, 12_34, null)]
    [InlineData(12_34, -21_34, null)]
    [InlineData(0, 5_00, null)]
    [InlineData(12_34, 98_76, null)]
    public void A_slip_is_told_by_its_two_amounts(long recorded, long charged, Slip? slip) =>
        Assert.Equal(slip, Slips.Between(new(recorded), new(charged)));

    [Fact]
    public void Exchanged_neighbours_differ_by_a_multiple_of_nine_and_are_always_explained() =>
        Gen.Int[1000, 9_999_999].Select(Gen.Int[0, 5]).Sample((amount, place) =>
        {
            var digits = amount.ToString(System.Globalization.CultureInfo.InvariantCulture).ToCharArray();
            var i = place % (digits.Length - 1);
            (digits[i], digits[i + 1]) = (digits[i + 1], digits[i]);
            var other = long.Parse(new string(digits), System.Globalization.CultureInfo.InvariantCulture);
            Assert.Equal(0, (amount - other) % 9);
            Assert.Equal(amount == other || other == 0, Slips.Between(new(amount), new(other)) is null);
        });
}
