using Fondo.Core.Amounts;
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

/// <summary>Rules §11 and §12 at their edges: who approves what, what counts as looked at, and what the gates say. 20.00 are short in cash,
/// 14.14 over in credit.</summary>
public sealed class SecondPersons
{
    private static readonly Reconciliation _day = Reconcile(
        [Event("open", "\"amount\":\"120.00\""), Ticket("2.00", Pays("check", "2.00")), Event("close", "", "20:00")],
        rows: Row("14.14", "1", "1"), counts: Counted("\"100.00\":1", more: ",\"checks\":[{\"number\":\"1\",\"amount\":\"2.00\"}]"));

    private static readonly CellKey _cash = new CellKey.Takings(new("L1"), new("L1-A"), TenderId.Cash),
        _credit = new CellKey.Takings(new("L1"), null, TenderId.Credit),
        _check = new CellKey.Takings(new("L1"), new("L1-A"), new("check"));

    private static string Pays(string type, string amount) => $$"""{"type":"{{type}}","amount":"{{amount}}","number":"1"}""";

    private static Entry Entry(EntryKind kind, bool needsApproval, string? approvedBy, params (CellKey Cell, long Amount)[] postings) =>
        new(
        Guid.NewGuid(), kind, [.. postings.Select(p => new Posting(p.Cell, new(p.Amount)))], "why", new("p1"), DateTimeOffset.UnixEpoch, [],
            null, needsApproval, approvedBy is null ? null : new(approvedBy));

    private static Dictionary<CellKey, Bridge> Bridges(params Entry[] entries) =>
        _day.Cells.ToDictionary(c => c.Key, c => Bridge.Of(c, entries, _day.Day.Setup.ToleranceOf(c.Key)));

    private static bool Needs(EntryKind kind, Entry[] before, params Posting[] postings) =>
        EntryRules.NeedsApproval(kind, postings, _day.Day.Setup.Policy, Bridges(before));

    [Fact]
    public void What_a_second_person_looked_at_or_was_taken_back_is_no_slice()
    {
        var seen = Entry(EntryKind.Record, true, "p4", (_cash, -18_00));
        Assert.False(Needs(EntryKind.Record, [seen], new Posting(_cash, new(-2_00))));
        var own = Entry(EntryKind.Record, false, null, (_cash, -18_00));
        Assert.True(Needs(EntryKind.Record, [own], new Posting(_cash, new(-2_01))));
        var back = Entry(EntryKind.Reverse, false, null, (_cash, 18_00)) with { Reverses = own.Id };
        Assert.False(Needs(EntryKind.Record, [own, back], new Posting(_cash, new(-2_01))));
        // A movement is no acceptance: it leaves the tolerance as it was.
        Assert.False(Needs(EntryKind.Accept, [Entry(EntryKind.Record, false, null, (_cash, -5_00))], new Posting(_cash, new(-2_00))));
    }

    /// <summary>The limit holds for every cell that an entry touches.</summary>
    [Fact]
    public void A_reclassification_is_looked_at_on_both_of_its_sides()
    {
        var before = Entry(EntryKind.Record, false, null, (_credit, 15_00));
        Assert.False(Needs(EntryKind.Reclassify, [], new(_cash, new(-6_00)), new(_credit, new(6_00))));
        Assert.True(Needs(EntryKind.Reclassify, [before], new(_cash, new(-6_00)), new(_credit, new(6_00))));
    }

    [Fact]
    public void What_is_approved_or_needs_no_approval_is_not_approved_again()
    {
        var approver = new Person(new("p4"), "Tamsin", Role.Supervisor);
        Assert.StartsWith("This entry needs no approval",
            EntryRules.ApprovalObjection(
                Entry(EntryKind.Record, false, null, (_cash, -5_00)), approver)?.Says(_day.Day.Setup), StringComparison.Ordinal);
        Assert.StartsWith("This entry is already approved",
            EntryRules.ApprovalObjection(
                Entry(EntryKind.Record, true, "p5", (_cash, -25_00)), approver)?.Says(_day.Day.Setup), StringComparison.Ordinal);
        Assert.StartsWith("Tamsin cannot approve",
            EntryRules.ApprovalObjection(
                Entry(EntryKind.Record, true, null, (_cash, -25_00)), approver with { Role = Role.Cashier })?.Says(_day.Day.Setup),
            StringComparison.Ordinal);
        Assert.StartsWith("You cannot approve your own",
            EntryRules.ApprovalObjection(
                Entry(EntryKind.Record, true, null, (_cash, -25_00)), approver with { Id = new("p1") })?.Says(_day.Day.Setup),
            StringComparison.Ordinal);
    }

    [Fact]
    public void Nothing_is_accepted_where_nothing_is_left()
    {
        string? Objection(CellKey cell, long amount, params Entry[] before) =>
            EntryRules.Objection(EntryKind.Accept, [new(cell, new(amount))], "why", Bridges(before))?.Says(_day.Day.Setup);
        Assert.StartsWith("This cell has nothing left to accept", Objection(_check, 0), StringComparison.Ordinal);
        Assert.StartsWith("Nothing is left to accept", Objection(_check, 1), StringComparison.Ordinal);
        Assert.StartsWith("This cell has nothing left to accept", Objection(_cash, 0, Entry(EntryKind.Record, true, "p4", (_cash, -20_00))),
            StringComparison.Ordinal);
    }

    [Fact]
    public void A_proved_cell_is_upset_beyond_its_tolerance_and_not_at_it()
    {
        var proved = Reconcile([Event("open", "\"amount\":\"100.00\"")], counts: Counted("\"100.00\":1")).Cells[0];
        Assert.False(Bridge.Of(proved, [Entry(EntryKind.Record, false, null, (_cash, -2_00))], new(2_00)).IsUpset);
        Assert.True(Bridge.Of(proved, [Entry(EntryKind.Record, false, null, (_cash, -2_01))], new(2_00)).IsUpset);
        Assert.Equal(-2_01, Bridge.Of(proved,
            [Entry(EntryKind.Record, false, null, (_cash, -1_00)), Entry(EntryKind.Record, true, null, (_cash, -2_01))],
            Money.Zero).Pending.Minor);
    }

    [Fact]
    public void Gates_say_what_is_left_and_who_waits()
    {
        var waits = Entry(EntryKind.Accept, true, null, (_cash, -20_00));
        Gate Of(GateId id, params Entry[] entries) => GatesOf(Overview.Of(_day), entries, []).Single(g => g.Id == id);
        Assert.Equal(["Lane 1, cash: short 20.00.", "Lane 1, credit: over 14.14."],
            Of(GateId.Cells).Left.Select(i => i.Says(_day.Day.Setup)));
        Assert.Equal("Lane 1, cash: short 20.00, an entry waits for approval.", Of(GateId.Cells, waits).Left[0].Says(_day.Day.Setup));
        Assert.Equal("“why” by Ansel Ruiz waits for a second person.",
            Assert.Single(Of(GateId.Approvals, waits).Left).Says(_day.Day.Setup));
        Assert.All(Of(GateId.Cells, waits).Left.Concat(Of(GateId.Approvals, waits).Left), i => Assert.False(i.CanBeExcused));
        Assert.True(Of(GateId.Approvals, waits, Entry(EntryKind.Reverse, false, null) with { Reverses = waits.Id }).IsGreen);
    }

    /// <summary>10.00 and 3.00 sold and 2.00 given back by the host's account, 10.00 by the rows.</summary>
    [Fact]
    public void The_gate_of_batches_says_both_sums()
    {
        var day = Reconcile([], Row("10.00", "1", "1"),
            totals: $"terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\nT-1,7,{At("22:00")},2,13.00,1,2.00\n");
        Assert.Equal("Batch T-1/7 is incomplete: the host settled 3 for 11.00, but the rows show 1 for 10.00.",
            GatesOf(Overview.Of(day), [], []).Single(g => g.Id == GateId.Batches).Left.Single(i => i.Key == "T-1/7").Says(day.Day.Setup));
    }

    [Theory]
    [InlineData(1, CellState.Off, true, false)]
    [InlineData(1, CellState.Proved, false, true)]
    [InlineData(2, CellState.Off, false, true)]
    [InlineData(0, CellState.Off, false, false)]
    public void A_recount_is_asked_for_once(int attempts, CellState state, bool isAsked, bool isCorrection)
    {
        var cash = _day.Cell("L1", "cash", "L1-A") with { State = state };
        Assert.Equal((isAsked, isCorrection),
            (Recount.IsAsked(attempts, cash.State == CellState.Off), Recount.IsCorrection(attempts, cash.State == CellState.Off)));
    }
}
