using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Core.Tests;
using Fondo.Files.Mapping;
using Fondo.Files.Reading;
using Fondo.Standins.Days;

namespace Fondo.Files.Tests;

using Mapping = Fondo.Files.Mapping.Mapping;

/// <summary>Twenty-two files of shapes that were made up, with what they come to. The sums were worked out from the sales that the files
/// were written from, by another program.</summary>
public sealed class TheGallery
{
    private static readonly string _folder = Path.Combine(AppContext.BaseDirectory, "gallery");

    private static readonly Setup _setup = MadeUp.Read([], setup: DayMaker.Make(1).Files[DayFiles.Setup]).Day!.Setup;

    private static readonly JsonArray _all = JsonNode.Parse(File.ReadAllText(Path.Combine(_folder, "gallery.json")))!.AsArray();

    public static TheoryData<string> Names => [.. _all.Select(f => (string)f!["file"]!)];

    private static JsonNode Told(string name) => _all.Single(f => (string?)f!["file"] == name)!;

    private static MappedFile Read(string name, Func<Mapping, Mapping>? answers = null)
    {
        var bytes = File.ReadAllBytes(Path.Combine(_folder, name));
        var guess = MappingGuess.Of(name, bytes, _setup);
        return MappedFile.Of(name, bytes, answers?.Invoke(guess) ?? guess, _setup);
    }

    /// <summary>Right without a touch; or it asks, and is right once answered. Never wrong without a word.</summary>
    [Theory]
    [MemberData(nameof(Names))]
    public void A_file_is_guessed_right_or_asked_about(string name)
    {
        var told = Told(name);
        var first = Read(name);
        if ((string?)told["guess"] == "right")
        {
            Assert.True(first.Findings.Count == 0, string.Join("\n", first.Findings.Take(5)));
            Assert.Equal(Expected(told), Of(first));
            return;
        }

        Assert.NotEmpty(first.Findings);
        if (told["answers"] is { } answers)
        {
            var answered = Read(name, m => Answered(m, answers));
            Assert.True(answered.Findings.Count == 0, string.Join("\n", answered.Findings.Take(5)));
            Assert.Equal(Expected(told), Of(answered));
        }
    }

    [Fact]
    public void Eighteen_are_right_at_once()
    {
        Assert.Equal(22, _all.Count);
        Assert.Equal(18, _all.Count(f => (string?)f!["guess"] == "right"));
        Assert.Equal(22, _all.Select(f => (string?)f!["says"]).Distinct().Count());
    }

    /// <summary>What a mapping says goes out and comes in again, and reads the same.</summary>
    [Theory]
    [MemberData(nameof(Names))]
    public void A_guess_that_was_kept_reads_the_same(string name)
    {
        var first = Read(name);
        if (first.Findings.Count == 0 && first.Kind != MappedKind.Statement)
        {
            Assert.Equal(first.Text, Read(name, m => MappingText.Read("m.json", MappingText.Write(m)).Mapping!).Text);
        }
    }

    private static Mapping Answered(Mapping guess, JsonNode answers)
    {
        var json = JsonNode.Parse(MappingText.Write(guess))!.AsObject();
        foreach (var (name, value) in answers.AsObject())
        {
            json[name] = value!.DeepClone();
        }

        var (mapping, findings) = MappingText.Read("answered.json", json.ToJsonString());
        Assert.Empty(findings);
        return mapping!;
    }

    private static string Expected(JsonNode told)
    {
        var text = new StringBuilder($"{told["kind"]} {told["rows"]} {told["skipped"]}\n");
        foreach (var part in new[] { "terminals", "events", "cells", "moves", "books", "batches" })
        {
            foreach (var (key, value) in told[part]?.AsObject() ?? [])
            {
                text.Append(CultureInfo.InvariantCulture, $"{key} {(value is JsonObject sums
                    ? string.Join(' ', sums.Select(s => s.Value!.ToString()))
                    : value!.ToString())}\n");
            }
        }

        return told["opening"] is { } opening
            ? $"{text}{opening} {told["closing"]}\n"
            : $"{text}{told["first"]} {told["last"]}\n";
    }

    private static string Of(MappedFile file)
    {
        var taken = file.Number(RowFate.Taken);
        var head = $"{file.Kind.ToString().ToLowerInvariant()} {taken} {file.Rows.Count - taken}\n";
        return head + (file.Kind switch
        {
            MappedKind.Batches => OfRows([.. BatchRows.Read(file.Text, _setup).Rows]),
            MappedKind.Journal => OfEvents(file),
            MappedKind.Ledger or MappedKind.Totals => OfTable(file),
            _ => OfStatement(file),
        });
    }

    private static string OfRows(ImmutableArray<BatchRow> rows) => string.Concat(rows.GroupBy(r => r.Key.Terminal.Value)
        .OrderBy(g => g.Key, StringComparer.Ordinal).Select(g =>
        {
            var (sales, refunds) = (g.Where(r => r.Signed.Sign > 0).ToList(), g.Where(r => r.Signed.Sign < 0).ToList());
            return $"{g.Key} {sales.Count} {sales.Sum(r => r.Signed.Minor)} {refunds.Count} {-refunds.Sum(r => r.Signed.Minor)} "
                + $"{g.Sum(r => r.Tip.Minor)}\n";
        })) + Span([.. rows.Select(r => r.At)]);

    private static string OfTable(MappedFile file)
    {
        var reading = MadeUp.Read([], setup: DayMaker.Make(1).Files[DayFiles.Setup],
            ledger: file.Kind == MappedKind.Ledger ? file.Text : null, totals: file.Kind == MappedKind.Totals ? file.Text : null);
        Assert.True(reading.Findings.Count == 0, string.Join("\n", reading.Findings));
        var (ledger, totals) = (reading.Day!.Ledger ?? [], reading.Day.Totals);
        return string.Concat(ledger.GroupBy(l => l.Tender.Value).OrderBy(g => g.Key, StringComparer.Ordinal)
                .Select(g => $"{g.Key} {g.Count()} {g.Sum(l => l.Signed.Minor)}\n"))
            + string.Concat(totals.OrderBy(t => t.Terminal.Value, StringComparer.Ordinal).Select(t =>
                $"{t.Terminal.Value} {t.SalesCount} {t.SalesAmount.Minor} {t.RefundsCount} {t.RefundsAmount.Minor}\n"))
            + Span([.. ledger.Select(l => l.At), .. totals.Select(t => t.Closed)]);
    }

    private static string OfEvents(MappedFile file)
    {
        var reading = MadeUp.Read(file.Text.Split('\n', StringSplitOptions.RemoveEmptyEntries),
            setup: DayMaker.Make(1).Files[DayFiles.Setup]);
        Assert.True(reading.Findings.Count == 0, string.Join("\n", reading.Findings));
        var events = reading.Day!.Journal;
        var voided = events.OfType<VoidEvent>().Select(v => v.Original).ToHashSet();
        var tickets = events.OfType<Ticket>().Where(t => !voided.Contains(t.Id)).ToList();
        var text = new StringBuilder();
        foreach (var kind in _kinds.Where(k => events.Any(e => e.Kind == k.Kind)))
        {
            text.Append(CultureInfo.InvariantCulture, $"{kind.Name} {events.Count(e => e.Kind == kind.Kind)}\n");
        }

        foreach (var cell in tickets.SelectMany(t => t.Tenders.Select(n => (Key: $"{t.Head.Register.Value} {n.Type.Value}",
            Net: n.Amount - n.Change - n.Tip - n.Cashback))).GroupBy(c => c.Key).OrderBy(g => g.Key, StringComparer.Ordinal))
        {
            text.Append(CultureInfo.InvariantCulture, $"{cell.Key} {cell.Count()} {cell.Sum(c => c.Net.Minor)}\n");
        }

        var moves = events.OfType<CashMovement>().Select(m => (m.Kind, m.Amount))
            .Concat(events.OfType<SessionOpen>().Select(o => (EventKind.Open, o.Float))).ToList();
        foreach (var (kind, name) in _kinds.Where(k => moves.Any(m => m.Item1 == k.Kind)))
        {
            text.Append(CultureInfo.InvariantCulture, $"{name} {moves.Where(m => m.Item1 == kind).Sum(m => m.Item2.Minor)}\n");
        }

        return text + Span([.. events.OfType<Ticket>().Select(t => t.Head.At)]);
    }

    private static readonly (EventKind Kind, string Name)[] _kinds =
    [
        (EventKind.Sale, "sale"), (EventKind.Refund, "refund"), (EventKind.Void, "void"), (EventKind.Open, "open"),
        (EventKind.Drop, "drop"), (EventKind.Close, "close"), (EventKind.PaidOut, "paid-out"), (EventKind.PaidIn, "paid-in"),
        (EventKind.Loan, "loan"), (EventKind.NoSale, "no-sale"),
    ];

    private static string OfStatement(MappedFile file)
    {
        using var text = new MemoryStream(Encoding.UTF8.GetBytes(file.Text));
        var statement = StatementFiles.Read("statement.csv", text, _setup.Currency, _setup.TimeZone).GetAwaiter().GetResult().Statements[0];
        return $"{statement.Opening.Minor} {statement.Closing.Minor}\n";
    }

    /// <summary>On the store's own clock.</summary>
    private static string Span(ImmutableArray<DateTimeOffset> times)
    {
        string Local(DateTimeOffset at) =>
            TimeZoneInfo.ConvertTime(at, _setup.TimeZone).ToString("yyyy-MM-ddTHH:mm:ss", CultureInfo.InvariantCulture);
        return $"{Local(times.Min())} {Local(times.Max())}\n";
    }
}
