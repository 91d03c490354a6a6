using System.Text;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Tests;
using Fondo.Files.Mapping;
using Fondo.Files.Text;

namespace Fondo.Files.Tests;

using Mapping = Fondo.Files.Mapping.Mapping;

/// <summary>Numbers of articles, tickets and terminals that are as long as those of cards and pass their check digit: read where a person
/// says so of the column, and refused everywhere else. The numbers are invented.</summary>
public sealed class LongNumbersInColumns
{
    private static readonly Setup _setup = MadeUp.Read([]).Day!.Setup;

    /// <summary>Thirteen and sixteen digits with the check digit that a card's would have.</summary>
    private static string WithCheckDigit(string digits) =>
        digits + CardNumbers.CheckDigit([.. digits.Select(c => (byte)(c - '0'))]);

    private static readonly string _article = WithCheckDigit("920017300455"), _receipt = WithCheckDigit("900020261121004"),
        _device = WithCheckDigit("970000000000042");

    private static readonly string _file = "Receipt,Register,When,Tender,EAN,Item,Line Amount,Terminal,Card\n"
        + $"{_receipt},L2,2026-11-21 10:00:00,credit,{_article},Oat bread,4.80,{_device},4417\n"
        + $"{_receipt},L2,2026-11-21 10:00:00,credit,92001,Butter,3.10,{_device},4417\n";

    private static Mapping Guess(string text) => MappingGuess.Of("lines-2026-11-21.csv", Encoding.UTF8.GetBytes(text), _setup);

    private static Mapping Confirmed(string text) => Guess(text) with
    {
        TimeZone = "America/New_York",
        LongNumbers = [MappedFields.Sku, MappedFields.Ticket, MappedFields.Terminal],
        Words = System.Collections.Immutable.ImmutableDictionary<string, System.Collections.Immutable.ImmutableDictionary<string, string>>
            .Empty.Add(MappedFields.Terminal, System.Collections.Immutable.ImmutableDictionary<string, string>.Empty
                .Add(LongNumbers.Apart(_device), "T-2")),
    };

    private static MappedFile Map(string text, Mapping mapping) =>
        MappedFile.Of("lines.csv", Encoding.UTF8.GetBytes(text), mapping, _setup);

    [Fact]
    public void What_nobody_confirmed_is_refused_and_not_repeated()
    {
        var made = Map(_file, Guess(_file));
        Assert.NotEmpty(made.Findings);
        Assert.All(made.Findings, f => Assert.Contains("card number", f.Message, StringComparison.Ordinal));
        Assert.DoesNotContain(made.Rows, r => CardNumbers.Contains(r.Becomes));
    }

    [Fact]
    public void What_a_person_confirmed_of_a_column_is_read()
    {
        var mapping = Confirmed(_file);
        Assert.Equal((_file.Split(',')[4], mapping.Columns[MappedFields.Sku]), ("EAN", "EAN"));
        var made = Map(_file, mapping);
        Assert.True(made.Findings.Count == 0, string.Join("\n", made.Findings));
        var reading = MadeUp.Read(made.Text.Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.True(reading.Findings.Count == 0, string.Join("\n", reading.Findings));
        var ticket = Assert.Single(reading.Day!.Journal.OfType<Ticket>());
        Assert.Equal((_article, 7_90L, "T-2"),
            (ticket.Lines[0].Article.Sku, ticket.Total.Minor, ticket.Tenders[0].Card?.Terminal?.Value));
        Assert.False(CardNumbers.Contains(ticket.Head.Id.Value));
        Assert.Equal(made.Text, Map(_file, mapping).Text);
    }

    /// <summary>In another column, in a title above the rows, in another sheet: refused all the same.</summary>
    [Theory]
    [InlineData("4417", "the number of a card", false)]
    [InlineData("Oat bread", "the number of a card", false)]
    [InlineData("Receipt,", "the number of a card\nReceipt,", true)]
    public void A_card_number_elsewhere_is_refused(string what, string becomes, bool isAbove)
    {
        var text = _file.Replace(what, becomes.Replace("the number of a card", WithCheckDigit("400000000000001"), StringComparison.Ordinal),
            StringComparison.Ordinal);
        var mapping = Confirmed(_file) with { SkipLines = isAbove ? 1 : 0 };
        Assert.True(LongNumbers.HidesCardNumber(Encoding.UTF8.GetBytes(text), mapping));
        Assert.False(LongNumbers.HidesCardNumber(Encoding.UTF8.GetBytes(_file), Confirmed(_file)));
        Assert.Equal(!isAbove, Map(text, mapping).Findings.Count > 0);
    }

    [Fact]
    public void It_is_kept_with_the_mapping()
    {
        var mapping = Confirmed(_file);
        var (read, findings) = MappingText.Read("m.json", MappingText.Write(mapping));
        Assert.Empty(findings);
        Assert.Equal(mapping.LongNumbers, read!.LongNumbers);
        Assert.Contains("expected some of ticket original terminal sku", MappingText.Read("m.json",
            MappingText.Write(mapping with { LongNumbers = [MappedFields.Card] })).Findings[0].Message, StringComparison.Ordinal);
    }
}
