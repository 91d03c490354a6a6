using System.Text;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files;
using Fondo.Files.Reading;

using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>Rules §11 and §12: what is open and carried goes on to the next day with its owner and deadline, meets its row there, or ages
/// until somebody gives it up.</summary>
public sealed class CarriedOn
{
    private static readonly DateTimeOffset _until = new(2026, 11, 23, 21, 0, 0, TimeSpan.FromHours(-5));

    private static Entry Entry(EntryKind kind, string item, EntryDetail? detail, bool waits = false, params Cells.Posting[] postings) =>
        new(Guid.NewGuid(), kind, [.. postings], "why", new("p1"), DateTimeOffset.UnixEpoch, [item], null, waits, null) { Detail = detail };

    private static Entry Carry(string item, string owner = "p1") =>
        Entry(EntryKind.Carry, item, new EntryDetail.Awaited(new(owner), _until, AwaitedProof.LaterBatch));

    /// <summary>A card sale after the batch, and a ticket on hold.</summary>
    private static Reconciliation Evening() => Reconcile(
        [
            Ticket("10.00", Card("10.00", "1"), id: "a"),
            Ticket("7.00", Card("7.00", "3"), at: "22:00", id: "late"),
            Event("hold", "\"total\":\"9.00\"", id: "h1")
        ], Row("10.00", "1", "1"),
        totals: $"terminal,batch,closed,sales_count,sales_amount,refunds_count,refunds_amount\nT-1,7,{At("21:00")},1,10.00,0,0.00\n");

    private static Reconciliation Next(Carried carried, string journal = "", string? rows = null) =>
        Reconciliation.Of(Read(journal.Length == 0 ? [] : [journal], rows).Day! with { Carried = carried });

    [Fact]
    public void Only_what_an_entry_carries_goes_on()
    {
        var evening = Evening();
        Assert.Equal(Carried.Nothing.Items, Carrying.Next(evening, []).Items);
        var next = Carrying.Next(evening, [Carry("late#1"), Carry("h1")]);
        Assert.Equal([("late#1", "2026-11-21", "p1"), ("h1", "2026-11-21", "p1")],
            next.Items.Select(i => (i.Key, i.Day.ToString(), i.Owned!.Owner.Value)));
        Assert.Equal(_until, next.Journal[0].Owned!.Deadline);
        // What is settled is not carried, whatever an entry says; nor is what waits for a second person, or was taken back.
        Assert.Empty(Carrying.Next(evening,
            [
                Carry("a#1"),
                Entry(EntryKind.Carry, "late#1", new EntryDetail.Awaited(new("p1"), _until, AwaitedProof.LaterBatch), waits: true)
            ]).Items);
        var taken = Carry("late#1");
        Assert.Empty(Carrying.Next(evening, [taken, Entry(EntryKind.Reverse, "late#1", null) with { Reverses = taken.Id }]).Items);
    }

    [Fact]
    public void It_meets_its_row_on_the_next_day_or_ages_there()
    {
        var carried = Carrying.Next(Evening(), [Carry("late#1"), Carry("h1")]);
        var waits = Next(carried); // nothing is settled yet
        Assert.Equal(["h1", "late#1"], Carrying.Open(waits, []).Select(c => c.Key));
        Assert.Equal(["h1", "late#1"], Carrying.Next(waits, []).Items.Select(i => i.Key).Order());

        var met = Next(carried, Event("recall", "\"original\":\"h1\"", id: "r1"), Row("7.00", "3", "9"));
        Assert.Equal("late#1", Assert.Single(met.Matches).Journal[0].Key);
        Assert.Empty(Carrying.Open(met, []));
        Assert.Empty(Carrying.Next(met, []).Items);
    }

    /// <summary>A terminal without a batch: its whole day is carried by one entry, however much it is.</summary>
    [Fact]
    public void A_whole_batch_is_carried_by_one_entry()
    {
        const int many = 4000;
        var evening = Reconcile(Enumerable.Range(0, many).Select(i => Ticket("1.00", Card("1.00", $"{i}", terminal: "T-2"), id: $"t{i}")),
            Row("10.00", "x", "1"));
        var lead = Leads.LeadFinder.Of(evening).Leads.First(l => l.Kind == Leads.LeadKind.BatchAbsent);
        var proposal = lead.Proposal(evening, new("p1"), "as it says");
        var carry = new Entry(Guid.NewGuid(), proposal.Kind, proposal.Postings, proposal.Reason, new("p1"), DateTimeOffset.UnixEpoch,
            proposal.Evidence, null, false, null)
        { Detail = proposal.Detail };
        Assert.Equal(EntryKind.Carry, proposal.Kind);
        Assert.Empty(Named.Unknown(evening.Day, proposal.Evidence));
        var next = Carrying.Next(evening, [carry]);
        Assert.Equal(many, next.Journal.Length);
        Assert.Equal(many, Carrying.Open(Next(next), []).Length);
    }

    /// <summary>Settled twice: one row meets it, the other is money that no ticket has.</summary>
    [Fact]
    public void What_is_settled_twice_is_met_once()
    {
        var carried = Carrying.Next(Evening(), [Carry("late#1")]);
        var twice = Next(carried, rows: Row("7.00", "3", "9") + Row("7.00", "33", "10"));
        Assert.Single(twice.Matches);
        Assert.Equal(Cause.ChargedTwice, Assert.Single(twice.OpenItems).Cause);
    }

    [Fact]
    public void Somebody_owns_it_and_may_give_it_up()
    {
        var unowned = Next(new([new CarriedTender(new(new(2026, 11, 20)),
            Evening().Day.Journal.OfType<Journal.Ticket>().Single(t => t.Id.Value == "late"), 1)], []));
        Gate Gate(params Entry[] entries) => GatesOf(Overview.Of(unowned), entries, []).Single(g => g.Id == GateId.Carried);
        Assert.Equal("7.00 carried from 2026-11-20 has no owner yet.", Assert.Single(Gate().Left).Says(unowned.Day.Setup));
        Assert.False(Gate().Left[0].CanBeExcused);
        Assert.True(Gate(Carry("late#1")).IsGreen);
        var claim = Entry(EntryKind.Claim, "late#1", new EntryDetail.Owed(ClaimParty.Processor, true, new("p1"), _until));
        Assert.True(Gate(claim).IsGreen);
        Assert.Empty(Carrying.Next(unowned, [claim]).Items);
        // An acceptance that waits for its second person has ended nothing yet.
        Assert.NotEmpty(Carrying.Next(unowned, [Entry(EntryKind.Accept, "late#1", null, waits: true)]).Items);
    }

    [Fact]
    public void What_is_in_no_cell_has_its_own_objections()
    {
        var waits = Next(Carrying.Next(Evening(), [Carry("late#1")]));
        string? Objection(EntryKind kind, string item, params Entry[] before) =>
            EntryRules.ItemObjection(new(kind, [], null, "why", [item]), Carrying.Open(waits, before),
                new Standing(Evening().Day).OpenHolds, new HashSet<string>())?.Says(waits.Day.Setup);
        Assert.Null(Objection(EntryKind.Carry, "h1"));
        Assert.NotNull(Objection(EntryKind.Accept, "h1")); // a hold of today is no money yet
        Assert.Null(Objection(EntryKind.Accept, "late#1"));
        Assert.StartsWith("This item is no longer open", Objection(EntryKind.Claim, "a#1"), StringComparison.Ordinal);
        Assert.StartsWith("This was already written off or claimed",
            Objection(EntryKind.Claim, "late#1", Entry(EntryKind.Accept, "late#1", null)), StringComparison.Ordinal);
        Assert.StartsWith("This item has no cell today", Objection(EntryKind.Record, "late#1"), StringComparison.Ordinal);
        Assert.True(EntryRules.ItemNeedsApproval(EntryKind.Accept, new(1), Policy.Default));
        Assert.False(EntryRules.ItemNeedsApproval(EntryKind.Carry, new(900_00), Policy.Default));
    }

    [Fact]
    public void The_file_names_an_owner_and_a_time_together_or_neither()
    {
        DayReading Taken(string more)
        {
            var builder = new DayBuilder();
            builder.Take(DayFiles.Setup, new MemoryStream(Encoding.UTF8.GetBytes(MadeUp.Setup)));
            builder.Take(DayFiles.Journal, new MemoryStream([]));
            builder.Take(DayFiles.Carried,
                new MemoryStream(
                    Encoding.UTF8.GetBytes(
                        $$"""{"journal":[{"day":"2026-11-20"{{more}},"event":{{Ticket("5.00", Card("5.00", "9"), id: "old")}} }],"batch":[],"holds":[{"day":"2026-11-20","event":{{Event("hold", "\"total\":\"9.00\"", id: "h9")}} }]}""")));
            return builder.Build();
        }

        var day = Taken(""","owner":"p1","until":"2026-11-22T21:00:00-05:00" """).Day!;
        Assert.Equal(("p1", "h9"), (day.Carried.Journal[0].Owned!.Owner.Value, day.Carried.Holds[0].Hold.Id.Value));
        Assert.Null(Taken("").Day!.Carried.Journal[0].Owned);
        Assert.Contains("an owner and a time together", Assert.Single(Taken(""","owner":"p1" """).Findings).ToString(),
            StringComparison.Ordinal);
    }
}
