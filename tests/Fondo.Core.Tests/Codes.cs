using System.Text;
using CsCheck;
using Fondo.Core.Journal;

namespace Fondo.Core.Tests;

/// <summary>A code is its text: as equal, in the same order, and read back as it was.</summary>
public sealed class Codes
{
    private static readonly Gen<string> _texts = Gen.OneOf(
        Gen.Char["0123456789"].Array[0, 18].Select(c => new string(c)),
        Gen.Char["L0-19Aé "].Array[0, 40].Select(c => new string(c)),
        Gen.Select(Gen.OneOf(Gen.Const("L1-"), Gen.Const("L10-"), Gen.Const("L2-0"), Gen.Const(""), Gen.Const("T-01 ")),
            Gen.Int[0, 1_200_000]).Select((before, number) => before + number.ToString(System.Globalization.CultureInfo.InvariantCulture)));

    [Theory]
    [InlineData("L23-024112", "L23-", 24112, 6)]
    [InlineData("632507000001", "", 632507000001, 12)]
    [InlineData("A1B2C3", "A1B2C", 3, 1)]
    [InlineData("web", "web", 0, 0)]
    [InlineData("000", "", 0, 3)]
    [InlineData("", "", 0, 0)]
    [InlineData("1234567890123456", "1", 234567890123456, 15)]
    public void A_text_is_taken_apart_at_its_last_digits(string text, string before, long number, int digits)
    {
        Code code = text;
        Assert.Equal((before, number, digits, text), (code.Before, code.Number, code.Digits, code.Text));
    }

    [Fact]
    public void No_text_is_no_code()
    {
        Code none = null;
        Assert.False(none.IsThere);
        Assert.Null(none.Text);
        Assert.NotEqual(none, (Code)"");
        Assert.True(none < "");
    }

    [Fact]
    public void Every_text_comes_back() => _texts.Sample(text =>
    {
        var (code, read) = ((Code)text, Code.OfUtf8(Encoding.UTF8.GetBytes(text), Encoding.UTF8.GetString));
        Span<byte> ascii = stackalloc byte[64];
        Assert.Equal(text, code.Text);
        Assert.Equal(code, read);
        Assert.Equal(code.GetHashCode(), read.GetHashCode());
        Assert.Equal(text, code.TextIn(new char[20]).ToString());
        Assert.Equal(Ascii.IsValid(text), code.TryWrite(ascii, out var length));
        if (Ascii.IsValid(text))
        {
            Assert.Equal(text, Encoding.ASCII.GetString(ascii[..length]));
        }

        Assert.False(text.Length > 0 && code.TryWrite(ascii[..(text.Length - 1)], out _));
    });

    [Fact]
    public void Codes_compare_as_their_texts() => Gen.Select(_texts, _texts).Sample((a, b) =>
    {
        Assert.Equal(Math.Sign(string.CompareOrdinal(a, b)), Math.Sign(((Code)a).CompareTo(b)));
        Assert.Equal(a == b, (Code)a == (Code)b);
    });
}
