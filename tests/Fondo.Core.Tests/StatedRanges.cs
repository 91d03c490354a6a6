using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Leads;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;
using Fondo.Files;
using Fondo.Files.Reading;
using Fondo.Files.Text;
using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Everything that is read has a stated range; at its ends a day still works out, and beyond them there is a sentence (files,
/// Limits).</summary>
public sealed class StatedRanges
{
    private static string Only(DayReading reading) => Assert.Single(reading.Findings).ToString();

    private static void WorksOut(DayReading reading)
    {
        var result = Reconciliation.Of(reading.Day ?? throw new InvalidOperationException(string.Join("\n", reading.Findings)));
        _ = (Overview.Of(result), LeadFinder.Of(result), BenefitSheet.Of(result), ProgrammeSheet.Of(result));
    }

    [Theory]
    [InlineData("0001-01-01T00:00:00Z")]
    [InlineData("1999-12-31T23:59:59-05:00")]
    [InlineData("2100-01-01T00:00:00-05:00")]
    [InlineData("9999-12-31T23:59:59-05:00")]
    public void Times_are_of_the_years_2000_to_2099(string at)
    {
        Assert.Contains("at is", Only(Read([Event("no-sale", "").Replace(At("10:00"), at, StringComparison.Ordinal)])),
            StringComparison.Ordinal);
        Assert.Contains("at is", Only(Read([Event("no-sale", "")],
            Row("5.00", "1", "1").Replace(At("10:00"), at, StringComparison.Ordinal))), StringComparison.Ordinal);
        Assert.Contains("closed is", Only(Read([Event("no-sale", "")], Row("5.00", "1", "1"),
            totals: $"terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\nT-1,7,{at},1,5.00,0,0.00\n")),
            StringComparison.Ordinal);
        Assert.Contains("at is", Only(Read([Event("no-sale", "")],
            counts: Counted("\"20.00\":1").Replace(At("21:00"), at, StringComparison.Ordinal))), StringComparison.Ordinal);
        Assert.Contains("from is", Only(Read([], setup: MadeUp.Setup.Replace("2026-11-21T13:00:00-05:00", at, StringComparison.Ordinal))),
            StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("2000-01-01T00:00:00+14:00")]
    [InlineData("2099-12-31T23:59:59-12:00")]
    public void At_the_ends_of_the_years_a_day_works_out(string at) =>
        WorksOut(Read([Ticket("5.00", Card("5.00", "1")).Replace(At("10:00"), at, StringComparison.Ordinal)],
            Row("5.00", "1", "1").Replace(At("10:00"), at, StringComparison.Ordinal)));

    [Theory]
    [InlineData("1999-12-31", false)]
    [InlineData("2000-01-01", true)]
    [InlineData("2099-12-31", true)]
    [InlineData("2100-01-01", false)]
    [InlineData("0001-01-01", false)]
    public void Trading_days_too(string date, bool isOne) => Assert.Equal(isOne, SetUp.TradingDay.TryParse(date, out _));

    [Theory]
    [InlineData("999999999.99", true)]
    [InlineData("1000000000.00", false)]
    [InlineData("-999999999.99", true)]
    public void Amounts_are_below_a_thousand_million(string amount, bool isOne) =>
        Assert.Equal(isOne, Currency.Of("USD").TryParse(amount, out _));

    /// <summary>The largest ticket that can be: 99 tenders and 2,000 lines of the largest amount, taxed wholly, paid by benefits, with the
    /// largest programmes.</summary>
    [Theory]
    [InlineData("""{"kind":"cash-discount","rate":"0.99"}""", "pro-rata")]
    [InlineData("""{"kind":"surcharge","rate":"0.99","tenders":["credit","ebt-food"]}""", "taxable-first")]
    public void The_largest_ticket_still_works_out(string programme, string relief)
    {
        const string most = "999999999.99";
        var lines = string.Join(',', Enumerable.Repeat(
            $$"""{"sku":"x","name":"x","qty":"1000000","amount":"{{most}}","tax":"{{most}}","taxRate":"1","ebt":true}""", 2000));
        string Tenders(string type) => string.Join(',',
            Enumerable.Repeat(
                $$"""{"type":"{{type}}","amount":"{{most}}","change":"{{most}}","tip":"{{most}}","cashback":"{{most}}","fee":"{{most}}","terminal":"T-1"}""", 99));
        string Big(string type) => Event("sale",
            $"\"lines\":[{lines}],\"subtotal\":\"{most}\",\"discount\":\"{most}\",\"cashDiscount\":\"{most}\",\"tax\":\""
                + $"{most}\",\"fee\":\"{most}\",\"rounding\":\"-{most}\",\"total\":\"-{most}\",\"tenders\":[{Tenders(type)}]");
        WorksOut(Read([Event("open", $"\"amount\":\"{most}\""), Big("cash"), Big("credit"), Big("ebt-food"), Big("check"), Big("debit")],
            Row(most, "1", "1"),
            counts: Counted($"\"{most}\":1"),
            setup: MadeUp.Setup.Replace("\"approvalAbove\":\"20.00\"",
                $"\"approvalAbove\":\"{most}\",\"ebtTax\":\"{relief}\",\"priceProgramme\":{programme}", StringComparison.Ordinal)));
    }

    [Theory]
    [InlineData(99, 2000, null)]
    [InlineData(100, 1, "tenders: expected at most 99")]
    [InlineData(1025, 1, "tenders: expected at most 99")]
    [InlineData(1, 2001, "lines: expected at most 2000")]
    public void Tenders_and_lines_are_counted(int tenders, int lines, string? fault)
    {
        var reading = Read([Event("sale",
            $"\"lines\":[{string.Join(',', Enumerable.Repeat("""{"amount":"0.00","ebt":false}""", lines))}],\"subtotal\":\"0.00\",\"tax\":\"0.00\",\"total\":\"0.00\",\"tenders\":[{string.Join(',', Enumerable.Repeat("""{"type":"cash","amount":"0.00"}""", tenders))}]")]);
        Assert.Equal(fault is null, reading.Day is not null);
        Assert.All(reading.Findings, f => Assert.Contains(fault!, f.ToString(), StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("1e10")]
    [InlineData("10000000000")]
    [InlineData("1.01")]
    [InlineData("99999999999999999999")]
    [InlineData("-0.05")]
    public void Rates_go_from_nothing_to_one(string rate) =>
        Assert.Contains("taxRate is", Only(Read([Event("sale", $$"""
            "lines":[{"amount":"5.00","tax":"0.00","taxRate":"{{rate}}","ebt":true}],"subtotal":"5.00","tax":"0.00","total":"5.00","tenders":[{"type":"cash","amount":"5.00"}]
            """.Trim())])), StringComparison.Ordinal);

    [Fact]
    public void A_programmes_rate_that_says_nothing_is_refused() =>
        Assert.Contains("rate is", Only(Read([], setup: MadeUp.Setup.Replace("\"approvalAbove\":\"20.00\"", """
            "priceProgramme":{"kind":"cash-discount","rate":"0.9999999999999999"}
            """.Trim(), StringComparison.Ordinal))), StringComparison.Ordinal);

    [Theory]
    [InlineData("\"20.00\":999999", null)]
    [InlineData("\"20.00\":1000000", "20.00 is")]
    [InlineData("\"10000000000.00\":10000000", "expected a denomination")]
    [InlineData("\"999999999.99\":2", "worth less than")]
    public void Pieces_and_what_they_are_worth_have_a_limit(string cash, string? fault)
    {
        var reading = Read([Event("open", "\"amount\":\"0.00\"")], counts: Counted(cash));
        Assert.Equal(fault is null, reading.Day is not null);
        Assert.True(fault is null || reading.Findings.Any(f => f.ToString().Contains(fault, StringComparison.Ordinal)),
            string.Join("\n", reading.Findings));
    }

    [Theory]
    [InlineData("a/b")]
    [InlineData("a b")]
    [InlineData("")]
    [InlineData("12345678901234567890123456789012345678901234567890123456789012345")]
    public void Ids_are_letters_digits_and_four_signs(string id)
    {
        Assert.False(Limits.IsId(id));
        Assert.Contains("id", Only(Read([Event("no-sale", "", id: id)])), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("L1-000123")]
    [InlineData("Käse:7._-")]
    public void These_are_ids(string id) => Assert.True(Limits.IsId(id));

    [Fact]
    public void An_object_has_at_most_64_members_and_a_file_as_many_columns()
    {
        static string Members(int n) => string.Join(',', Enumerable.Range(0, n).Select(i => $"\"m{i}\":1"));
        Assert.Contains("more than 64 members", Only(Read([Event("no-sale", "\"more\":{" + Members(65) + "}")])), StringComparison.Ordinal);
        Assert.NotNull(Read([Event("no-sale", "\"more\":{" + Members(64) + "}")]).Day);
        var builder = new DayBuilder();
        builder.Take(DayFiles.Setup, new MemoryStream(Encoding.UTF8.GetBytes(MadeUp.Setup)));
        builder.Take(DayFiles.Rows, new MemoryStream(Encoding.UTF8.GetBytes(string.Join(',', Enumerable.Range(0, 65)) + "\n")));
        Assert.Contains("more than 64 columns", builder.Findings[0].ToString(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("""{"id":"a","\u0069d":"zzz"}""", "escapes that it does not need")]
    [InlineData("""{"gr\u00f6\u00dfe":1,"größe":2}""", "is repeated")]
    [InlineData("""{"\ud800":1,"\ud800":2}""", "escapes")]
    public void A_name_is_one_name_however_it_is_written(string json, string fault)
    {
        var text = new JsonText();
        Assert.False(text.TryParse(Encoding.UTF8.GetBytes(json), out var why, out _));
        Assert.Contains(fault, why, StringComparison.Ordinal);
    }

    [Fact]
    public void A_value_may_be_written_with_escapes() =>
        Assert.Equal("L1-007001", Read([Event("no-sale", "", id: "L1-00700\\u0031")]).Day!.Journal[0].Id.Value);

    [Fact]
    public void A_line_that_is_too_long_is_told_and_not_passed_over()
    {
        var lines = JournalLine.Of(new MemoryStream(Encoding.UTF8.GetBytes("{\"id\":\"a\",\"at\":\"2026-11-21T10:00:00Z\"}\n\""
            + new string('x', 17 << 20) + "\"\n{}"))).ToList();
        Assert.Equal(["a", null], lines.Select(l => l.Id));
        Assert.Contains("longer than 16 MB; what follows it was not read", lines[1].Fault, StringComparison.Ordinal);
    }

    [Fact]
    public void Text_that_is_no_utf8_is_told_with_its_line()
    {
        var builder = new DayBuilder();
        builder.Take(DayFiles.Setup, new MemoryStream(Encoding.UTF8.GetBytes(MadeUp.Setup)));
        byte[] rows = [
            .. Encoding.UTF8.GetBytes(RowHeader + string.Concat(Enumerable.Range(1, 2000).Select(n => Row("5.00", $"{n}", $"{n}")))
                + "T-1,7,x,"),
            0xC3,
            0x28,
            (byte)'\n'
        ];
        builder.Take(DayFiles.Rows, new MemoryStream(rows));
        Assert.StartsWith("batches.csv:2002: the text is not valid UTF-8", builder.Findings[0].ToString(), StringComparison.Ordinal);
    }

    /// <summary>A character on the border of two blocks is none at fault.</summary>
    [Fact]
    public void Characters_may_lie_across_blocks()
    {
        var builder = new DayBuilder();
        builder.Take(DayFiles.Setup, new MemoryStream(Encoding.UTF8.GetBytes(MadeUp.Setup)));
        builder.Take(DayFiles.Rows, new MemoryStream(Encoding.UTF8.GetBytes("extra," + RowHeader
            + string.Concat(Enumerable.Range(1, 3000).Select(n => new string('ä', n % 7) + "€𝄞," + Row("5.00", $"{n}", $"{n}"))))));
        Assert.DoesNotContain(builder.Findings, f => f.File == DayFiles.Rows);
    }

    /// <summary>On a refund every amount is negative (files, journal.jsonl).</summary>
    [Theory]
    [InlineData("5.00", "-5.00", "total")]
    [InlineData("-5.00", "5.00", "tenders[1]")]
    public void A_refund_gives_back(string total, string tender, string field) =>
        Assert.Contains(field, Only(Read([Event("refund",
            $"\"lines\":[],\"subtotal\":\"-5.00\",\"tax\":\"0.00\",\"total\":\"{total}\",\"tenders\":[{{\"type\":\"cash\",\"amount\":\""
                + $"{tender}\"}}]")])), StringComparison.Ordinal);

    [Fact]
    public void An_empty_text_is_nothing()
    {
        var result = Reconcile([Ticket("-5.00", """{"type":"credit","amount":"-5.00","terminal":"T-1","card":"","auth":"","rrn":""}""",
            kind: "refund").Replace("\"kind\":\"refund\"", "\"kind\":\"refund\",\"original\":\"\"", StringComparison.Ordinal)],
            Row("5.00", "1", "1", type: "refund"));
        Assert.Contains(result.TicketFindings, f => f.Code == Checks.FindingCode.RefundWithoutOriginal);
        Assert.Single(result.Matches);
    }

    [Theory]
    [InlineData("credit", "ledger")]
    [InlineData("check", "batch")]
    [InlineData("cash", "ledger")]
    public void A_standard_tender_keeps_its_proof(string tender, string proof) =>
        Assert.Contains("is always proved by",
            Only(Read([], setup: MadeUp.Setup.Replace("\"people\"",
                $"\"tenders\":[{{\"id\":\"{tender}\",\"proof\":\"{proof}\"}}],\"people\"", StringComparison.Ordinal))),
            StringComparison.Ordinal);

    [Fact]
    public void A_tender_may_be_named_as_its_country_writes_it()
    {
        var reading =
            Read([Event("open", "\"amount\":\"0.00\"")], counts: Counted("\"20.00\":1", more: ",\"stubs\":{\"chèque\":\"12.00\"}"),
            setup: MadeUp.Setup.Replace("\"people\"", "\"tenders\":[{\"id\":\"chèque\",\"proof\":\"count\"}],\"people\"",
                StringComparison.Ordinal));
        Assert.Equal(12_00, Assert.Single(reading.Day!.Counts[0].Stubs).Amount.Minor);
    }
}
