using Fondo.Core.Days;
using Fondo.Core.Journal;

namespace Fondo.Core.Tests;

/// <summary>Cells by the three words that files, addresses and the database hold: they were written by stores of every version.</summary>
public sealed class NamesOfCells
{
    public static TheoryData<string, CellKey> Written => new()
    {
        { "L1/L1-A/cash", new CellKey.Takings(new("L1"), new("L1-A"), TenderId.Cash) },
        { "L1/-/credit", new CellKey.Takings(new("L1"), null, TenderId.Credit) },
        { "-/-/credit", new CellKey.Takings(null, null, TenderId.Credit) },
        { "-/-/@safe", new CellKey.Safe() },
        { "-/B-311/@bag", new CellKey.Bag("B-311") },
        { "-/A/7 no. 2/@bag", new CellKey.Bag("A/7 no. 2") },
        { "L2/L2-B/@float", new CellKey.Float(new("L2"), new("L2-B")) },
        { "-/17/@deposit", new CellKey.Deposit(17) },
        { "-/ST-1/4/@bank", new CellKey.BankLine("ST-1/4") },
        { "-/cards 2026-11-18/@funding", new CellKey.Funding("cards", new(new(2026, 11, 18)), 0) },
        { "-/card host 2026-11-18 +2/@funding", new CellKey.Funding("card host", new(new(2026, 11, 18)), 2) },
    };

    [Theory]
    [MemberData(nameof(Written))]
    public void Every_kind_reads_as_it_is_written(string text, CellKey cell)
    {
        Assert.Equal(text, cell.ToString());
        var read = CellName.Parse(text)!.Value.Cell!;
        Assert.Equal(cell, read);
        Assert.Equal(cell.GetHashCode(), read.GetHashCode());
        Assert.Equal(0, cell.CompareTo(read));
        Assert.Equal(cell is not CellKey.Takings, cell.IsPlace);
    }

    [Theory]
    [InlineData("-/17/@moon")]
    [InlineData("-/seventeen/@deposit")]
    [InlineData("-/-/@deposit")]
    [InlineData("-/-/@bag")]
    [InlineData("-/L1-A/@float")]
    [InlineData("-/cards/@funding")]
    [InlineData("-/cards 2026-31-18/@funding")]
    public void What_is_no_place_is_none(string text) => Assert.Null(CellName.Parse(text)!.Value.Cell);

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("cash")]
    [InlineData("L1/cash")]
    public void What_is_no_name_is_none(string? text) => Assert.Null(CellName.Parse(text));

    /// <summary>Registers, then drawers, then tenders, each by its letters; what is at no register first.</summary>
    [Fact]
    public void They_stand_in_the_order_of_their_words()
    {
        var cells = Written.Select(r => r.Data.Item2).ToList();
        var names = cells.Order().Select(c => c.Written).ToList();
        Assert.Equal(names.OrderBy(n => n.Register, StringComparer.Ordinal).ThenBy(n => n.Drawer, StringComparer.Ordinal)
            .ThenBy(n => n.Tender, StringComparer.Ordinal), names);
    }
}
