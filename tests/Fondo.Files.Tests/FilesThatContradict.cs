using System.Text;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Tests;
using Fondo.Files.Mapping;
using Fondo.Files.Reading;

namespace Fondo.Files.Tests;

using Mapping = Fondo.Files.Mapping.Mapping;

/// <summary>A foreign file that says nonsense, or something that can be read in two ways, stops and says what it is; read the right way, it
/// comes to its own sums.</summary>
public sealed class FilesThatContradict
{
    private static readonly Setup _setup = MadeUp.Read([]).Day!.Setup;

    private static MappedFile Map(string text, Func<Mapping, Mapping>? change = null, Encoding? encoding = null)
    {
        var bytes = (encoding ?? new UTF8Encoding(false)).GetBytes(text);
        var guess = MappingGuess.Of("heron-2026-11-21.csv", bytes, _setup);
        return MappedFile.Of("heron.csv", bytes, change?.Invoke(guess) ?? guess, _setup);
    }

    private static long[] Amounts(MappedFile file)
    {
        Assert.True(file.Findings.Count == 0, string.Join("; ", file.Findings));
        return [.. BatchRows.Read(file.Text, _setup).Rows.Select(r => r.Signed.Minor)];
    }

    private static Ticket[] Tickets(MappedFile file)
    {
        Assert.True(file.Findings.Count == 0, string.Join("; ", file.Findings));
        return [.. MadeUp.Read(file.Text.Split('\n', StringSplitOptions.RemoveEmptyEntries)).Day!.Journal.OfType<Ticket>()];
    }

    private static void Stops(MappedFile file, int line, string says)
    {
        Assert.Contains(file.Findings, f => f.File == "heron.csv" && f.Line == line && f.Message.Contains(says, StringComparison.Ordinal));
    }

    private const string Head = "Terminal;Time;Amount;Type;Status\n";

    [Theory]
    [InlineData("-5.00;sale", "the row says sale and its sign says refund")]
    [InlineData("5.00;refund", "the row says refund and its sign says sale")]
    public void A_type_against_its_sign_stops(string row, string says) =>
        Stops(Map(Head + $"T-1;2026-11-21 09:14:00;-9.00;refund;ok\nT-1;2026-11-21 09:15:00;{row};ok\n",
            m => m with { Signs = MappedSigns.NegativeRefunds }), 3, says);

    [Theory]
    [InlineData("approved", 2)]
    [InlineData("Declined", 1)]
    [InlineData("VOIDED", 1)]
    public void Declined_and_voided_rows_are_left_out(string status, int taken) =>
        Assert.Equal(taken,
            Amounts(Map(Head + $"T-1;2026-11-21 09:14:00;5.00;sale;ok\nT-1;2026-11-21 09:15:00;7.00;sale;{status}\n")).Length);

    [Fact]
    public void A_status_that_nobody_explained_stops_and_can_be_explained()
    {
        const string text = Head + "T-1;2026-11-21 09:14:00;5.00;sale;Z4\n";
        Stops(Map(text), 2, "expected approved, void or declined");
        Assert.Null(MappedFile.MeaningOf(MappedFields.Status, "Z4", Mapping.Blank, _setup));
        Assert.Empty(Amounts(Map(text, m => m with
        {
            Words = m.Words.SetItem(MappedFields.Status,
                System.Collections.Immutable.ImmutableDictionary<string, string>.Empty.Add("Z4", "declined"))
        })));
    }

    [Theory]
    [InlineData("Total;;12.00;;", null)] // all of it
    [InlineData("Total;;-12.00;;", null)] // as a payer's side writes it
    [InlineData("Total;;19.00;;", null)] // with the voided one
    [InlineData("Total;;12.01;;", "this row of totals says 12.01, but the rows above it come to 12.00")]
    [InlineData("Total;;;;", null)] // says nothing
    public void A_row_of_totals_is_compared(string totals, string? says)
    {
        var file = Map($"{Head}T-1;2026-11-21 09:14:00;5.00;sale;ok\nT-1;2026-11-21 09:15:00;7.00;sale;ok\n"
            + $"T-1;2026-11-21 09:16:00;7.00;sale;void\n{totals}\n");
        if (says is null)
        {
            Assert.Equal([500, 700], Amounts(file));
        }
        else
        {
            Stops(file, 5, says);
        }
    }

    [Fact]
    public void Totals_of_each_terminal_and_of_all_are_compared()
    {
        const string text = """
            Terminal;Time;Amount
            T-1;2026-11-21 09:14:00;5.00
            T-1;2026-11-21 09:15:00;7.00
            Total T-1;;12.00
            T-2;2026-11-21 09:16:00;3.00
            Total T-2;;3.00
            Grand total;;15.00
            """;
        Assert.Equal([500, 700, 300], Amounts(Map(text)));
        Stops(Map(text.Replace("Total T-2;;3.00", "Total T-2;;4.00", StringComparison.Ordinal)), 6, "says 4.00");
    }

    [Fact]
    public void All_signs_turned_stop()
    {
        var text = "Terminal;Time;Amount\n" + string.Join('\n', Enumerable.Range(10, 5).Select(n => $"T-1;2026-11-21 09:{n}:00;-5.00"));
        Stops(Map(text, m => m with { Signs = MappedSigns.NegativeRefunds }), 2, "all 5 rows would be refunds, by their sign alone");
        Assert.All(Amounts(Map(text)), a => Assert.Equal(500, a)); // guessed: a minus is a sale
    }

    [Fact]
    public void A_column_is_one_thing_and_a_name_stands_once()
    {
        const string text = "Terminal;Time;Amount;Amount\nT-1;2026-11-21 09:14:00;5.00;7.00\n";
        Stops(Map(text), 1, "several columns of this name");
        var doubled = Mapping.Blank with { Columns = Mapping.Blank.Columns.Add(MappedFields.Amount, "A").Add(MappedFields.Tip, "a") };
        Assert.Contains(MappingText.Objections(doubled),
            o => o.Sentence.Contains("cannot be both amount and tip", StringComparison.Ordinal));
        Assert.Null(MappingText.Read("m.json", MappingText.Write(doubled)).Mapping); // neither kept nor used headless
    }

    [Fact]
    public void Whole_numbers_are_asked_about()
    {
        const string text = "Terminal;Time;Amount\nT-1;2026-11-21 09:14:00;1284\nT-1;2026-11-21 09:15:00;500\n";
        Stops(Map(text), 2, "say in the mapping whether 1284 is in whole units or in the smallest unit");
        Assert.Equal([1284, 500], Amounts(Map(text, m => m with { Whole = WholeAmounts.Minor })));
        Assert.Equal([128400, 50000], Amounts(Map(text, m => m with { Whole = WholeAmounts.Units })));
        Assert.Equal([128400, 550], Amounts(Map(text.Replace("500", "5.50", StringComparison.Ordinal)))); // one has decimals: all have
    }

    [Fact]
    public void A_tip_beside_its_amount_is_asked_about()
    {
        const string text = "Terminal;Time;Amount;Tip\nT-1;2026-11-21 09:14:00;20.00;3.00\n";
        Stops(Map(text), 2, "the amount may include the tip or not");
        Assert.Equal([2000], Amounts(Map(text, m => m with { Tip = PartOfAmount.Inside })));
        var beside = Map(text, m => m with { Tip = PartOfAmount.Beside });
        Assert.Equal([2300], Amounts(beside));
        Assert.Equal(300, BatchRows.Read(beside.Text, _setup).Rows[0].Tip.Minor);
    }

    [Fact]
    public void Change_is_decided_by_the_total_or_asked_about()
    {
        string Journal(string total, string amount) => "Receipt No,Lane,Date Time,Payment,Amount,Change,Receipt Total\n"
            + $"1002,L2,2026-11-21 09:05,Cash,{amount},7.07,{total}\n";
        var gross = Assert.Single(Tickets(Map(Journal("12.93", "20.00"))));
        var net = Assert.Single(Tickets(Map(Journal("12.93", "12.93"))));
        Assert.All([gross, net], t => Assert.Equal((1293L, 2000L, 707L),
            (t.Total.Minor, t.Tenders[0].Amount.Minor, t.Tenders[0].Change.Minor)));
        Stops(Map(Journal("12.94", "20.00")), 2, "expected 12.93");
        Stops(Map(Journal("", "20.00")), 2, "the amount may include the change given or not");
    }

    [Fact]
    public void A_voided_row_of_a_ticket_is_asked_about()
    {
        const string text = """
            Receipt No,Lane,Date Time,Payment,Amount,Status
            1001,L2,2026-11-21 09:00,Cash,5.00,OK
            1001,L2,2026-11-21 09:00,Check,7.00,VOIDED
            1002,L2,2026-11-21 09:05,Cash,3.00,VOIDED
            """;
        Stops(Map(text), 3, "only some rows of ticket L2-1001 are voided");
        var alone = Tickets(Map(text, m => m with { Voided = VoidedIs.Row }));
        Assert.Equal([500L, 300], alone.Select(t => t.Total.Minor));
        Assert.Equal([1200L, 300], Tickets(Map(text, m => m with { Voided = VoidedIs.Ticket })).Select(t => t.Total.Minor));
    }

    [Fact]
    public void A_word_for_benefits_that_nobody_explained_stops() =>
        Stops(Map("Terminal;Time;Amount;Benefit\nT-1;2026-11-21 09:14:00;5.00;groceries\n"), 2, "expected food or cash");

    [Fact]
    public void A_file_of_another_day_is_named()
    {
        var file = Map("Terminal;Time;Amount\nT-1;2026-11-20 09:14:00;5.00\nT-1;2026-11-20 09:15:00;5.00\n");
        var finding = file.OfAnotherDay("heron.csv", new(2026, 11, 21), _setup);
        Assert.Equal(("heron.csv", 2, "none of its rows is of 2026-11-21; the first is of 2026-11-20"),
            (finding!.File, finding.Line, finding.Message));
        Assert.Null(file.OfAnotherDay("heron.csv", new(2026, 11, 20), _setup));
    }

    /// <summary>The euro sign of Windows-1252, which Latin-1 does not have; UTF-16 with and without its mark.</summary>
    [Fact]
    public void Letters_of_other_encodings_are_guessed()
    {
        const string text = "Terminal;Time;Amount;Brand\nT-1;2026-11-21 09:14:00;€ 5.00;Café\n";
        foreach (var encoding in new[]
        {
            CodePagesEncodingProvider.Instance.GetEncoding(1252)!, new UnicodeEncoding(false, false), new UnicodeEncoding(true, false),
            new UTF8Encoding(false),
        })
        {
            var file = Map(text, encoding: encoding);
            Assert.Equal([500], Amounts(file));
            Assert.Equal("Café", BatchRows.Read(file.Text, _setup).Rows[0].Card.Brand);
        }
    }

    [Theory]
    [InlineData("20261121 081620")]
    [InlineData("20261121 0816")]
    [InlineData("2026-11-21 08:16")]
    public void Times_without_signs_are_guessed(string at)
    {
        var file = Map($"Terminal;When;Amount\nT-1;{at};5.00\nT-2;{at};6.00\n");
        Assert.Equal([500, 600], Amounts(file));
        Assert.All(file.Days, d => Assert.Equal((8, 16), (d.Hour, d.Minute)));
    }

    /// <summary>A mapping that was kept before these were asked reads as it did.</summary>
    [Fact]
    public void What_an_older_mapping_says_stays()
    {
        var text = MappingText.Write(Mapping.Blank with
        {
            Name = "heron",
            Files = "heron*.csv",
            Columns = Mapping.Blank.Columns
            .Add(MappedFields.Terminal, "T").Add(MappedFields.At, "W").Add(MappedFields.Amount, "A"),
            Tip = PartOfAmount.Asked
        });
        var older = System.Text.Json.Nodes.JsonNode.Parse(text)!.AsObject();
        foreach (var name in new[] { "whole", "change", "tip", "voided" })
        {
            Assert.True(older.Remove(name));
        }

        var read = MappingText.Read("m.json", older.ToJsonString()).Mapping!;
        Assert.Equal((WholeAmounts.Units, PartOfAmount.Inside, PartOfAmount.Inside, VoidedIs.Ticket),
            (read.Whole, read.Change, read.Tip, read.Voided));
        Assert.Equal(PartOfAmount.Asked, MappingText.Read("m.json", text).Mapping!.Tip);
    }
}
