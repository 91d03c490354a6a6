using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §11 and §12: entries, approvals, the bridge, the gates, the chain of closes.</summary>
public sealed class Resolutions
{
    private static readonly Reconciliation _day = Reconcile(
        [
            Event("open", "\"amount\":\"100.00\""),
            Ticket("14.14", """{"type":"cash","amount":"14.14"}"""),
            Event("hold", "\"total\":\"9.00\"", id: "h1"),
            Event("close", "", "20:00")
        ],
        rows: Row("14.14", "1", "1"), counts: Counted("\"100.00\":1"));

    private static readonly CellKey _cash = new CellKey.Takings(new("L1"), new("L1-A"), TenderId.Cash),
        _credit = new CellKey.Takings(new("L1"), null, TenderId.Credit);

    private static Entry Entry(EntryKind kind, bool needsApproval, params (CellKey Cell, long Amount)[] postings) => new(
        Guid.NewGuid(), kind, [.. postings.Select(p => new Posting(p.Cell, new(p.Amount)))], "why", new("p1"), DateTimeOffset.UnixEpoch, [],
        null, needsApproval, null);

    private static Dictionary<CellKey, Bridge> Bridges(params Entry[] entries) =>
        _day.Cells.ToDictionary(c => c.Key, c => Bridge.Of(c, entries, _day.Day.Setup.ToleranceOf(c.Key)));

    [Fact]
    public void One_reclassification_explains_both_cells()
    {
        var bridges = Bridges(Entry(EntryKind.Reclassify, false, (_cash, -14_14), (_credit, 14_14)));
        Assert.All([_cash, _credit], k => Assert.True(bridges[k] is { IsExplained: true, IsUnresolved: false, Left.IsZero: true }));
    }

    [Fact]
    public void An_entry_that_waits_for_approval_explains_nothing_yet()
    {
        var bridge = Bridges(Entry(EntryKind.Accept, true, (_cash, -14_14)))[_cash];
        Assert.Equal((true, true, -14_14L), (bridge.IsUnresolved, bridge.AwaitsApproval, bridge.Left!.Value.Minor));
    }

    [Fact]
    public void A_reversal_brings_the_variance_back_and_a_withdrawn_entry_is_gone()
    {
        var entry = Entry(EntryKind.Record, false, (_cash, -14_14));
        var reversal = Entry(EntryKind.Reverse, false, (_cash, 14_14)) with { Reverses = entry.Id };
        Assert.True(Bridges(entry, reversal)[_cash] is { IsUnresolved: true, Left.Minor: -14_14 });
        var waiting = entry with { NeedsApproval = true };
        Assert.True(Bridges(waiting, reversal with { Postings = [] })[_cash] is { Entries.IsEmpty: true, AwaitsApproval: false });
    }

    [Fact]
    public void Posting_to_a_proved_cell_upsets_it()
    {
        var proved = Reconcile([Event("open", "\"amount\":\"100.00\"")], counts: Counted("\"100.00\":1"));
        Assert.True(Bridge.Of(proved.Cells[0], [Entry(EntryKind.Record, false, (_cash, -5_00))], Money.Zero) is
        {
            IsUpset: true,
            IsUnresolved: true
        });
    }

    [Theory]
    [InlineData(EntryKind.Accept, -14_14, null)]
    [InlineData(EntryKind.Accept, -14_15, "This cell is 14.14 short, so you cannot accept 14.15 short.")]
    [InlineData(EntryKind.Accept, 14_14, "This cell is 14.14 short, so you cannot accept 14.14 over.")]
    [InlineData(EntryKind.Accept, 0, "An entry of 0.00 explains nothing. Type an amount.")]
    [InlineData(EntryKind.Record, -300_00, null)]
    [InlineData(EntryKind.Record, 0, "An entry of 0.00 explains nothing. Type an amount.")]
    public void An_entry_must_add_up(EntryKind kind, long amount, string? objection) =>
        Assert.Equal(objection, EntryRules.Objection(kind, [new(_cash, new(amount))], "why", Bridges())?.Says(_day.Day.Setup));

    [Fact]
    public void A_reclassification_goes_elsewhere_and_sums_to_nothing()
    {
        string? Objection(params Posting[] postings) =>
            EntryRules.Objection(EntryKind.Reclassify, postings, "why", Bridges())?.Says(_day.Day.Setup);
        Assert.Null(Objection(new(_cash, new(-14_14)), new(_credit, new(14_14))));
        Assert.StartsWith("The two sides must balance", Objection(new(_cash, new(-14_14)), new(_credit, new(14_13))),
            StringComparison.Ordinal);
        Assert.StartsWith("A reclassification needs", Objection(new(_cash, new(-14_14)), new(_cash, new(14_14))), StringComparison.Ordinal);
        Assert.StartsWith("This day has no such cell",
            Objection(new(_cash, new(-1)), new(new CellKey.Takings(new("L9"), null, TenderId.Credit), new(1))),
            StringComparison.Ordinal);
        Assert.StartsWith("Give a reason",
            EntryRules.Objection(EntryKind.Record, [new(_cash, new(-1))], " ", Bridges())?.Says(_day.Day.Setup),
            StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(EntryKind.Record, -20_00, false)]
    [InlineData(EntryKind.Record, -20_01, true)]
    [InlineData(EntryKind.Accept, -2_00, false)] // within the tolerance of cash
    [InlineData(EntryKind.Accept, -2_01, true)]
    public void A_second_person_approves_above_the_limit_and_beyond_tolerance(EntryKind kind, long amount, bool needs) =>
        Assert.Equal(needs, EntryRules.NeedsApproval(kind, [new(_cash, new(amount))], _day.Day.Setup.Policy, Bridges()));

    [Fact]
    public void Nobody_approves_their_own_entry_nor_without_the_right()
    {
        var entry = Entry(EntryKind.Accept, true, (_cash, -14_14));
        Assert.Equal("You cannot approve your own entry. Ask another supervisor or a manager.",
            EntryRules.ApprovalObjection(entry, new(new("p1"), "Ansel", Role.Manager))?.Says(_day.Day.Setup));
        Assert.Equal("Bryn cannot approve entries. Ask a supervisor or a manager.",
            EntryRules.ApprovalObjection(entry, new(new("p2"), "Bryn", Role.Cashier))?.Says(_day.Day.Setup));
        Assert.Equal("Gil cannot approve entries. Ask a supervisor or a manager.",
            EntryRules.ApprovalObjection(entry, new(new("p3"), "Gil", Role.Auditor))?.Says(_day.Day.Setup));
        Assert.Null(EntryRules.ApprovalObjection(entry, new(new("p4"), "Tamsin", Role.Supervisor)));
    }

    [Fact]
    public void Gates_name_what_is_left()
    {
        var left = GatesOf(Overview.Of(_day), [], []).ToDictionary(g => g.Id, g => g.Left.Select(i => i.Key).ToArray());
        Assert.Equal(["h1"], left[GateId.Holds]);
        Assert.Empty(left[GateId.Batches]); // T-2 and T-9 took no card
        Assert.Equal([_cash.ToString(), _credit.ToString()], left[GateId.Cells].Order().Reverse());
        Assert.Empty(left[GateId.Sessions]);
        Assert.Empty(left[GateId.Counts]);

        var entry = Entry(EntryKind.Reclassify, false, (_cash, -14_14), (_credit, 14_14));
        Excuse Excused(GateId gate, string item) => new(gate, item,
            GatesOf(Overview.Of(_day), [], []).Single(g => g.Id == gate).Left.Single(i => i.Key == item).Facts, "why", new("p1"),
            DateTimeOffset.UnixEpoch);
        Assert.All(GatesOf(Overview.Of(_day), [entry],
            [Excused(GateId.Holds, "h1"), Excused(GateId.Safe, "safe")]),
            g => Assert.True(g.IsGreen, g.Id.Name()));
        Assert.Contains(GatesOf(Overview.Of(_day), [], [Excused(GateId.Cells, _cash.ToString())]),
            g => g.Left.Any(i => i.Key == _cash.ToString()));
    }

    [Fact]
    public void A_drawer_that_waits_holds_the_close_back()
    {
        var day = Reconcile([Event("open", "\"amount\":\"100.00\"")]);
        Assert.Equal(["counts", "sessions"],
            GatesOf(Overview.Of(day), [], []).Where(g => g.Left.Any(i => i.Key == "L1-A")).Select(g => g.Id.Written()).Order());
    }

    [Fact]
    public void The_chain_shows_what_was_changed()
    {
        List<FrozenClose> chain = [];
        for (var n = 1; n <= 4; n++)
        {
            var previous = n == 1 ? "" : chain[^1].Hash;
            chain.Add(new(n, $"day {n}", previous, CloseChain.HashOf(n, previous, $"day {n}")));
        }

        Assert.Null(CloseChain.FirstBroken(chain));
        Assert.Equal(3, CloseChain.FirstBroken([chain[0], chain[1], chain[2] with { Content = "day 3." }, chain[3]]));
        Assert.Equal(4, CloseChain.FirstBroken([chain[0], chain[1], chain[3]]));
    }

    [Theory]
    [InlineData("", 0, null)]
    [InlineData("31", 31, null)]
    [InlineData(" 20 + 5+1", 26, null)]
    [InlineData("-3", 0, "a drawer cannot hold fewer than 0 pieces")]
    [InlineData("1000000000", 0, "more than 100,000 pieces")]
    [InlineData("99999999999999999999", 0, "more than 100,000 pieces")]
    [InlineData("3.5", 0, "pieces are whole")]
    [InlineData("20+", 0, "type a whole number of pieces")]
    public void Reads_what_is_typed_into_a_count(string typed, int pieces, string? objection)
    {
        var read = CountSheet.Row(typed, new(new(1_00), true, 100, 1), Currency.Of("USD"), Scale.Standard);
        Assert.Equal(pieces, read.Pieces);
        Assert.Equal(objection is null, read.Fault is null);
        Assert.Contains(objection ?? "", read.Fault?.Says(typed, Currency.Of("USD")) ?? "", StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("USD", 1, 100_00)]
    [InlineData("CAD", 1, 100_00)]
    [InlineData("EUR", 1, 500_00)]
    [InlineData("GBP", 1, 50_00)]
    [InlineData("JPY", 1, 10_000)]
    [InlineData("KWD", 5, 20_000)]
    [InlineData("CHF", 1, 500_00)]
    public void Denominations_go_from_large_to_small(string code, long smallest, long largest)
    {
        var all = Denominations.Of(Currency.Of(code)).Select(d => d.Worth.Minor).ToList();
        Assert.Equal(all.OrderDescending().Distinct(), all);
        Assert.Equal((largest, smallest), (all[0], all[^1]));
    }
}
