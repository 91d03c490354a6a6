using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Web.Pictures;

namespace Fondo.Web.Tests;

/// <summary>Direction, size and state can be read from the pictures, and from their words.</summary>
public sealed class Pictures
{
    private static readonly Currency _dollars = Currency.Of("USD");

    private static Bridge Of(long expected, long? proof, CellState state, params Entry[] entries)
    {
        Money? shown = proof is { } known ? new Money(known) : null;
        return Bridge.Of(new(_key, new(expected), 1, shown, null, state), entries, Money.Zero);
    }

    private static readonly CellKey _key = new CellKey.Takings(new("L1"), new("L1-A"), TenderId.Cash);

    private static Entry Entry(long amount, bool waits = false) =>
        new(Guid.NewGuid(), EntryKind.Record, [new(_key, new(amount))], "why", new("p1"),
            DateTimeOffset.UnixEpoch.AddSeconds(waits ? 1 : 0), [], null, waits, null);

    private static string Drawn(Bridge bridge) => CellPicture.Of(bridge, _dollars).ToString()!;

    private static double Number(string svg, string attribute) =>
        double.Parse(System.Text.RegularExpressions.Regex.Match(svg, $"<rect[^>]* {attribute}=\"([0-9.]+)\"").Groups[1].Value,
            System.Globalization.CultureInfo.InvariantCulture);

    [Fact]
    public void Over_stands_on_the_line_and_short_hangs_from_it()
    {
        var (over, under) = (Drawn(Of(0, 20_00, CellState.Off)), Drawn(Of(20_00, 0, CellState.Off)));
        Assert.Equal(22, Number(over, "y") + Number(over, "height"), 0.2);
        Assert.Equal(22, Number(under, "y"), 0.2);
        Assert.Contains("+20.00", over, StringComparison.Ordinal);
        Assert.Contains("−20.00", under, StringComparison.Ordinal);
    }

    [Fact]
    public void The_height_grows_with_the_amount_and_stays_within_the_cell()
    {
        var heights = new long[] { 1, 1_00, 20_00, 300_00, 90_000_00 }.Select(a => Number(Drawn(Of(0, a, CellState.Off)), "height"))
            .ToList();
        Assert.Equal(heights.Order(), heights);
        Assert.All(heights, h => Assert.InRange(h, 3, 18));
    }

    [Fact]
    public void States_differ_in_shape()
    {
        Assert.Contains("lv-waits", Drawn(Of(5, null, CellState.Waiting)), StringComparison.Ordinal);
        Assert.Contains("lv-books", Drawn(Of(5, null, CellState.JournalOnly)), StringComparison.Ordinal);
        Assert.Contains("lv-proved", Drawn(Of(5, 5, CellState.Proved)), StringComparison.Ordinal);
        Assert.Contains("tick", Drawn(Of(5, 2, CellState.Off, Entry(-3))), StringComparison.Ordinal);
        Assert.DoesNotContain("tick", Drawn(Of(5, 2, CellState.Off, Entry(-3, waits: true))), StringComparison.Ordinal);
        Assert.Contains("class=\"number\"", Drawn(Of(5, 5, CellState.Off)), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(5_00, 2_00, CellState.Off, "short 3.00")]
    [InlineData(5_00, 8_00, CellState.Off, "over 3.00")]
    [InlineData(5_00, 5_00, CellState.Proved, "5.00 proved")]
    [InlineData(5_00, null, CellState.Waiting, "waits for its proof")]
    [InlineData(5_00, 5_00, CellState.Off, "amounts match, counts don’t: 1 expected, 0 proved")]
    public void Words_say_what_the_picture_shows(long expected, int? proof, CellState state, string words) =>
        Assert.Equal(words, CellPicture.Describe(Of(expected, proof, state), _dollars));

    [Fact]
    public void The_bridge_names_every_step_and_what_is_left()
    {
        var svg = BridgePicture.Of(Of(100_00, 40_00, CellState.Off, Entry(-50_00), Entry(-5_00, waits: true)), _dollars, new Money(-1_00))
            .ToString()!;
        Assert.Contains(
            "Expected 100.00; Recorded −50.00; Recorded −5.00 (waits for approval); This entry −1.00; proof 40.00; left −10.00.", svg,
            StringComparison.Ordinal);
        Assert.Equal(3, System.Text.RegularExpressions.Regex.Count(svg, "class=\"step "));
        Assert.DoesNotContain("NaN", svg, StringComparison.Ordinal);
    }

    [Fact]
    public void Many_entries_are_drawn_as_few_steps_that_add_up_alike()
    {
        var svg = BridgePicture.Of(Of(100_00, 80_00, CellState.Off, [.. Enumerable.Repeat(0, 20).Select(_ => Entry(-1_00))]), _dollars,
            null).ToString()!;
        Assert.Contains("16 entries −16.00", svg, StringComparison.Ordinal);
        Assert.Equal(5, System.Text.RegularExpressions.Regex.Count(svg, "class=\"step "));
    }

    [Fact]
    public void Nothing_is_drawn_where_there_is_no_proof() =>
        Assert.Equal("", BridgePicture.Of(Of(5, null, CellState.Waiting), _dollars, null).ToString());
}
