using System.Globalization;
using System.Text;
using CsCheck;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Tests;
using Fondo.Files.Mapping;
using Fondo.Files.Reading;

namespace Fondo.Files.Tests;

using Mapping = Fondo.Files.Mapping.Mapping;

/// <summary>Files of registers and processors that cannot be changed: three shapes that were made up, and what is wrong with
/// others.</summary>
public sealed class OtherShapes
{
    /// <summary>Semicolons, decimal commas, points in dates, refunds negative.</summary>
    private const string Semicolons = """
        Datum und Zeit;Terminal;Karte;Brand;Amount;Approval;Reference
        21.11.2026 09:14:05;T-1;************1234;heron;1.284,15;A00001;R00000000001
        21.11.2026 10:02:00;T-2;************4321;kestrel;12,93;A00002;R00000000002
        21.11.2026 11:30:00;T-2;************4321;kestrel;-4,00;A00003;R00000000003
        """;

    /// <summary>American dates with am and pm, dollars, a column of words.</summary>
    private const string American = """
        "Trans Date","Trans Time","Device","Trans Type","Card Type","Last 4","Amount","Tip","Auth Code"
        11/21/2026,9:14:05 AM,T-1,SALE,Heron,1234,"$1,284.15",0.00,A00001
        11/21/2026,12:02 PM,T-2,SALE,Kestrel,4321,$12.93,$2.00,A00002
        11/21/2026,12:30 AM,T-2,RETURN,Kestrel,4321,$4.00,,A00003
        11/21/2026,1:05 PM,T-2,VOID,Kestrel,4321,$9.00,,A00004
        """;

    /// <summary>Fixed lines above, a row of totals below, tabs.</summary>
    private const string WithTotals =
        "Settlement report\nMerchant\tMossgate Market Hall\n\nDate\tTime\tTerminal ID\tBatch "
            + "No\tSeq\tAmount\tRRN\n2026-11-21\t09:14\tT-1\t721\t1\t64.00\tR00000000001\n2026-11-21\t09:20\tT-2\t722\t1\t12.93\tR00000000002\nTotal\t\t\t\t2\t76.93\t\n";

    private static readonly Setup _setup = MadeUp.Read([]).Day!.Setup;

    private static MappedFile Map(string text, Func<Mapping, Mapping>? change = null, Encoding? encoding = null)
    {
        var bytes = (encoding ?? Encoding.UTF8).GetBytes(text);
        var guess = MappingGuess.Of("heron-2026-11-21.csv", bytes, _setup);
        return MappedFile.Of("heron.csv", bytes, change?.Invoke(guess) ?? guess, _setup);
    }

    private static string[] Rows(MappedFile file) => [.. BatchRows.Read(file.Text, _setup).Rows
        .Select(r => $"{r.Key} {r.At:MM-dd HH:mm:ss zzz} {r.Signed.Minor} {r.Card.LastFour} {r.Card.Brand} {r.Card.Approval}")];

    [Fact]
    public void Semicolons_and_decimal_commas_are_guessed()
    {
        var file = Map(Semicolons);
        Assert.Empty(file.Findings);
        Assert.Equal(
            [
                "T-1/261121/R00000000001 11-21 09:14:05 -05:00 128415 1234 heron A00001",
                "T-2/261121/R00000000002 11-21 10:02:00 -05:00 1293 4321 kestrel A00002",
                "T-2/261121/R00000000003 11-21 11:30:00 -05:00 -400 4321 kestrel A00003"
            ], Rows(file));
    }

    [Fact]
    public void American_dates_with_am_and_pm_are_guessed()
    {
        var file = Map(American, m => m with { Tip = PartOfAmount.Inside });
        Assert.Empty(file.Findings);
        Assert.Equal(["128415", "1293", "-400"], Rows(file).Select(r => r.Split(' ')[4]));
        Assert.Equal(["09:14:05", "12:02:00", "00:30:00"], Rows(file).Select(r => r.Split(' ')[2]));
        Assert.Equal(1, file.Number(RowFate.Voided));
        Assert.Equal(200, BatchRows.Read(file.Text, _setup).Rows[1].Tip.Minor);
    }

    [Fact]
    public void Lines_above_and_totals_below_are_left_out()
    {
        var file = Map(WithTotals);
        Assert.Empty(file.Findings);
        Assert.Equal(["T-1/721/1 11-21 09:14:00 -05:00 6400   ", "T-2/722/1 11-21 09:20:00 -05:00 1293   "], Rows(file));
        Assert.Equal((2, 1), (file.Number(RowFate.Taken), file.Number(RowFate.Totals)));
        Assert.Equal([5, 6, 7], file.Rows.Select(r => r.Line));
    }

    /// <summary>Rows without a number of their own get one, and none of these looks like a card number to the reader of settled
    /// rows.</summary>
    [Fact]
    public void Numbers_that_are_made_for_rows_are_no_card_numbers()
    {
        var random = new Random(11);
        var rows = Enumerable.Range(0, 600).Select(_ => string.Create(CultureInfo.InvariantCulture,
            $"T-1;2026-11-21 {random.Next(8, 21):00}:{random.Next(60):00}:{random.Next(60):00};{random.Next(100, 99_999) / 100m:0.00};"
                + $"{random.Next(10_000):0000};{random.Next(1_000_000):000000}"));
        var file = Map("Terminal;Time;Amount;Card;Auth\n" + string.Join('\n', rows) + "\n");
        Assert.Empty(file.Findings);
        Assert.Equal(600, file.Number(RowFate.Taken));
        var read = BatchRows.Read(file.Text, _setup);
        Assert.Empty(read.Findings);
        Assert.InRange(read.Rows.Count(r => r.Key.ToString().Contains("/at", StringComparison.Ordinal)), 1, 300);
    }

    /// <summary>“Credit” and “Debit” name kinds of card as often as directions: nothing is assumed, and the page asks.</summary>
    [Theory]
    [InlineData("Credit")]
    [InlineData("DEBIT")]
    [InlineData("CR")]
    [InlineData("dr")]
    public void A_word_that_may_be_a_kind_of_card_is_asked_for(string word)
    {
        var text = $"Terminal;Time;Amount;Type\nT-1;2026-11-21 09:14:00;12.93;{word}\n";
        var file = Map(text);
        Assert.Contains("set in the mapping what this word means", Assert.Single(file.Findings).Message, StringComparison.Ordinal);
        Assert.Equal(1, file.Number(RowFate.Refused));
        Assert.Null(MappedFile.MeaningOf(MappedFields.Type, word, Mapping.Blank, _setup));
        Assert.Empty(Map(text, m => m with
        {
            Words =
                m.Words.SetItem(MappedFields.Type, System.Collections.Immutable.ImmutableDictionary<string, string>.Empty.Add(word, "sale"))
        }).Findings);
    }

    /// <summary>What the reader refuses where the file is taken in is refused in the preview, at its own line.</summary>
    [Fact]
    public void The_preview_refuses_what_taking_in_refuses()
    {
        var file =
            Map(
                "Terminal;Time;Amount;Type;Benefit\nT-1;2026-11-21 09:14:00;12.93;sale;food\nT-1;2026-11-21 09:20:00;5.00;sale;groceries\n");
        var finding = Assert.Single(file.Findings);
        Assert.Equal(("heron.csv", 3), (finding.File, finding.Line));
        Assert.Equal([RowFate.Taken, RowFate.Refused], file.Rows.Select(r => r.Fate));
        Assert.Equal(finding.Message, file.Rows[1].Becomes);
    }

    /// <summary>One row a tender: two cards on one ticket, a refund, a voided ticket, cash with change.</summary>
    private const string FlatTenders = """
        Receipt No,Lane,Date Time,Payment,Amount,Change,Tax,Card Number,Auth,Reference,Status
        1001,L2,2026-11-21 09:00,CREDIT CARD,44.00,,4.00,xxxx1234,A00001,R00000000001,OK
        1001,L2,2026-11-21 09:00,Debit Card,20.00,,,xxxx4321,A00002,R00000000002,OK
        1002,L2,2026-11-21 09:05,Cash,20.00,7.07,,,,,OK
        1003,L2,2026-11-21 09:10,CREDIT CARD,-4.00,,,xxxx1234,A00003,R00000000003,OK
        1004,L2,2026-11-21 09:15,Cash,5.00,,,,,,VOIDED
        """;

    [Fact]
    public void A_flat_journal_of_tenders_becomes_tickets()
    {
        var file = Map(FlatTenders, m => m with { Change = PartOfAmount.Inside });
        Assert.Empty(file.Findings);
        var day = MadeUp.Read(file.Text.Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.Empty(day.Findings);
        var result = Reconciliation.Of(day.Day!);
        Assert.DoesNotContain(result.TicketFindings, f => f.Code == Core.Checks.FindingCode.TotalsDiffer);
        // 44.00 − 4.00 by credit; 20.00 by debit; 20.00 − 7.07 in cash; the voided one counts for nothing.
        Assert.Equal([("cash", 1293L, 1), ("credit", 4000L, 2), ("debit", 2000L, 1)],
            result.Cells.Where(c => c.Key.Register?.Value == "L2").Select(c => (c.Key.Written.Tender, c.Expected.Minor, c.ExpectedCount))
                .Order());
        var first = day.Day!.Journal.OfType<Ticket>().Single(t => t.Id.Value == "L2-1001");
        Assert.Equal((6400L, 2, 400L), (first.Total.Minor, first.Tenders.Length, first.Tax.Minor));
    }

    /// <summary>One row a line, the tender repeated.</summary>
    private const string FlatLines = """
        Ticket;Register;Date;Time;Article;Description;Qty;Line Amount;Line Tax;Tender;Auth
        77;L2;21/11/2026;14:00;M101;Bread;2;8,00;0,00;cash;
        77;L2;21/11/2026;14:00;M205;Potting soil;1;9,00;0,72;cash;
        78;L2;21/11/2026;14:10;M205;Potting soil;1;9,00;0,72;credit;A00009
        79;L2;22/11/2026;02:10;M205;Potting soil;1;-9,00;-0,72;credit;A00010
        """;

    [Fact]
    public void A_flat_journal_of_lines_becomes_tickets_with_their_lines()
    {
        var file = Map(FlatLines, m => m with { TimeZone = _setup.TimeZone.Id });
        Assert.Empty(file.Findings);
        var day = MadeUp.Read(file.Text.Split('\n', StringSplitOptions.RemoveEmptyEntries));
        Assert.Empty(day.Findings);
        var tickets = day.Day!.Journal.OfType<Ticket>().ToDictionary(t => t.Id.Value);
        Assert.Equal((2, 1700L, 72L, 1772L),
            (tickets["L2-77"].Lines.Length, tickets["L2-77"].Subtotal.Minor, tickets["L2-77"].Tax.Minor, tickets["L2-77"].Total.Minor));
        Assert.Equal((-972L, EventKind.Refund), (tickets["L2-79"].Total.Minor, tickets["L2-79"].Kind));
        Assert.Empty(Reconciliation.Of(day.Day).TicketFindings.Where(f => f.Code == Core.Checks.FindingCode.TotalsDiffer));
    }

    [Theory]
    [InlineData("21.11.2026 09:14:05", "21.13.2026 09:14:05", "line 2", "day, month, year")]
    [InlineData("1.284,15", "1,284.15", "line 2", "a comma before its decimals")]
    [InlineData("1.284,15", "", "line 2", "the field is empty")]
    [InlineData("T-1", "T-77", "line 2", "expected a terminal of the set-up")]
    [InlineData("************1234", "4111 1111 1111 1111", "line 2", "full card number")]
    [InlineData("A00002", "\"A00002", "", "quote in this row is not closed")]
    public void Each_fault_is_told_at_its_line_and_the_file_is_not_taken(string was, string becomes, string where, string says)
    {
        var guess = MappingGuess.Of("heron.csv", Encoding.UTF8.GetBytes(Semicolons), _setup);
        var file =
            MappedFile.Of("heron.csv", Encoding.UTF8.GetBytes(Semicolons.Replace(was, becomes, StringComparison.Ordinal)), guess, _setup);
        var finding = file.Findings[0];
        Assert.Contains(says, finding.Message, StringComparison.Ordinal);
        Assert.DoesNotContain("4111", finding.ToString(), StringComparison.Ordinal);
        Assert.True(where.Length == 0 || finding.Line == 2);
    }

    [Fact]
    public void A_sign_that_is_turned_is_told()
    {
        var file = Map(Semicolons.Replace("-4,00", "4,01", StringComparison.Ordinal), m => m with { Signs = MappedSigns.NegativeSales });
        Assert.Contains("Are the signs reversed?", Assert.Single(file.Remarks), StringComparison.Ordinal);
        Assert.Contains("without a sign", Map(Semicolons, m => m with { Signs = MappedSigns.None }).Findings[0].Message,
            StringComparison.Ordinal);
    }

    [Fact]
    public void Mixed_encodings_are_told_at_their_line()
    {
        byte[] bytes =
            [.. Encoding.UTF8.GetBytes(Semicolons + "\n"), .. Encoding.Latin1.GetBytes("21.11.2026 12:00:00;T-2;1234;Café;1,00;A1;R1")];
        var file =
            MappedFile.Of("heron.csv", bytes, MappingGuess.Of("heron.csv", Encoding.UTF8.GetBytes(Semicolons), _setup), _setup);
        Assert.Equal(5, Assert.Single(file.Findings).Line);
        Assert.Equal(Mapping.Windows1252, MappingGuess.Of("heron.csv", bytes, _setup).Encoding);
        Assert.DoesNotContain(Map(Semicolons, encoding: Encoding.Unicode).Findings,
            f => f.Message.Contains("encoding", StringComparison.Ordinal));
    }

    [Fact]
    public void The_same_file_again_has_the_same_keys()
    {
        var twice = Semicolons + "\n21.11.2026 12:00:00;T-2;1234;heron;5,00;;\n21.11.2026 12:00:00;T-2;1234;heron;5,00;;";
        Assert.Equal(Rows(Map(twice)), Rows(Map(twice)));
        Assert.Equal(5, Rows(Map(twice)).Select(r => r.Split(' ')[0]).Distinct().Count());
    }

    [Fact]
    public void A_mapping_goes_out_and_comes_in_again()
    {
        foreach (var sample in new[] { Semicolons, American, WithTotals, FlatTenders, FlatLines })
        {
            var mapping = MappingGuess.Of("heron-2026.csv", Encoding.UTF8.GetBytes(sample), _setup) with
            {
                TimeZone = _setup.TimeZone.Id,
                Words =
                    Mapping.Blank.Words.Add("type", System.Collections.Immutable.ImmutableDictionary<string, string>.Empty.Add("V", "sale"))
            };
            var read = MappingText.Read("mapping.json", MappingText.Write(mapping));
            Assert.Empty(read.Findings);
            Assert.Equal(MappingText.Write(mapping), MappingText.Write(read.Mapping!));
        }
    }

    [Theory]
    [InlineData("\"kind\": \"batches\"", "\"kind\": \"cash\"", "kind")]
    [InlineData("\"separator\": \";\"", "\"separator\": \"#\"", "separator")]
    [InlineData("\"amount\": \"Amount\"", "\"amounts\": \"Amount\"", "expected one of")]
    [InlineData("America/New_York", "Mars/Olympus", "time zone")]
    [InlineData("heron*.csv", "*", "would take everything")]
    public void A_mapping_that_makes_no_sense_is_told(string was, string becomes, string says)
    {
        var json = MappingText.Write(MappingGuess.Of("heron-2026.csv", Encoding.UTF8.GetBytes(Semicolons), _setup));
        Assert.Contains(was, json, StringComparison.Ordinal);
        Assert.Contains(MappingText.Read("m.json", json.Replace(was, becomes, StringComparison.Ordinal)).Findings,
            f => f.ToString().Contains(says, StringComparison.Ordinal));
    }

    /// <summary>Whatever the file holds: it is translated or told, never thrown; and what is translated reads.</summary>
    [Fact]
    public void Any_text_is_translated_or_told() => Gen.Select(Gen.String[Gen.Char["0123456789.,;:-/\"\n\r\tTaé−$() "], 0, 300],
        Gen.Int[0, 5], Gen.Int[0, 2]).Sample((noise, at, signs) =>
    {
        var lines = Semicolons.Split('\n').ToList();
        lines.Insert(Math.Min(at, lines.Count), noise);
        foreach (var text in new[] { string.Join('\n', lines), FlatLines + "\n" + noise, noise })
        {
            var bytes = Encoding.UTF8.GetBytes(text);
            var file = MappedFile.Of("x.csv", bytes,
                MappingGuess.Of("x.csv", bytes, _setup) with { Signs = (MappedSigns)signs }, _setup);
            if (file.Findings.Count == 0)
            {
                var reading = file.Kind == MappedKind.Batches
                    ? BatchRows.Read(file.Text, _setup).Findings
                    : MadeUp.Read(file.Text.Split('\n', StringSplitOptions.RemoveEmptyEntries)).Findings;
                Assert.True(reading.Count == 0 || reading.All(f => f.Line <= file.Lines.Count), string.Join("\n", reading));
            }
        }
    }, iter: 400);

    /// <summary>A bank's file with the newest line first, two columns of amounts and the balance after each line. By hand: 1,000.00 before;
    /// 1,200.00 in, 3.50 out, 20.00 out: 2,176.50.</summary>
    private const string Banked =
        "Account activity;;;;\nPosting date;Details;Debit;Credit;Balance\n24.11.2026;DEPOSIT ADJUSTMENT BAG "
            + "70401;20,00;;2.176,50\n24.11.2026;ACCOUNT FEE;3,50;;2.196,50\n23.11.2026;DEPOSIT BAG 70401;;1.200,00;2.200,00\n";

    private static Mapping OfBank(Mapping guess) => guess with { Fixed = guess.Fixed.Add(MappedFields.Account, "4471") };

    private static async Task<Fondo.Core.Banking.BankStatement> Statement(MappedFile file) =>
        Assert.Single((await StatementFiles.Read("statement.csv", new MemoryStream(Encoding.UTF8.GetBytes(file.Text)), _setup.Currency,
            _setup.TimeZone)).Statements);

    [Fact]
    public async Task A_banks_file_becomes_one_statement_from_its_first_line_to_its_last()
    {
        var file = Map(Banked, OfBank);
        Assert.Empty(file.Findings);
        Assert.Equal(MappedKind.Statement, file.Kind);
        var statement = await Statement(file);
        Assert.Equal(("4471", "USD", new DateOnly(2026, 11, 23), new DateOnly(2026, 11, 24), 1_000_00L, 2_176_50L),
            (statement.Account, statement.Currency, statement.From, statement.To, statement.Opening.Minor, statement.Closing.Minor));
        Assert.Equal(["DEPOSIT BAG 70401 120000", "ACCOUNT FEE -350", "DEPOSIT ADJUSTMENT BAG 70401 -2000"],
            statement.Lines.Select(l => $"{l.Text} {l.Amount.Minor}"));
        Assert.Null(statement.Objection(["4471"], _setup.Currency));
    }

    /// <summary>A line left out, an amount turned, no balance, no account, no date: told at its line; never a statement that does not add
    /// up.</summary>
    [Theory]
    [InlineData("24.11.2026;ACCOUNT FEE;3,50;;2.196,50\n", "", "expected 2180.00")]
    [InlineData("ACCOUNT FEE;3,50;;", "ACCOUNT FEE;;3,50;", "the balance before and this amount")]
    [InlineData("2.200,00", "", "expected an amount")]
    [InlineData("23.11.2026", "soon", "expected a date")]
    [InlineData("Banked", "Banked", "expected the account")]
    public void What_is_wrong_with_a_banks_file_is_told_at_its_line(string part, string instead, string says)
    {
        var file = Map(Banked.Replace(part, instead, StringComparison.Ordinal), part == "Banked" ? g => g : OfBank);
        Assert.Contains(says, file.Findings[0].ToString(), StringComparison.Ordinal);
        Assert.Equal("", file.Text);
    }
}
