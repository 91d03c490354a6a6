using System.Text;
using CsCheck;
using Fondo.Core.Leads;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;
using Fondo.Core.Tests;
using Fondo.Files.Reading;
using Fondo.Files.Text;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Files.Tests;

/// <summary>Every mistake in a file gets a sentence at its place; nothing is taken by halves.</summary>
public sealed class BadFiles
{
    private static string Only(DayReading reading)
    {
        Assert.Null(reading.Day);
        return Assert.Single(reading.Findings).ToString();
    }

    [Theory]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"drop","amount":12.50}""", "journal.jsonl:2: amount is \"12.50\"; expected a decimal string with 2 decimals")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"drop","amount":"12.505"}""", "journal.jsonl:2: amount is \"12.505\"; expected a decimal")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"drop","amount":"-1.00"}""", "journal.jsonl:2: amount is \"-1.00\"; expected an amount that is not negative")]
    [InlineData("""{"id":"x","register":"L7","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"no-sale"}""",
        "journal.jsonl:2: register is \"L7\"; the set-up names no such register")]
    [InlineData("""{"id":"x","register":"L1","drawer":null,"cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"no-sale"}""",
        "journal.jsonl:2: drawer: expected a drawer session")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00","kind":"no-sale"}""",
        "journal.jsonl:2: at is \"2026-11-21T10:00:00\"; expected an ISO 8601 time with its offset")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"gift"}""",
        "journal.jsonl:2: kind is \"gift\"; expected one of: sale, refund")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"void","original":"gone"}""", "journal.jsonl:2: it voids gone, which the journal does not have")]
    [InlineData("""{"id":"x","id":"y"}""", "journal.jsonl:2: the member name id is repeated in one object")]
    [InlineData("""{"id":"x","register":""", "journal.jsonl:2: this is not JSON")]
    [InlineData("[1]", "journal.jsonl:2: the value: expected an object")]
    [InlineData("{\"id\":\"x\",\"register\":\"L1\"", "journal.jsonl:2: this is not JSON")]
    [InlineData("{\"id\":NaN}", "journal.jsonl:2: this is not JSON")]
    [InlineData("""{"id":7,"register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"no-sale"}""",
        "journal.jsonl:2: id is \"7\"; expected a string")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"drop","amount":"NaN"}""", "journal.jsonl:2: amount is \"NaN\"; expected a decimal")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"drop","amount":"1e3"}""", "journal.jsonl:2: amount is \"1e3\"; expected a decimal")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"drop","amount":1e3}""",
        "journal.jsonl:2: amount is \"1e3\"; expected a decimal")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"sale","lines":[],"subtotal":"1.00","tax":"0.00","total":"1.00","tenders":[{"type":"shells","amount":"1.00"}]}""", "journal.jsonl:2: tenders[1].type is \"shells\"; the catalogue has no such tender")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"sale","lines":[],"subtotal":"1.00","tax":"0.00","total":"1.00","tenders":[{"type":"cash","amount":"0.50"},{"type":"credit","amount":"0.50","terminal":"T-5"}]}""", "journal.jsonl:2: tenders[2].terminal is \"T-5\"; the set-up names no such terminal")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"sale","lines":[{"sku":"a","name":"a","qty":"1e2","amount":"1.00","tax":"0.00","taxRate":"0.00","ebt":true}],"subtotal":"1.00","tax":"0.00","total":"1.00","tenders":[]}""", "journal.jsonl:2: lines[1].qty is \"1e2\"; expected a decimal string")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"sale","subtotal":"1.00","tax":"0.00","total":"1.00"}""", "journal.jsonl:2: tenders: expected a list, but there is none")]
    [InlineData("""{"id":"x","register":"L1","drawer":"L1-A","cashier":"p1","at":"2026-11-21T10:00:00-05:00","kind":"sale","subtotal":"1.00","tax":"0.00","total":"1.00","tenders":[3]}""", "journal.jsonl:2: tenders: expected an object as number 1")]
    public void An_event_at_fault_is_told_by_line_field_and_expectation(string line, string sentence) =>
        Assert.StartsWith(sentence, Only(Read([Event("no-sale", ""), line, Event("no-sale", "")])), StringComparison.Ordinal);

    [Theory]
    [InlineData("T-1,7,1,2026-11-21T10:00:00-05:00,sale,5.0,,,,,,,,\n", "batches.csv:2: amount is \"5.0\"")]
    [InlineData("T-5,7,1,2026-11-21T10:00:00-05:00,sale,5.00,,,,,,,,\n",
        "batches.csv:2: terminal is \"T-5\"; the set-up names no such terminal")]
    [InlineData("T-1,7,1,2026-11-21T10:00:00-05:00,sale,5.00\n", "batches.csv:2: expected 14 fields, but there are 6")]
    [InlineData("T-1,7,1,2026-11-21T10:00:00-05:00,gift,5.00,,,,,,,,\n", "batches.csv:2: type is \"gift\"; expected one of: sale, refund")]
    [InlineData("T-1,7,1,2026-11-21T10:00:00-05:00,sale,5.00,,,,12345,,,,\n", "batches.csv:2: card: expected at most the last four digits")]
    public void A_row_at_fault_is_told(string rows, string sentence) =>
        Assert.StartsWith(sentence, Only(Read([], rows)), StringComparison.Ordinal);

    [Theory]
    [InlineData("T-1,7,1,2026-11-21T10:00:00-05:00,sale,5.00,,,her\"on,,,,,\n", null)] // a quote inside an unquoted field is text
    [InlineData("T-1,7,1,2026-11-21T10:00:00-05:00,sale,5.00,,,\"heron,,,,,\n", "batches.csv:2: a quote in this row is not closed")]
    [InlineData("T-1,7,1,2026-11-21T10:00:00-05:00,sale,5.00,,,\"a\nb\",,,,,\nT-1,7,2,2026-11-21T10:00:00-05:00,sale,x,,,,,,,,\n",
        "batches.csv:4: amount is \"x\"")]
    [InlineData("T-1,7,1,2026-11-21T10:00:00-05:00,sale,5.00,,,\"a\"\"b\",,,,,\r\n\r\nT-1,7,2,2026-11-21T10:00:00-05:00,sale,6.00,,,,,,,,",
        null)]
    [InlineData("T-1,7,1,2026-11-21T10:00:00-05:00,sale,5.00,,,,,,,,\nT-1,7,1,2026-11-21T10:00:00-05:00,sale,6.00,,,,,,,,\n",
        "batches.csv:3: T-1/7/1 is already at line 2, with different contents")]
    [InlineData("T-1,7,1,2026-11-21T10:00:00-05:00,sale,5.00,,,,,,,,\nT-1,7,1,2026-11-21T10:00:00-05:00,sale,5.00,,,,,,,,\n", null)]
    public void Quotes_and_lines_of_a_row(string rows, string? sentence)
    {
        var reading = Read([], rows);
        Assert.Equal(sentence is null, reading.Day is not null);
        Assert.StartsWith(sentence ?? "", reading.Findings is [var first, ..] ? first.ToString() : "", StringComparison.Ordinal);
    }

    private static DayReading ReadBytes(string name, byte[] bytes)
    {
        var builder = new DayBuilder();
        builder.Take(DayFiles.Setup, new MemoryStream(Encoding.UTF8.GetBytes(MadeUp.Setup)));
        builder.Take(name, new MemoryStream(bytes));
        return builder.Build();
    }

    [Fact]
    public void Text_that_is_not_UTF_8_is_refused_at_its_line()
    {
        byte[] line = [.. Encoding.UTF8.GetBytes(Event("no-sale", "\"x\":\"?\"")).Select(b => b == (byte)'?' ? (byte)0xFF : b)];
        Assert.Equal("journal.jsonl:2: the text is not valid UTF-8",
            Only(ReadBytes(DayFiles.Journal, [.. Encoding.UTF8.GetBytes(Event("no-sale", "") + "\n"), .. line])));
        Assert.StartsWith("batches.csv:", Only(ReadBytes(DayFiles.Rows, [.. Encoding.UTF8.GetBytes(RowHeader), 0xC3, 0x28, (byte)'\n'])),
            StringComparison.Ordinal);
    }

    [Fact]
    public void A_field_of_a_megabyte_is_text_like_any_other_and_nesting_ends_at_thirty_two()
    {
        var large = new string('x', 1 << 20);
        Assert.NotNull(Read([Event("no-sale", $"\"more\":\"{large}\"")], $"T-1,7,1,{At("10:00")},sale,5.00,,,{large},,,,,\n").Day);
        Assert.StartsWith("journal.jsonl:1: this is not JSON",
            Only(Read([Event("no-sale", $"\"more\":{new string('[', 40)}{new string(']', 40)}")])), StringComparison.Ordinal);
        Assert.Equal("journal.jsonl:1: this line is longer than 16 MB",
            Only(ReadBytes(DayFiles.Journal, Encoding.UTF8.GetBytes($"{{\"a\":\"{new string('x', 33 << 20)}\"}}"))));
    }

    /// <summary>A journal of many blocks, read side by side, is taken in its order, and its faults name their own lines.</summary>
    [Fact]
    public void A_long_journal_is_read_in_order()
    {
        var lines = Enumerable.Range(0, 20_000).Select(i => Event("no-sale", "", id: $"n{i}")).ToArray();
        Assert.Equal(Enumerable.Range(0, 20_000).Select(i => $"n{i}"), Read(lines).Day!.Journal.Select(e => e.Id.Value));
        foreach (var at in new[] { 3, 9_999, 19_999 })
        {
            lines[at] = "{}";
        }

        Assert.Equal([4, 10_000, 20_000], Read(lines).Findings.Select(f => f.Line).Distinct());
    }

    [Fact]
    public void A_header_that_lacks_a_column_is_told()
    {
        var builder = new DayBuilder();
        builder.Take(DayFiles.Setup, new MemoryStream(Encoding.UTF8.GetBytes(MadeUp.Setup)));
        builder.Take(DayFiles.Rows, new MemoryStream("terminal,batch\nT-1,7\n"u8.ToArray()));
        Assert.StartsWith("batches.csv:1: the header lacks seq, at, type, amount", builder.Build().Findings[0].ToString(),
            StringComparison.Ordinal);
    }

    [Fact]
    public void In_a_document_the_line_is_where_the_value_stands() =>
        Assert.StartsWith("day.json:2: timeZone is \"Mossgate\"",
            Only(Read([], setup: MadeUp.Setup.Replace("\"America/New_York\"", "\n\"Mossgate\"", StringComparison.Ordinal))),
            StringComparison.Ordinal);

    [Fact]
    public void All_faults_are_told_up_to_a_hundred()
    {
        Assert.Equal(7, Read(Enumerable.Repeat("{}x", 7)).Findings.Count);
        Assert.Equal(100, Read(Enumerable.Repeat("{}x", 300)).Findings.Count);
    }

    [Fact]
    public void The_same_event_twice_is_one_and_another_one_of_its_name_is_refused()
    {
        var ticket = Ticket("5.00", Card("5.00", "1"), id: "same");
        Assert.Single(Read([ticket, ticket.Replace(",", " , ", StringComparison.Ordinal)]).Day!.Journal);
        Assert.Equal("journal.jsonl:2: same is already at line 1, with different contents",
            Only(Read([ticket, ticket.Replace("\"tax\":\"0.00\"", "\"tax\":\"1.00\"", StringComparison.Ordinal)])));
    }

    [Fact]
    public void What_the_formats_allow_is_taken()
    {
        var builder = new DayBuilder();
        builder.Take(DayFiles.Setup, new MemoryStream([0xEF, 0xBB, 0xBF, .. Encoding.UTF8.GetBytes(MadeUp.Setup)]));
        builder.Take(DayFiles.Journal,
            new MemoryStream(Encoding.UTF8.GetBytes("\n" + Event("no-sale", "\"more\":{\"a\":[1]}") + "\r\n\r\n" + Event("close", ""))));
        builder.Take(DayFiles.Rows,
            new MemoryStream(
                Encoding.UTF8.GetBytes(
                    "extra,amount,terminal,batch,seq,at,type,tip,cashback,brand,card,auth,rrn,entry,benefit\r\n\"a "
                        + "\"\"b\"\"\n,c\",5.00,T-1,7,1,2026-11-21T10:00:00Z,sale,,,,,,,,\r\n")));
        var reading = builder.Build();
        Assert.Empty(reading.Findings);
        Assert.Equal((2, 1), (reading.Day!.Journal.Length, reading.Day.Rows!.Value.Length));
    }

    [Fact]
    public void People_whom_nobody_named_are_remarked_and_not_refused()
    {
        var reading = Read([Event("no-sale", "").Replace("\"p1\"", "\"p9\"", StringComparison.Ordinal)]);
        Assert.NotNull(reading.Day);
        Assert.Equal("journal.jsonl:1: cashier is \"p9\"; the set-up names no such person", Assert.Single(reading.Remarks).ToString());
    }

    // ISO/IEC 7812-1: 7992739871 has check digit 3 (from memory).
    [Fact]
    public void Check_digit() => Assert.Equal(3, CardNumbers.CheckDigit([7, 9, 9, 2, 7, 3, 9, 8, 7, 1]));

    private const string Invented = "7992739871000";

    [Theory]
    [InlineData("{0}", true)]
    [InlineData("call {0} today", true)]
    [InlineData("12345678901234567890123", false)]
    [InlineData("2026-11-21T10:00:00-05:00", false)]
    [InlineData("1234", false)]
    public void Finds_full_card_numbers(string text, bool holds)
    {
        var digits = Invented + CardNumbers.CheckDigit([.. Invented.Select(c => (byte)(c - '0'))]);
        Assert.Equal(holds, CardNumbers.Contains(string.Format(System.Globalization.CultureInfo.InvariantCulture, text, digits)));
        Assert.Equal(holds, CardNumbers.Contains(string.Format(System.Globalization.CultureInfo.InvariantCulture, text,
            string.Join("- ", digits.Chunk(4).Select(c => new string(c))))));
    }

    [Theory]
    [InlineData("note", true)]
    [InlineData("sku", false)]
    public void A_full_card_number_is_refused_and_never_echoed(string field, bool refused)
    {
        var digits = Invented + CardNumbers.CheckDigit([.. Invented.Select(c => (byte)(c - '0'))]);
        foreach (var written in new[]
        {
            $"\"{digits}\"",
            digits,
            $"\"{digits[..4]} {digits[4..8]}-{digits[8..]}\"",
            $"\"\\u003{digits[0]}{digits[1..]}\""
        })
        {
            var reading = Read([Event("no-sale", $"\"x\":[{{\"{field}\":{written}}}]")]);
            Assert.Equal(refused, reading.Day is null);
            Assert.All(reading.Findings, f => Assert.DoesNotContain(digits[4..8], f.ToString(), StringComparison.Ordinal));
        }
    }

    /// <summary>Whatever bytes arrive, the readers answer with sentences, or with a day that works out to its leads.</summary>
    [Fact]
    public void Mutated_files_are_refused_or_read_and_worked_out()
    {
        var files = Directory.GetFiles(Path.Combine(AppContext.BaseDirectory, "cases", "surcharge"))
            .ToDictionary(f => Path.GetFileName(f), File.ReadAllBytes);
        var worked = 0;
        Gen.Select(Gen.Int[0, files.Count - 1].Select(i => files.Keys.Order().ElementAt(i)),
            Gen.Select(Gen.Int[0, 99_999], Gen.Byte).Array[1, 6], Gen.Int[0, 6]).Sample((name, changes, how) =>
        {
            var bytes = files[name].ToList();
            foreach (var (at, value) in changes)
            {
                var place = at % bytes.Count;
                switch (how)
                {
                    case 0: bytes[place] = value; break;
                    case 1: bytes.Insert(place, value); break;
                    case 2: bytes.RemoveRange(place, Math.Min(3, bytes.Count - place)); break;
                    case 3 or 4: // another figure
                        var figure = bytes.FindIndex(place, b => b is >= (byte)'0' and <= (byte)'9');
                        bytes[figure < 0 ? place : figure] = figure < 0 ? bytes[place] : (byte)('0' + (value % 10));
                        break;
                    case 5: // a line less
                        var (from, to) = (bytes.LastIndexOf((byte)'\n', place) + 1, bytes.IndexOf((byte)'\n', place));
                        bytes.RemoveRange(from, (to < 0 ? bytes.Count : to + 1) - from);
                        bytes.Add((byte)'\n');
                        break;
                    default: bytes.InsertRange(place, bytes.Skip(place).Take(value).ToList()); break;
                }
            }

            var builder = new DayBuilder();
            foreach (var (other, own) in files.OrderBy(f => f.Key != DayFiles.Setup))
            {
                builder.Take(other, new MemoryStream(other == name ? [.. bytes] : own));
            }

            var reading = builder.Build();
            Assert.NotEqual(reading.Day is null, reading.Findings.Count == 0);
            if (reading.Day is { } day)
            {
                LeadFinder.Of(Overview.Of(Reconciliation.Of(day)).Result);
                Interlocked.Increment(ref worked);
            }
        }, iter: 500);
        Assert.True(worked > 50, $"only {worked} of the mutated days were worked out");
    }
}
