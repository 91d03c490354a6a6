using System.Text.Json;
using Fondo.Core.Amounts;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Evidence;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §12: the gates that ask for checks and the safe, registers signed off, and what is frozen.</summary>
public sealed class ClosedDays
{
    /// <summary>Food benefits of 5.00 on a ticket where nothing may be paid with them: one finding (rules §2).</summary>
    private static readonly Reconciliation _day = Reconcile(
        [
            Event("open", "\"amount\":\"100.00\""),
            Ticket("5.00", """{"type":"ebt-food","amount":"5.00","terminal":"T-1","card":"1","auth":"2","rrn":"3"}"""),
            Event("close", "", "20:00")
        ], rows: "", counts: Counted("\"100.00\":1"));

    private static Gate Gate(GateId id, Reconciliation day, params Answer[] answers) =>
        Gates.Of(Overview.Of(day), new([], [], [.. answers], [])).Single(g => g.Id == id);

    [Fact]
    public void A_finding_is_green_once_it_is_answered_as_it_is()
    {
        var finding = Assert.Single(_day.TicketFindings);
        var left = Assert.Single(Gate(GateId.Checks, _day).Left);
        Assert.Equal(("Lane 1: food benefits above what they may pay for, 5.00.", false, "L1"),
            (left.Says(_day.Day.Setup), left.CanBeExcused, left.Register!.Value.Value));
        Answer Answer(long amount) => new(finding.Ticket, finding.Code, new(amount), Entries.Answer.Usual(finding.Code), "given back",
            new("p1"), DateTimeOffset.UnixEpoch);
        Assert.True(Gate(GateId.Checks, _day, Answer(5_00)).IsGreen);
        Assert.False(Gate(GateId.Checks, _day, Answer(4_99)).IsGreen); // it was another thing that was seen
    }

    [Theory]
    [InlineData("", "The safe is not counted today.")]
    [InlineData("\"by\":\"p1\"", "The safe was counted by Ansel Ruiz alone.")]
    [InlineData("\"by\":\"p1\",\"witness\":\"p1\"", "The safe was counted by Ansel Ruiz alone.")]
    [InlineData("\"by\":\"p1\",\"witness\":\"p2\"", null)]
    public void The_safe_is_counted_by_two(string people, string? sentence)
    {
        var counts = people.Length == 0
            ? Counted("\"1.00\":1", "L9-A")
            : $$"""{"id":"s1","kind":"safe",{{people}},"at":"{{At("21:00")}}","attempt":1,"cash":{"100.00":3} }""";
        Assert.Equal(sentence, Gate(GateId.Safe,
            Reconcile([Event("open", "\"amount\":\"1.00\"", register: "L1")], counts: people.Length == 0 ? null : counts)).Left
            .Select(i => i.Says(_day.Day.Setup)).SingleOrDefault());
    }

    [Fact]
    public void A_register_signed_off_is_another_once_a_figure_is()
    {
        string Figures(params Entry[] entries) => SignOff.FiguresOf(new("L1"), _day.Cells.Select(c => Bridge.Of(c, entries, Money.Zero)));
        var ebt = new CellKey.Takings(new("L1"), null, TenderId.EbtFood);
        var entry = new Entry(Guid.NewGuid(), EntryKind.Record, [new(ebt, new(-1))], "why", new("p1"), DateTimeOffset.UnixEpoch, [], null,
            true, null);
        Assert.Equal(Figures(), Figures());
        Assert.NotEqual(Figures(), Figures(entry)); // even while it waits for its second person
        Assert.NotEqual(Figures(entry), Figures(entry with { ApprovedBy = new("p2") }));
    }

    private static CloseDocument Frozen(DayDecisions decisions, int revision = 1) =>
        CloseDocument.Of(3, revision, Overview.Of(_day), decisions, null,
        new("p1"), new(2026, 11, 21, 22, 0, 0, TimeSpan.FromHours(-5)),
        new DocumentNames(_day.Day.Setup, id => _day.Day.Setup.NameOf(id)));

    [Fact]
    public void A_document_reads_as_it_was_written_and_says_ids_beside_names()
    {
        var document = Frozen(DayDecisions.Nothing);
        var read = JsonSerializer.Deserialize<CloseDocument>(JsonSerializer.Serialize(document))!;
        Assert.Empty(document.Differences(read));
        Assert.Equal((4, 2, "p1", "America/New_York"), (read.Fondo, read.MinorDigits, read.ClosedById, read.TimeZone));
        Assert.Equal(("L1", "Lane 1", "L1-A", "p1", "Ansel Ruiz"),
            read.Sessions.Select(s => (s.RegisterId, s.Register, s.Drawer, s.CashierId, s.Cashier)).Single());
        Assert.Equal(("L1", "ebt-food", "-5.00"),
            read.Cells.Where(c => c.TenderId == "ebt-food").Select(c => (c.RegisterId, c.TenderId, c.Variance)).Single());
        Assert.Equal([("100.00", 1)], read.Counts.Single().Pieces.Select(p => (p.Denomination, p.Number)));
        Assert.Equal([("ebt-over-eligible", "5.00", (string?)null)], read.Findings.Select(f => (f.Code, f.Amount, f.Remedy)));
    }

    [Fact]
    public void Revisions_say_what_changed()
    {
        var cell = new CellKey.Takings(new("L1"), null, TenderId.EbtFood);
        var entry = new Entry(Guid.NewGuid(), EntryKind.Accept, [new(cell, new(-5_00))], "nobody settled it", new("p1"),
            DateTimeOffset.UnixEpoch, [], null, false, null);
        var differences = Frozen(DayDecisions.Nothing).Differences(Frozen(DayDecisions.Nothing with { Entries = [entry] }, 2));
        Assert.Contains(differences, d => d.What == "Lane 1, food benefits" && d.Was.Contains("explained 0.00", StringComparison.Ordinal)
            && d.Is.Contains("explained -5.00", StringComparison.Ordinal));
        Assert.Contains(differences, d => d.What.Contains("nobody settled it", StringComparison.Ordinal) && d.Was.Length == 0);
    }

    /// <summary>A document of the first shape, as it was frozen before ids were: it reads, and is not held to say what it never
    /// said.</summary>
    [Fact]
    public void Documents_of_the_first_shape_still_read()
    {
        const string text = """
            {"Fondo":1,"Number":1,"Store":"Mossgate Market Hall","TradingDay":"2026-11-20","Currency":"USD","ClosedBy":"Odile Marchetti","ClosedAt":"2026-11-20T21:42:00-05:00",
             "Cells":[{"Register":"Lane 1","Drawer":"L1-A","Tender":"Cash","Expected":"100.00","Proof":"100.00","Variance":"0.00","Explained":"0.00","Left":"0.00","State":"proved"}],
             "Totals":[],"Entries":[],"Excuses":[],"Counts":[{"Drawer":"L1-A","Attempt":1,"By":"Ansel Ruiz","At":"2026-11-20T21:00:00-05:00","Cash":"100.00"}],"OpenItems":[],"Trail":{"Number":5,"Hash":"ab"}}
            """;
        var old = JsonSerializer.Deserialize<CloseDocument>(text)!;
        Assert.Equal((1, 0, 0, 5L), (old.Revision, old.Batches.Length, old.Counts[0].Pieces.Length, old.Trail!.Number));
        var now = old with { Fondo = 2, Batches = [new("T-1", "7", null, 1, "5.00", 0, "0.00", 1)] };
        Assert.Empty(old.Differences(now));
    }

    /// <summary>A sale of 12.92 beside a row of 12.29, two minutes later on the terminal next door: what agrees and what does
    /// not.</summary>
    [Fact]
    public void A_ticket_beside_a_row_agrees_trait_by_trait()
    {
        var day = Reconcile([Ticket("12.92", Card("12.92", "5"))], Row("12.29", "5", "1", at: "10:02", terminal: "T-2"));
        var (taken, row) = (day.Matches[0].Journal[0].Tender!.Value, day.Matches[0].Rows[0].Row!);
        Assert.Equal(
            [(Trait.Time, true), (Trait.Amount, false), (Trait.Direction, true), (Trait.Card, true), (Trait.Approval, true),
                (Trait.Reference, true), (Trait.Terminal, (bool?)false)],
            Comparison.Of(taken, row, day.Day.Setup.Policy.MatchWindow).Select(c => (c.Trait, c.Agrees)));
        Assert.Null(Comparison.Of(taken, row with { Card = row.Card with { ApprovalCode = default } },
            TimeSpan.Zero).Single(c => c.Trait == Trait.Approval).Agrees);
        Assert.False(Comparison.Of(taken, row, TimeSpan.FromMinutes(1)).Single(c => c.Trait == Trait.Time).Agrees);

        // Of cash it is what stays: 20.00 given for 12.29, and 7.71 back.
        var cash = taken.Tender with { Type = TenderId.Cash, Amount = new(20_00), Change = new(7_71) };
        var paid = taken with
        {
            Ticket = taken.Ticket with { Tenders = [.. taken.Ticket.Tenders.Select(t => t == taken.Tender ? cash : t)] },
        };
        Assert.True(Comparison.Of(paid, row, TimeSpan.Zero).Single(c => c.Trait == Trait.Amount).Agrees);
    }
}
