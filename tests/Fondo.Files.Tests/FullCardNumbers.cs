using System.Text;
using Fondo.Files.Text;

namespace Fondo.Files.Tests;

/// <summary>What is a full card number (ISO/IEC 7812-1, files.md), wherever it stands. The numbers are invented: their check digits fit,
/// their issuers do not exist.</summary>
public sealed class FullCardNumbers
{
    [Theory]
    [InlineData("4000000000000002")]
    [InlineData("4000 0000 0000 0002")]
    [InlineData("4000-0000-0000-0002")]
    [InlineData("4000 0000 0000 0002 12/26")] // with what often stands behind it
    [InlineData("4000 0000 0000 0002 1226")]
    [InlineData("1226 4000 0000 0000 0002")]
    [InlineData("call 555 4000000000000002 tonight")]
    [InlineData("4000 0000 0000 0002 123 45 6")]
    [InlineData("card: 4000\u00a00000\u00a00000\u00a00002")] // no-break spaces
    [InlineData("4000\u20110000\u20110000\u20110002")] // no-break hyphens
    [InlineData("4000\u200b0000\u200b0000\u200b0002")] // spaces of no width
    [InlineData("\uff14\uff10\uff10\uff10\uff10\uff10\uff10\uff10\uff10\uff10\uff10\uff10\uff10\uff10\uff10\uff12")] // wide digits
    [InlineData("4000000000006")] // thirteen
    [InlineData("4000.0000.0000.0002")]
    [InlineData("4000\n0000\r\n0000\n0002")]
    [InlineData("40000000\t00000002")]
    public void Is_found(string text)
    {
        Assert.True(CardNumbers.Contains(text), text);
        Assert.True(CardNumbers.MayBeIn(Encoding.UTF8.GetBytes(text)), "the quick look passes nothing over");
    }

    [Theory]
    [InlineData("4000000000000003")] // the check digit does not fit
    [InlineData("40000000000000020000")] // twenty digits
    [InlineData("4000 0000 0000")] // twelve
    [InlineData("4000/0000/0000/0002")]
    [InlineData("40.00 00.00 00.00 00.02")] // amounts
    [InlineData("4000000.0 00000002")]
    [InlineData("2026-11-21T21:42:00-05:00")]
    [InlineData("T-01/118/44, L1-000150#1")]
    [InlineData("")]
    public void Is_not_found(string text) => Assert.False(CardNumbers.Contains(text), text);

    /// <summary>The same in every piece of a stream: whatever the cuts, it is found where it stands, and article numbers are passed
    /// over.</summary>
    [Theory]
    [InlineData("{\"note\":\"4000 0000 0000 0002 12/26\"}", true)]
    [InlineData("{\"id\":\"a\",\n \"name\": \"x 4000000000000002\"}", true)]
    [InlineData("terminal,auth\nT-01,4000000000000002", true)]
    [InlineData("{\"sku\":\"4000000000000002\"}", false)]
    [InlineData("{\"sku\" : \"no. 4000000000000002\", \"qty\":\"1\"}", false)]
    [InlineData("{\"sku\":\"1\",\"name\":\"4000000000000002\"}", true)]
    [InlineData("{\"sku\":\"a\\\"b\",\"name\":\"4000000000000002\"}", true)]
    [InlineData("terminal,sku\nT-01,4000000000000002", false)]
    [InlineData("sku,terminal\n4000000000000002,T-01", false)]
    [InlineData("{\"at\":\"2026-11-21T21:42:00-05:00\",\"amount\":\"400000.00\"}", false)]
    public void Is_found_while_a_file_comes_in(string text, bool holds)
    {
        var bytes = Encoding.UTF8.GetBytes(text);
        for (var cut = 0; cut <= bytes.Length; cut++)
        {
            var scan = new CardNumberScan();
            Assert.Equal(holds, scan.Finds(bytes.AsSpan(0, cut)) || scan.Finds(bytes.AsSpan(cut)) || scan.FindsAtEnd());
        }
    }

    /// <summary>Ten thousand spellings: digits of four scripts, in groups of three and more, with whatever a person or a program puts
    /// between them.</summary>
    [Fact]
    public void However_it_is_spelled()
    {
        var random = new Random(11);
        string[] between = ["", " ", "-", "\u00a0", "\u2011", "\u200b", "\u2009", "\u00ad", ".", "\t", "\n", "\r\n", " - ", "  "];
        int[] zeros = ['0', '\uff10', '\u0660', '\u0966'];
        for (var i = 0; i < 10_000; i++)
        {
            var first = Enumerable.Range(0, random.Next(12, 19)).Select(_ => (byte)random.Next(10)).ToArray();
            byte[] number = [.. first, (byte)CardNumbers.CheckDigit(first)];
            var (text, group, zero) = (new StringBuilder(random.Next(2) == 0 ? "card " : ""), 0, zeros[random.Next(zeros.Length)]);
            for (var place = 0; place < number.Length; place++)
            {
                if (group >= 3 && number.Length - place >= 3 && random.Next(3) == 0)
                {
                    text.Append(between[random.Next(between.Length)]);
                    group = 0;
                }

                text.Append((char)(zero + number[place]));
                group++;
            }

            text.Append(random.Next(2) == 0 ? ", please" : "");
            Assert.True(CardNumbers.Contains(text.ToString()), text.ToString());
            Assert.True(CardNumbers.MayBeIn(Encoding.UTF8.GetBytes(text.ToString())), "the quick look passes nothing over");
        }
    }

    /// <summary>What the scan finds the slow way finds as well: in random groups of digits.</summary>
    [Fact]
    public void The_scan_and_the_check_agree()
    {
        var random = new Random(7);
        var found = 0;
        for (var i = 0; i < 20_000; i++)
        {
            var text = string.Join(random.Next(2) == 0 ? " " : "-",
                Enumerable.Range(0, random.Next(1, 7))
                    .Select(_ => string.Concat(Enumerable.Range(0, random.Next(1, 9)).Select(_ => random.Next(10)))));
            var scan = new CardNumberScan();
            var holds = CardNumbers.Contains(text);
            Assert.True(holds == (scan.Finds(Encoding.ASCII.GetBytes(text)) || scan.FindsAtEnd()), text);
            Assert.True(holds == ByTheRule(text), text);
            found += holds ? 1 : 0;
        }

        Assert.InRange(found, 1_000, 19_000);
    }

    /// <summary>The rule, word for word: whole groups one behind the other, 13 to 19 digits, the check digit fits.</summary>
    private static bool ByTheRule(string text)
    {
        var groups = text.Split(' ', '-');
        return Enumerable.Range(0, groups.Length)
            .Any(from => Enumerable.Range(from, groups.Length - from).Select(to => string.Concat(groups[from..(to + 1)]))
                .Any(n => n.Length is >= 13 and <= 19 && Luhn(n)));
    }

    private static bool Luhn(string digits) =>
        digits.Reverse().Select((c, i) => (c - '0') * (i % 2 == 0 ? 1 : 2)).Sum(d => d > 9 ? d - 9 : d) % 10 == 0;
}
