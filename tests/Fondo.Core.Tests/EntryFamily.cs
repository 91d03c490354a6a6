using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Files;
using Fondo.Files.Reading;
using Fondo.Standins.Days;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §11: each kind of entry with its own data, and the entry that a lead asks for.</summary>
public sealed class EntryFamily
{
    private static readonly CellKey _cash = new CellKey.Takings(new("L1"), new("L1-A"), TenderId.Cash),
        _credit = new CellKey.Takings(new("L1"), null, TenderId.Credit);

    private static readonly Reconciliation _day = Reconcile(
        [Event("open", "\"amount\":\"100.00\""), Ticket("14.14", """{"type":"cash","amount":"14.14"}"""), Event("close", "", "20:00")],
        rows: Row("14.14", "1", "1"), counts: Counted("\"100.00\":1"));

    private static readonly DateTimeOffset _now = new(2026, 11, 21, 21, 0, 0, TimeSpan.FromHours(-5));

    private static Proposal Proposed(EntryKind kind, EntryDetail? detail, long amount = -14_14) =>
        new(kind, [new(_cash, new(amount))], detail, "why", []);

    private static string? Objection(Proposal proposal) => EntryRules.DetailObjection(proposal, _day.Day.Setup, _now)?.Says(_day.Day.Setup);

    public static TheoryData<EntryKind, string> NeedsMore => new()
    {
        { EntryKind.Record, "Say what moved" },
        { EntryKind.Recount, "Say which count" },
        { EntryKind.Carry, "Say who is responsible" },
        { EntryKind.Claim, "Say who owes" },
    };

    [Theory]
    [MemberData(nameof(NeedsMore))]
    public void A_kind_without_its_data_is_refused(EntryKind kind, string sentence) =>
        Assert.StartsWith(sentence, Objection(Proposed(kind, null)), StringComparison.Ordinal);

    [Fact]
    public void Data_of_another_kind_strangers_and_deadlines_that_are_over_are_refused()
    {
        EntryDetail.Awaited Awaited(string owner, double hours) => new(new(owner), _now.AddHours(hours), AwaitedProof.LaterBatch);
        Assert.Null(Objection(Proposed(EntryKind.Carry, Awaited("p1", 48))));
        Assert.StartsWith("There is no person p9", Objection(Proposed(EntryKind.Carry, Awaited("p9", 48))), StringComparison.Ordinal);
        Assert.StartsWith("The deadline is over", Objection(Proposed(EntryKind.Carry, Awaited("p1", 0))), StringComparison.Ordinal);
        Assert.StartsWith("The deadline is more than a year away", Objection(Proposed(EntryKind.Carry, Awaited("p1", 24 * 400))),
            StringComparison.Ordinal);
        Assert.StartsWith("These details belong to another kind", Objection(Proposed(EntryKind.Claim, Awaited("p1", 48))),
            StringComparison.Ordinal);
        Assert.Null(Objection(Proposed(EntryKind.Accept, null)));
    }

    /// <summary>7 tens entered as fives: 35.00 short; what is found must come to exactly that.</summary>
    [Fact]
    public void A_recount_must_come_to_what_it_explains()
    {
        EntryDetail.Recounted Found(params (long Worth, int Number)[] pieces) =>
            new("k1", [.. pieces.Select(p => new Pieces(new(p.Worth), p.Number))]);
        Assert.Null(Objection(Proposed(EntryKind.Recount, Found((10_00, 7), (5_00, -7)), -35_00)));
        Assert.Contains("differ by 30.00", Objection(Proposed(EntryKind.Recount, Found((10_00, 6), (5_00, -6)), -35_00)),
            StringComparison.Ordinal);
        Assert.Null(Objection(Proposed(EntryKind.Recount, Found(), -35_00)));
    }

    [Fact]
    public void A_reclassification_may_go_over_several_cells_and_adds_up_to_nothing()
    {
        var bridges = _day.Cells.ToDictionary(c => c.Key, c => Bridge.Of(c, [], Money.Zero));
        var third = new CellKey.Takings(new("L2"), null, TenderId.Credit);
        var three = new Dictionary<CellKey, Bridge>(bridges)
        {
            [third] = bridges[_credit] with { Cell = bridges[_credit].Cell with { Key = third } }
        };
        string? Objection(params (CellKey Cell, long Amount)[] postings) => EntryRules.Objection(EntryKind.Reclassify,
            [.. postings.Select(p => new Posting(p.Cell, new(p.Amount)))], "why", three)?.Says(_day.Day.Setup);
        Assert.Null(Objection((_cash, -14_14), (_credit, 10_00), (third, 4_14)));
        Assert.StartsWith("The two sides must balance", Objection((_cash, -14_14), (_credit, 10_00), (third, 4_13)),
            StringComparison.Ordinal);
        Assert.StartsWith("An entry of 0.00 explains nothing", Objection((_cash, -14_14), (_credit, 14_14), (third, 0)),
            StringComparison.Ordinal);
    }

    /// <summary>Rules §6: a tender swap explains two cells, and using it twice is wrong. With a bag beside it, three things explain two
    /// cells of a register.</summary>
    [Fact]
    public void What_belongs_together_is_taken_once_over_all_cells()
    {
        Lead Of(CellKey cell, LeadKind kind, string key, params (CellKey Cell, long Amount)[] entry) =>
            new(cell, 1, kind, new(entry.Single(e => e.Cell == cell).Amount), [key], new LeadFact.ItemsAddUp(1, Money.Zero),
                [.. entry.Select(e => new Posting(e.Cell, new(e.Amount)))], new LeadRemedy.Accept(), 0.01);
        (CellKey, long)[] swap = [(_cash, -14_14), (_credit, 14_14)];
        Lead[] leads = [
            Of(_cash, LeadKind.TenderSwap, "swap", swap),
            Of(_cash, LeadKind.DropNotRecorded, "bag", (_cash, -300_00)),
            Of(_credit, LeadKind.TenderSwap, "swap", swap)
        ];
        Dictionary<CellKey, long> left = new() { [_cash] = -314_14, [_credit] = 14_14 };
        Money? Left(CellKey cell) => left.TryGetValue(cell, out var minor) ? new Money(minor) : null;
        foreach (var cell in new[] { _cash, _credit })
        {
            var together = Combination.Around(cell, leads, Left);
            Assert.Equal(["bag", "swap"], together.Leads.Select(l => l.Keys[0]).Order());
            Assert.True(together.Explains(Left));
            Assert.Equal(2, together.Cells.Length);
        }

        // Where the whole does not add up, a cell's own leads stand alone.
        left[_credit] = 20_00;
        Assert.Equal(["swap"], Combination.Around(_credit, leads, Left).Leads.Select(l => l.Keys[0]));
        Assert.False(Combination.Around(_credit, leads, Left).Explains(Left));
    }

    /// <summary>Rules §6, §11: the float was 50.00 less than declared, and a 50 taken for a 10 left 40.00 too much: 10.00 short. No more
    /// can be
    /// accepted than the cell is off by, so that the wrong note does not come first; together they explain the cell.</summary>
    [Fact]
    public void What_cannot_be_made_first_is_not_offered_first()
    {
        var opening = Counted("\"5.00\":10").Replace("closing", "opening", StringComparison.Ordinal);
        var day = Reconcile(
            [
                Event("open", "\"amount\":\"100.00\"", "08:00"),
                Ticket("8.00", """{"type":"cash","amount":"10.00","change":"2.00"}"""), Event("close", "", "20:00")
            ],
            counts: opening + "," + Counted("\"1.00\":98"));
        Assert.Equal(-10_00, day.Cell("L1", "cash", "L1-A").Variance!.Value.Minor);
        var best = LeadFinder.Of(day).Leads.Where(l => l.Cell == _cash && l.Rank == 1).ToList();
        Assert.Equal(
            [(LeadKind.FloatDiffers, -50_00L), (LeadKind.ChangeSlip, 40_00L)], best.Select(l => (l.Kind, l.Explains.Minor)));
        Assert.Equal([EntryKind.Record, EntryKind.Accept], best.Select(l => l.Proposal(day, new("p1"), "as it says").Kind));
        var together = Combination.Around(_cash, best, c => c == _cash ? new Money(-10_00) : null);
        Assert.Equal(2, together.Leads.Length);
        Assert.Equal([_cash], together.Explained(c => c == _cash ? new Money(-10_00) : null));
    }

    /// <summary>Over generated days: what a lead proposes explains what the lead says and may be made as it is; and where its combination
    /// explains its cells, taking it leaves nothing.</summary>
    [Theory]
    [InlineData(3100, 6, 900, 8)]
    [InlineData(3200, 12, 1500, 25)]
    public void What_a_lead_proposes_can_be_made_as_it_is(int from, int registers, int tickets, int faults)
    {
        var (taken, closed) = (0, 0);
        for (var seed = from; seed < from + 6; seed++)
        {
            var made = DayMaker.MakeFaulty(seed, registers, tickets, faults, overlap: false);
            var builder = new DayBuilder();
            foreach (var name in DayFiles.All.Where(made.Files.ContainsKey))
            {
                builder.Take(name, new MemoryStream(Encoding.UTF8.GetBytes(made.Files[name])));
            }

            var result = Reconciliation.Of(builder.Build().Day!);
            var setup = result.Day.Setup;
            var supervisor = setup.People.First(p => p.May(Right.Supervise)).Id;
            var leads = LeadFinder.Of(result).Leads;
            var now = result.Day.Totals.Max(t => t.Closed);
            var bare = result.Cells.ToDictionary(c => c.Key, c => Bridge.Of(c, [], setup.ToleranceOf(c.Key)));
            foreach (var lead in leads)
            {
                var proposal = lead.Proposal(result, supervisor, "as it says");
                Assert.Equal(lead.Explains, proposal.Postings.Where(p => p.Cell == lead.Cell).Sum(p => p.Amount));
                Assert.Null(EntryRules.DetailObjection(proposal, setup, now));
                if (proposal.Postings.All(p => bare.ContainsKey(p.Cell)) && (lead.Rank == 1 || proposal.Kind != EntryKind.Accept))
                {
                    Assert.Null(EntryRules.Objection(proposal.Kind, proposal.Postings, proposal.Reason, bare));
                    taken++;
                }
            }

            foreach (var cell in bare.Values.Where(b => b.IsUnresolved))
            {
                Money? Left(CellKey key) => bare.GetValueOrDefault(key)?.Left;
                var together = Combination.Around(cell.Cell.Key, leads, Left);
                if (together.Leads.IsEmpty || !together.Explains(Left))
                {
                    continue;
                }

                var entries = together.Leads.Select(l => l.Proposal(result, supervisor, "as it says"))
                    .Select(p => new Entry(Guid.NewGuid(), p.Kind, p.Postings, p.Reason, supervisor, now, p.Evidence, null, false, null)
                    {
                        Detail = p.Detail
                    }).ToList();
                Assert.All(together.Cells, c => Assert.True(Bridge.Of(bare[c].Cell, entries, bare[c].Tolerance).Left is { IsZero: true }));
                closed++;
            }
        }

        Assert.InRange(taken, 50, int.MaxValue);
        Assert.InRange(closed, 30, int.MaxValue);
    }

    /// <summary>Over any entries: expected + what each kind explains + what is left = proof, for the day and for each register.</summary>
    [Fact]
    public void The_bridge_adds_up_over_registers_and_the_day()
    {
        var random = new Random(11);
        var result = Reconciliation.Of(ExampleDays.Read("surcharge"));
        var cells = result.Cells.Where(c => c.Proof is not null).ToList();
        for (var round = 0; round < 40; round++)
        {
            var entries = Enumerable.Range(0, random.Next(12))
                .Select(i => new Entry(Guid.NewGuid(), (EntryKind)random.Next(6),
                    [new(cells[random.Next(cells.Count)].Key, new(random.Next(-9000, 9000)))], "why", new("p1"), _now, [], null,
                    random.Next(3) == 0, null)).ToList();
            var bridges = result.Cells.Select(c => Bridge.Of(c, entries, result.Day.Setup.ToleranceOf(c.Key))).ToList();
            foreach (var some in bridges.GroupBy(b => b.Cell.Key.Register).Select(g => g.AsEnumerable()).Append(bridges))
            {
                var wide = WideBridge.Of(some);
                Assert.Equal(wide.Proof, wide.Expected + wide.Steps.Sum(s => s.Held) + wide.Left);
                Assert.Equal(some.Count(b => b.Cell.Proof is null), wide.Waiting);
            }
        }
    }
}
