using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Files.Reading;

namespace Fondo.Files.Tests;

/// <summary>Statements in the shapes that banks give: MT940, OFX, and what camt.053 may hold besides.</summary>
public sealed class FilesOfTheBank
{
    private static readonly TimeZoneInfo _newYork = TimeZoneInfo.FindSystemTimeZoneById("America/New_York");

    private static async Task<StatementReading> Read(string text, Encoding? encoding = null) =>
        await StatementFiles.Read("statement", new MemoryStream((encoding ?? Encoding.UTF8).GetBytes(text)), Currency.Of("USD"), _newYork);

    private static string[] Lines(BankStatement statement) =>
        [.. statement.Lines.Select(l => $"{l.Key} {l.Booked:MM-dd} {l.Amount.Minor} {l.Text}{(l.IsReversal ? " (reversal)" : "")}")];

    /// <summary>SWIFT MT940, fields from memory: value date, booking date, mark, amount with a comma, type, own reference // the bank's,
    /// details; field 86 beneath.</summary>
    private const string Mt940 = """
        {1:F01MOSSUS00AXXX0000000000}{2:O9400000261124}{4:
        :20:STMT261124
        :25:MOSSUS00/4471
        :28C:00231/1
        :60F:C261123USD1000,00
        :61:2611241124C2040,55NMSC70401//B26-118/7
        CASH DEPOSIT
        :86:DEPOSIT BAG 70401
        :61:2611241124D3,NCHGNONREF
        :86:?00ACCOUNT FEE?20NOVEMBER
        :61:2611231124RC500,00NTRFNONREF//NONREF
        :86:RETURNED CREDIT
        :62M:C261124USD2537,55
        -}
        :20:STMT261124
        :25:MOSSUS00/4471
        :28C:00231/2
        :60M:C261124USD2537,55
        :61:2612310102C12,5NTRFQUILL//X9
        :86:QUILL 20441
        /SETTLEMENT
        :62F:C270102USD2550,05
        -
        """;

    [Fact]
    public async Task MT940_with_two_pages()
    {
        var read = await Read(Mt940);
        Assert.Null(read.Objection);
        Assert.Equal(2, read.Statements.Length); // its second page is of another year here: the number counts by year
        Assert.Equal(
            [
                "B26-118/7 11-24 204055 DEPOSIT BAG 70401 · 70401 · CASH DEPOSIT",
                "00231-2026/2 11-24 -300 ACCOUNT FEE NOVEMBER",
                "00231-2026/3 11-24 -50000 RETURNED CREDIT (reversal)"
            ], Lines(read.Statements[0]));
        Assert.Equal(new DateOnly(2027, 1, 2), read.Statements[1].Lines[0].Booked); // booked on 2 January, valued on 31 December
        Assert.All(read.Statements, s => Assert.Null(s.Objection(["MOSSUS00/4471"], Currency.Of("USD"))));

        var together = Assert.Single((await Read(Mt940.Replace("270102", "261125", StringComparison.Ordinal)
            .Replace("2612310102", "2611251125", StringComparison.Ordinal))).Statements);
        Assert.Equal((4, 1_000_00L, 2_550_05L, new DateOnly(2026, 11, 25)),
            (together.Lines.Length, together.Opening.Minor, together.Closing.Minor, together.To));
        Assert.Equal("QUILL 20441 /SETTLEMENT · QUILL", together.Lines[3].Text);
        // Some banks write Latin-1.
        Assert.Contains("GEBÜHR", (await Read(Mt940.Replace("ACCOUNT FEE", "GEBÜHR", StringComparison.Ordinal),
            Encoding.Latin1)).Statements[0].Lines[1].Text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(":60F:C261123USD1000,00", "", "Line 2: field 60F is missing.")]
    [InlineData("C2040,55", "C2040.55", "Line 6: “2611241124C2040.55NMSC70401//B26-118/7” is not a statement line.")]
    [InlineData("USD1000,00", "USD1000,005", "is not an amount of USD")]
    [InlineData("C261123USD", "C261331USD", "is not a date")]
    [InlineData("BAG 70401", "CARD 4000 0000 0000 0002", "full card number")]
    public async Task What_is_wrong_in_MT940_is_told_with_its_line(string was, string becomes, string says) =>
        Assert.Contains(says, (await Read(Mt940.Replace(was, becomes, StringComparison.Ordinal))).Objection!, StringComparison.Ordinal);

    /// <summary>OFX 1.x, elements from memory: a head of names and values, then tags of which those with a value have no end.</summary>
    private const string Ofx1 = """
        OFXHEADER:100
        DATA:OFXSGML
        VERSION:102
        ENCODING:USASCII
        CHARSET:1252

        <OFX><SIGNONMSGSRSV1><SONRS><STATUS><CODE>0<SEVERITY>INFO</STATUS><DTSERVER>20261125<LANGUAGE>ENG</SONRS></SIGNONMSGSRSV1>
        <BANKMSGSRSV1><STMTTRNRS><TRNUID>1<STATUS><CODE>0<SEVERITY>INFO</STATUS>
        <STMTRS><CURDEF>USD<BANKACCTFROM><BANKID>111000025<ACCTID>4471<ACCTTYPE>CHECKING</BANKACCTFROM>
        <BANKTRANLIST><DTSTART>20261123<DTEND>20261124
        <STMTTRN><TRNTYPE>DEP<DTPOSTED>20261124023000[0:GMT]<TRNAMT>2040.55<FITID>B26-118/7<NAME>DEPOSIT<MEMO>BAG 70401 &amp; COIN</STMTTRN>
        <STMTTRN><TRNTYPE>FEE<DTPOSTED>20261124<TRNAMT>-3.00<FITID>B26-119<NAME>ACCOUNT FEE<MEMO></STMTTRN>
        <STMTTRN><TRNTYPE>CHECK<DTPOSTED>20261124120000.000[-5:EST]<TRNAMT>-20.5<FITID>B26-120<CHECKNUM>1042</STMTTRN>
        </BANKTRANLIST><LEDGERBAL><BALAMT>2550.05<DTASOF>20261124</LEDGERBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>
        """;

    [Fact]
    public async Task OFX_of_both_versions()
    {
        var statement = Assert.Single((await Read(Ofx1)).Statements);
        // Posted at 02:30 in Greenwich is the evening before in the store.
        Assert.Equal([
            "B26-118/7 11-23 204055 DEPOSIT · BAG 70401 & COIN",
            "B26-119 11-24 -300 ACCOUNT FEE",
            "B26-120 11-24 -2050 check 1042"
        ], Lines(statement));
        Assert.Equal(("4471", "USD", 533_00L, 2_550_05L, new DateOnly(2026, 11, 23), new DateOnly(2026, 11, 24)),
            (statement.Account, statement.Currency, statement.Opening.Minor, statement.Closing.Minor, statement.From, statement.To));
        Assert.Null(statement.Objection(["4471"], Currency.Of("USD")));

        // Version 2 closes every element.
        var xml = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<?OFX OFXHEADER=\"200\" VERSION=\"211\"?>\n"
            + System.Text.RegularExpressions.Regex.Replace(Ofx1[Ofx1.IndexOf("<OFX>", StringComparison.Ordinal)..],
                "<([A-Z0-9]+)>([^<\r\n]+)", "<$1>$2</$1>");
        Assert.Equal(Lines(statement), Lines(Assert.Single((await Read(xml)).Statements)));
    }

    [Theory]
    [InlineData("<TRNAMT>2040.55", "<TRNAMT>2040.555", "is not an amount of USD")]
    [InlineData("<DTPOSTED>20261124<", "<DTPOSTED>20261324<", "is not a date")]
    [InlineData("<FITID>B26-119", "", "FITID is missing")]
    [InlineData("<LEDGERBAL>", "<AVAILBAL>", "the closing balance (LEDGERBAL) is missing")]
    [InlineData("STMTRS>", "X>", "The file contains no bank statement.")]
    [InlineData("BAG 70401", "4000000000000002", "full card number")]
    public async Task What_is_wrong_in_OFX_is_told(string was, string becomes, string says) =>
        Assert.Contains(says, (await Read(Ofx1.Replace(was, becomes, StringComparison.Ordinal))).Objection!, StringComparison.Ordinal);

    private static string Entry(string more, string amount = "20.00", string date = "<Dt>2026-11-23</Dt>", string direction = "CRDT") =>
        $"<Ntry><Amt Ccy=\"USD\">{amount}</Amt><CdtDbtInd>{direction}</CdtDbtInd>"
            + $"{(more.StartsWith("<RvslInd>", StringComparison.Ordinal) ? more : "")}<Sts>BOOK</Sts><BookgDt>{date}</BookgDt>"
            + $"{(more.StartsWith("<RvslInd>", StringComparison.Ordinal) ? "" : more)}</Ntry>";

    private static string Balance(string code, string amount) =>
        $"<Bal><Tp><CdOrPrtry><Cd>{code}</Cd></CdOrPrtry></Tp><Amt "
            + $"Ccy=\"USD\">{amount}</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-24</Dt></Dt></Bal>";

    private static string Page(string page, string balances, params string[] entries) =>
        $"<Stmt><Id>2026-11</Id>{page}<Acct><Id><Othr><Id>4471</Id></Othr></Id></Acct>{balances}{string.Concat(entries)}</Stmt>";

    private static string Document(params string[] pages) =>
        $"<Document xmlns=\"urn:iso:std:iso:20022:tech:xsd:camt.053.001.02\"><BkToCstmrStmt>{string.Concat(pages)}</BkToCstmrStmt></Document>";

    private static async Task<BankLine> Only(string entry) => Assert.Single(Assert.Single((await Read(Document(Page("",
        Balance("OPBD", "0") + Balance("CLBD", "20"), entry)))).Statements).Lines);

    /// <summary>Element names of camt.053 from memory: who paid and what for stand in RltdPties, RmtInf (free or structured) and
    /// AddtlTxInf.</summary>
    [Fact]
    public async Task What_a_line_says_is_read_wherever_it_stands()
    {
        var line = await Only(Entry("""
            <AcctSvcrRef>NONREF</AcctSvcrRef><NtryDtls><Btch><NbOfTxs>41</NbOfTxs></Btch><TxDtls><Refs><EndToEndId>NOTPROVIDED</EndToEndId></Refs>
            <RltdPties><Dbtr><Nm>QUILL PAYMENTS</Nm></Dbtr><Cdtr><Nm>Mossgate Market Hall</Nm></Cdtr></RltdPties>
            <RmtInf><Strd><CdtrRefInf><Ref>20441</Ref></CdtrRefInf><RfrdDocInf><Nb>INV-7</Nb></RfrdDocInf></Strd></RmtInf><AddtlTxInf>net of fees</AddtlTxInf></TxDtls></NtryDtls>
            """));
        Assert.Equal(("2026-11/1", "20441 · INV-7 · QUILL PAYMENTS · Mossgate Market Hall · net of fees"), (line.Key, line.Text));
    }

    [Fact]
    public async Task A_line_without_anything_said_reads()
    {
        var line = await Only(Entry(""));
        Assert.Equal(("2026-11/1", ""), (line.Key, line.Text));
    }

    [Fact]
    public async Task The_evening_in_Greenwich_is_the_evening_in_the_store()
    {
        Assert.Equal(new DateOnly(2026, 11, 23), (await Only(Entry("", date: "<DtTm>2026-11-24T02:30:00Z</DtTm>"))).Booked);
        Assert.Equal(new DateOnly(2026, 11, 24), (await Only(Entry("", date: "<DtTm>2026-11-24T02:30:00</DtTm>"))).Booked);
    }

    [Fact]
    public async Task What_is_taken_back_and_what_a_line_is_made_of()
    {
        Assert.True((await Only(Entry("<RvslInd>true</RvslInd>"))).IsReversal);
        static string Detail(string amount, string bag) =>
            $"<TxDtls><AmtDtls><TxAmt><Amt Ccy=\"USD\">{amount}</Amt></TxAmt></AmtDtls><RmtInf><Ustrd>BAG {bag}</Ustrd></RmtInf></TxDtls>";
        var line = await Only(Entry($"<NtryDtls>{Detail("12.00", "70401")}{Detail("8.00", "70402")}</NtryDtls>"));
        Assert.Equal([(12_00L, "BAG 70401"), (8_00L, "BAG 70402")], line.Details.Select(d => (d.Amount.Minor, d.Text)));
    }

    [Fact]
    public async Task Pages_of_one_statement_are_one_statement()
    {
        static string Number(int page) =>
            $"<StmtPgntn><PgNb>{page}</PgNb><LastPgInd>{(page == 2 ? "true" : "false")}</LastPgInd></StmtPgntn>";
        var read = await Read(Document(Page(Number(2), Balance("ITBD", "20") + Balance("CLBD", "40"), Entry("")),
            Page(Number(1), Balance("OPBD", "0") + Balance("ITBD", "20"), Entry(""))));
        var statement = Assert.Single(read.Statements);
        Assert.Equal(["2026-11/1", "2026-11/2.1"], statement.Lines.Select(l => l.Key));
        Assert.Null(statement.Objection(["4471"], Currency.Of("USD")));
    }

    [Fact]
    public async Task A_reference_that_a_bank_uses_twice_is_two_lines()
    {
        var twice = Entry("<AcctSvcrRef>B-1</AcctSvcrRef>");
        Assert.Equal(["B-1", "B-1#2"],
            Assert.Single((await Read(Document(Page("", Balance("OPBD", "0") + Balance("CLBD", "40"), twice, twice)))).Statements).Lines
                .Select(l => l.Key));
    }

    /// <summary>The order that the published schema of camt.053.001.02 lays down within a statement and an entry (from memory): what our
    /// stand-in bank writes keeps to it.</summary>
    [Theory]
    [InlineData("02")]
    [InlineData("08")]
    public void The_stand_in_bank_writes_by_the_schema(string version)
    {
        string[] statement = ["Id", "StmtPgntn", "ElctrncSeqNb", "RptgSeq", "LglSeqNb", "CreDtTm", "FrToDt", "CpyDplctInd", "RptgSrc",
            "Acct", "RltdAcct", "Intrst", "Bal", "TxsSummry", "Ntry", "AddtlStmtInf"];
        string[] entry = ["NtryRef", "Amt", "CdtDbtInd", "RvslInd", "Sts", "BookgDt", "ValDt", "AcctSvcrRef", "Avlbty", "BkTxCd",
            "ComssnWvrInd", "AddtlInfInd", "AmtDtls", "Chrgs", "TechInptChanl", "Intrst", "CardTx", "NtryDtls", "AddtlNtryInf"];
        string[] details = ["Btch", "TxDtls"],
            transaction = ["Refs", "Amt", "CdtDbtInd", "AmtDtls", "Avlbty", "BkTxCd", "Chrgs", "Intrst", "RltdPties", "RltdAgts",
                "LclInstrm", "Purp", "RltdRmtInf", "RmtInf", "RltdDts", "RltdPric", "RltdQties", "FinInstrmId", "Tax", "RtrInf", "CorpActn",
                "SfkpgAcct", "CshDpst", "CardTx", "AddtlTxInf"];
        var bank = new Standins.Bank.StandInBank("4471", "USD", 1_000_00);
        bank.Book(new(2026, 11, 24), 500_00, "DEPOSIT 70401");
        bank.Book(new(2026, 11, 24), -3_00, "ACCOUNT FEE");
        bank.Pay("QUILL 20441", new(2026, 11, 24), 98_00, 10, new(2026, 11, 20));
        var root = System.Xml.Linq.XDocument.Parse(bank.Statement(new(2026, 11, 24), new(2026, 11, 24), version)).Root!;
        Assert.EndsWith($"camt.053.001.{version}", root.Name.NamespaceName, StringComparison.Ordinal);
        foreach (var (name, order) in new[] { ("Stmt", statement), ("Ntry", entry), ("NtryDtls", details), ("TxDtls", transaction) })
        {
            foreach (var element in root.Descendants().Where(e => e.Name.LocalName == name))
            {
                var places = element.Elements().Select(e => Array.IndexOf(order, e.Name.LocalName)).ToList();
                Assert.DoesNotContain(-1, places);
                Assert.Equal(places.Order(), places);
            }
        }

        Assert.Equal(3, root.Descendants().Count(e => e.Name.LocalName == "Ntry"));
        Assert.All(root.Descendants().Where(e => e.Name.LocalName is "Amt"), a => Assert.Equal(3, a.Attribute("Ccy")!.Value.Length));
    }

    /// <summary>280 KB of nesting once held a core for more than 20 s.</summary>
    [Theory]
    [InlineData(100_000, 0, 0, "nested deeper")]
    [InlineData(1, 200, 0, "more attributes")]
    [InlineData(1, 0, 200_000, "a text in it is longer")]
    public void XML_beyond_what_statements_have_is_refused_before_it_is_built(int depth, int attributes, int text, string says)
    {
        var xml = string.Concat(Enumerable.Repeat("<a>", depth))
            + $"<b {string.Join(' ', Enumerable.Range(0, attributes).Select(n => $"c{n}=\"1\""))}>{new string('x', text)}</b>"
            + string.Concat(Enumerable.Repeat("</a>", depth));
        var read = CamtFile.Read(new MemoryStream(System.Text.Encoding.UTF8.GetBytes(xml)), TimeZoneInfo.Utc);
        Assert.Contains(says, read.Objection, StringComparison.Ordinal);
    }
}
