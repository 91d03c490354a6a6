using System.Globalization;
using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Tests;
using Fondo.Files.Mapping;
using Fondo.Files.Text;

namespace Fondo.Files.Tests;

using Mapping = Fondo.Files.Mapping.Mapping;

/// <summary>What flat journals hold beside payments: change in a row of its own, movements of cash, times of another zone.</summary>
public sealed class FlatJournals
{
    private static readonly Setup _setup = MadeUp.Read([]).Day!.Setup;

    private static MappedFile Map(string text, Func<Mapping, Mapping>? answer = null)
    {
        var bytes = Encoding.UTF8.GetBytes(text);
        var guess = MappingGuess.Of("tape-2026-11-21.csv", bytes, _setup);
        return MappedFile.Of("tape.csv", bytes, answer?.Invoke(guess) ?? guess, _setup);
    }

    private static T Only<T>(MappedFile file)
        where T : JournalEvent
    {
        Assert.True(file.Findings.Count == 0, string.Join("\n", file.Findings));
        var reading = MadeUp.Read(file.Text.Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.True(reading.Findings.Count == 0, string.Join("\n", reading.Findings));
        return Assert.Single(reading.Day!.Journal.OfType<T>());
    }

    private const string Head = "Ticket,Register,Date Time,Payment,Amount,Total\n";

    /// <summary>A twenty for 12.93: in cash 20.00, back 7.07.</summary>
    [Theory]
    [InlineData("1,L2,2026-11-21 10:00,Cash,20.00,\n1,L2,2026-11-21 10:00,Change,-7.07,\n")]
    [InlineData("1,L2,2026-11-21 10:00,Cash,20.00,\n1,L2,2026-11-21 10:00,Change,7.07,\n")]
    [InlineData("1,L2,2026-11-21 10:00,Change,-7.07,\n1,L2,2026-11-21 10:00,Cash,20.00,\n")]
    [InlineData("1,L2,2026-11-21 10:00,Cash,20.00,12.93\n1,L2,2026-11-21 10:00,Cash,-7.07,12.93\n")]
    public void Change_in_a_row_of_its_own_is_change(string rows)
    {
        var ticket = Only<Ticket>(Map(Head + rows));
        var cash = Assert.Single(ticket.Tenders);
        Assert.Equal((12_93L, 20_00L, 7_07L), (ticket.Total.Minor, cash.Amount.Minor, cash.Change.Minor));
    }

    /// <summary>Cash back and forth on a ticket without a total: a person says.</summary>
    [Fact]
    public void Cash_back_without_a_total_is_asked_about()
    {
        const string rows = Head + "1,L2,2026-11-21 10:00,Cash,20.00,\n1,L2,2026-11-21 10:00,Cash,-7.07,\n";
        Assert.Contains("set in the mapping whether change has a row of its own", Map(rows).Findings[0].Message, StringComparison.Ordinal);
        Assert.Equal(12_93L, Only<Ticket>(Map(rows, m => m with { Change = PartOfAmount.OwnRow })).Total.Minor);
    }

    [Theory]
    [InlineData("1,L2,2026-11-21 10:00,Change,-7.07,\n", "expected a payment in cash")]
    [InlineData("1,L2,2026-11-21 10:00,Credit,20.00,\n1,L2,2026-11-21 10:00,Change,-7.07,\n", "expected a payment in cash")]
    [InlineData("1,L2,2026-11-21 10:00,Cash,5.00,\n1,L2,2026-11-21 10:00,Change,-7.07,\n", "expected no more change")]
    public void Change_without_the_cash_for_it_stops(string rows, string says) =>
        Assert.Contains(says, Map(Head + rows).Findings[0].Message, StringComparison.Ordinal);

    /// <summary>20.00 for goods and 3.00 for who served, in a row of its own: 23.00 settle where the card's row has the goods
    /// alone.</summary>
    [Theory]
    [InlineData("1,L2,2026-11-21 10:00,Credit,20.00,20.00\n1,L2,2026-11-21 10:00,Tip,3.00,20.00\n")]
    [InlineData("1,L2,2026-11-21 10:00,Gratuity,3.00,20.00\n1,L2,2026-11-21 10:00,Credit,20.00,20.00\n")]
    [InlineData("1,L2,2026-11-21 10:00,Credit,23.00,20.00\n1,L2,2026-11-21 10:00,Trinkgeld,3.00,20.00\n")]
    [InlineData("1,L2,2026-11-21 10:00,Credit,8.00,20.00\n1,L2,2026-11-21 10:00,Cash,20.00,20.00\n"
        + "1,L2,2026-11-21 10:00,Change,-8.00,20.00\n"
        + "1,L2,2026-11-21 10:00,Tip,3.00,20.00\n", 11_00)]
    public void A_tip_in_a_row_of_its_own_is_a_tip(string rows, long card = 23_00)
    {
        var ticket = Only<Ticket>(Map(Head + rows));
        var paid = Assert.Single(ticket.Tenders, t => t.Type.Value == "credit");
        Assert.Equal((20_00L, card, 3_00L), (ticket.Total.Minor, paid.Amount.Minor, paid.Tip.Minor));
    }

    [Fact]
    public void A_tip_that_could_be_in_the_amount_is_asked_about()
    {
        const string rows = Head + "1,L2,2026-11-21 10:00,Credit,23.00,\n1,L2,2026-11-21 10:00,Tip,3.00,\n";
        Assert.Contains("the amount may include the", Map(rows).Findings[0].Message, StringComparison.Ordinal);
        Assert.Equal((23_00L, 26_00L), (Of(PartOfAmount.Inside), Of(PartOfAmount.OwnRow)));
        Assert.Contains("expected one payment by card", Map(Head + "1,L2,2026-11-21 10:00,Cash,20.00,\n1,L2,2026-11-21 10:00,Tip,3.00,\n")
            .Findings[0].Message, StringComparison.Ordinal);

        long Of(PartOfAmount tip) => Only<Ticket>(Map(rows, m => m with { Tip = tip })).Tenders[0].Amount.Minor;
    }

    [Theory]
    [InlineData("CASH DROP", "300.00", EventKind.Drop, 300_00)]
    [InlineData("pickup", "-300.00", EventKind.Drop, 300_00)]
    [InlineData("Paid-Out", "18.40", EventKind.PaidOut, 18_40)]
    [InlineData("PAY_IN", "5.00", EventKind.PaidIn, 5_00)]
    [InlineData("Loan", "40.00", EventKind.Loan, 40_00)]
    public void Cash_that_comes_and_goes_is_no_ticket(string word, string amount, EventKind kind, long minor)
    {
        var text = "Receipt,Register,When,Type,Tender,Amount,Remark\n,L2,2026-11-21 14:07:00," + word + ",," + amount + ",B-17\n"
            + "7,L2,2026-11-21 14:08:00,SALE,cash,5.00,\n";
        var (file, again) = (Map(text), Map(text));
        var move = Only<CashMovement>(file);
        Assert.Equal((kind, minor, "L2-A"), (move.Kind, move.Amount.Minor, move.Head.Drawer?.Value));
        Assert.Equal(file.Text, again.Text);
        Assert.Equal(2, file.Number(RowFate.Taken));
    }

    /// <summary>The same twice in a second is two; a kind that nobody knows, or a drop without an amount, stops.</summary>
    [Fact]
    public void Movements_are_counted_and_what_is_not_known_stops()
    {
        const string head = "Receipt,Register,When,Type,Tender,Amount\n";
        const string drop = ",L2,2026-11-21 14:07:00,DROP,,300.00\n";
        var twice = MadeUp.Read(Map(head + drop + drop).Text.Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.Equal(600_00L, twice.Day!.Journal.OfType<CashMovement>().Sum(m => m.Amount).Minor);
        Assert.NotEmpty(Map(head + ",L2,2026-11-21 14:07:00,LIFT,,300.00\n").Findings);
        Assert.NotEmpty(Map(head + ",L2,2026-11-21 14:07:00,DROP,,\n").Findings);
        Assert.NotEmpty(Map(head + ",L7,2026-11-21 14:07:00,DROP,,300.00\n").Findings);
    }

    /// <summary>New York is five hours behind in November: 00:30 is 19:30 of UTC's, or half past midnight of the store's.</summary>
    [Fact]
    public void Whose_times_they_are_is_asked_where_nothing_tells()
    {
        const string sales = "1,L2,2026-11-21 15:00,cash,5.00,5.00\n2,L2,2026-11-22 00:30,cash,5.00,5.00\n";
        var asked = Assert.Single(Map(Head + sales).Findings);
        Assert.Contains("say in the mapping whose times these are", asked.Message, StringComparison.Ordinal);
        MappedFile Of(string zone) => Map(Head + sales, m => m with { TimeZone = zone });
        var (own, utc) = (Of("America/New_York"), Of("UTC"));
        Assert.Equal([new(2026, 11, 21, 15, 0, 0), new(2026, 11, 22, 0, 30, 0)], own.Days.Select(d => d.DateTime));
        Assert.Equal([new(2026, 11, 21, 10, 0, 0), new(2026, 11, 21, 19, 30, 0)], utc.Days.Select(d => d.DateTime));

        // The next morning may be one, or the evening of UTC; a row at noon of the next day is neither.
        string ZoneOf(string rows) => MappingGuess.Of("x.csv", Encoding.UTF8.GetBytes(Head + rows), _setup).TimeZone;
        Assert.Equal("", ZoneOf(sales + "3,L2,2026-11-22 08:10,cash,5.00,5.00\n"));
        Assert.Equal("America/New_York", ZoneOf(sales + "3,L2,2026-11-22 12:10,cash,5.00,5.00\n"));
        Assert.Equal("America/New_York", ZoneOf("1,L2,2026-11-21 15:00,cash,5.00,5.00\n"));
    }

    /// <summary>A row with more fields than there are columns has a separator where none belongs; empty ones behind the last change
    /// nothing.</summary>
    [Fact]
    public void A_row_that_is_too_long_stops()
    {
        Assert.Empty(Map(Head + "1,L2,2026-11-21 10:00,cash,5.00,5.00,,,\n").Findings);
        var finding = Assert.Single(Map(Head + "1,L2,2026-11-21 10:00,cash,5.00,5.00\n"
            + "2,L2,2026-11-21 10:00,cash,1,284.15,1284.15\n").Findings);
        Assert.Equal((3, true), (finding.Line, finding.Message.Contains("more than there are columns", StringComparison.Ordinal)));
    }

    /// <summary>Every second of a day, written without signs: fourteen digits, some of which pass the check digit of cards.</summary>
    [Fact]
    public void A_moment_is_no_card_number()
    {
        var moments = Enumerable.Range(0, 86_400 / 7).Select(i => new DateTime(2026, 11, 21).AddSeconds(i * 7)).ToList();
        foreach (var shape in new[] { "yyyyMMdd HHmmss", "yyyyMMddHHmmss" })
        {
            Assert.DoesNotContain(moments, m => CardNumbers.Contains(m.ToString(shape, CultureInfo.InvariantCulture)));
        }

        // A thirteenth month, a twenty-fifth hour: fourteen digits like any others.
        Assert.Equal(2, new[] { "20261321081607", "20261121256100" }.Select(AsNumber).Count(n => CardNumbers.Contains(n)));
    }

    private static string AsNumber(string digits) =>
        digits[..^1] + CardNumbers.CheckDigit([.. digits[..^1].Select(c => (byte)(c - '0'))]);

    /// <summary>A workbook that is damaged, or has no such sheet, is told; so is a text that begins like one.</summary>
    [Fact]
    public void A_workbook_that_cannot_be_read_is_told()
    {
        var bytes = File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "gallery", "office-settlement.xlsx"));
        var guess = MappingGuess.Of("office.xlsx", bytes, _setup);
        Assert.Contains("no sheet Others", MappedFile.Of("office.xlsx", bytes, guess with { Sheet = "Others" }, _setup).Findings[0].Message,
            StringComparison.Ordinal);
        Assert.NotEmpty(Spreadsheet.AsCsv(bytes, "Detail")!);
        for (var cut = 4; cut < bytes.Length; cut += 97)
        {
            var part = bytes[..cut];
            Assert.Contains("cannot be read", MappedFile.Of("office.xlsx", part, guess, _setup).Findings[0].Message,
                StringComparison.Ordinal);
            MappingGuess.Of("office.xlsx", part, _setup);
        }
    }
}
