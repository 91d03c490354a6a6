using System.Globalization;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.SetUp;
using static Fondo.Wording.Words;

namespace Fondo.Wording;

/// <summary>What a gate is called, what it waits for, and what it has seen.</summary>
public static class GateText
{
    public static string Name(this GateId gate) => gate switch
    {
        GateId.Sessions => "Sessions ended",
        GateId.Counts => "Drawers counted",
        GateId.Holds => "Holds settled",
        GateId.Batches => "Batches complete",
        GateId.Cells => "Every cell proved or explained",
        GateId.Checks => "Ticket checks seen",
        GateId.Approvals => "Approvals given",
        GateId.Safe => "Safe counted by two",
        GateId.Carried => "Carried items owned",
        GateId.DayBefore => "The day before is closed",
        _ => throw new ArgumentOutOfRangeException(nameof(gate)),
    };

    /// <summary>What is so with something that is left.</summary>
    public static string Says(this GateItem item, Setup s) => item.Fact switch
    {
        GateFact.DrawerOpen f => $"{s.NameOf(f.Register)}: drawer {f.Drawer} is still open.",
        GateFact.DrawerNotCounted f => $"{s.NameOf(f.Register)}: drawer {f.Drawer} is not counted.",
        GateFact.OnHold f => $"{s.NameOf(f.Register)}: a ticket of {s.Currency.Say(f.Total)} was put on hold and never recalled.",
        GateFact.BatchIncomplete { Difference: var d } =>
            $"Batch {d.Key} is incomplete: the host settled {d.Total.SalesCount + d.Total.RefundsCount} for "
                + $"{s.Currency.Say(d.Total.SalesAmount - d.Total.RefundsAmount)}, but the rows show {d.SalesCount + d.RefundsCount} "
                + $"for {s.Currency.Say(d.SalesAmount - d.RefundsAmount)}.",
        GateFact.CardsUnsettled f => Says(f, s),
        GateFact.CellUnresolved f => $"{Title(f.Bridge.Cell.Key, s)}: {Says(f.Bridge, s)}",
        GateFact.FindingUnseen f => $"{s.NameOf(f.Register)}: {f.Finding.Code.Words()}, {s.Currency.Say(f.Finding.Amount)}.",
        GateFact.ApprovalWaits f => $"“{f.Entry.Reason}” by {s.NameOf(f.Entry.By)} waits for a second person.",
        GateFact.SafeNotCounted => "The safe is not counted today.",
        GateFact.SafeCountedAlone f => $"The safe was counted by {s.NameOf(f.By)} alone.",
        GateFact.DayOpen f =>
            $"{f.Day.Date.ToString("dddd, d MMMM", CultureInfo.InvariantCulture)}, is still open. Close it first.",
        GateFact.CarriedUnowned f => $"{s.Currency.Say(f.Amount)} carried from {f.From} has no owner yet.",
        _ => throw new ArgumentOutOfRangeException(nameof(item)),
    };

    private static string Says(GateFact.CardsUnsettled f, Setup s)
    {
        var cards = $"{f.Number} {(f.Number == 1 ? "card" : "cards")} for {s.Currency.Say(f.Amount)}";
        return f.Last switch
        {
            LastBatch.Today => $"{f.Terminal} took {cards} after its last batch. Settle it again, or carry them.",
            LastBatch.Earlier => $"{f.Terminal} has only a batch of an earlier day's cards. Settle today's {cards}.",
            _ => $"{f.Terminal} has no batch for its {cards}. Settle it.",
        };
    }

    /// <summary>What is so when the gate is green.</summary>
    public static string DoneSays(this Gate gate, Setup s) => (gate.Id, gate.Done.Number) switch
    {
        (GateId.Sessions, 0) => "No drawer was opened.",
        (GateId.Sessions, var n) => $"{n} drawer {(n == 1 ? "session" : "sessions")} ended.",
        (GateId.Counts, 0) => "No drawer had to be counted.",
        (GateId.Counts, var n) => $"{n} {(n == 1 ? "drawer" : "drawers")} counted.",
        (GateId.Holds, 0) => "No ticket is on hold.",
        (GateId.Holds, _) => "Every ticket on hold is carried.",
        (GateId.Batches, 0) => "No terminal had to settle.",
        (GateId.Batches, var n) => $"{n} {(n == 1 ? "terminal" : "terminals")} settled, "
            + (gate.Done.HasTotals ? "every batch total adds up." : "with no batch totals to check against."),
        (GateId.Cells, 0) => "No sales, so nothing to prove.",
        (GateId.Cells, var n) => $"{n} {(n == 1 ? "cell" : "cells")} proved or explained.",
        (GateId.Checks, 0) => "No ticket findings.",
        (GateId.Checks, var n) => $"{n} {(n == 1 ? "finding" : "findings")} seen and answered.",
        (GateId.Approvals, _) => "No entry waits for approval.",
        (GateId.Safe, _) => gate.Done.Safe is not { } count ? ""
            : $"{s.Currency.Say(count.Cash)} counted by {s.NameOf(count.By)} and {s.NameOf(count.Witness)}.",
        (GateId.DayBefore, _) => "Every earlier day is closed.",
        (GateId.Carried, 0) => "Nothing is carried from earlier days.",
        (GateId.Carried, 1) => "The carried item has an owner.",
        (GateId.Carried, var n) => $"All {n} carried items have an owner.",
        _ => throw new ArgumentOutOfRangeException(nameof(gate)),
    };

    private static string Title(CellKey key, Setup s) =>
        key is CellKey.Takings taken ? $"{s.NameOf(taken.Register)}, {s.NameOf(taken.Tender).ToLowerInvariant()}" : key.TitleIn(s);

    private static string Says(Bridge bridge, Setup s) => bridge.Left switch
    {
        null =>
            $"{s.Currency.Say(bridge.Cell.Expected)} expected, no proof yet. If you excuse it, its cards are carried until their batch "
                + "comes.",
        { IsZero: true } =>
            $"amounts match, counts don’t: {bridge.Cell.ExpectedCount} expected, {bridge.Cell.ProofCount} proved{Waits(bridge)}",
        { } left => $"{ShortOrOver(left)} {Amount(left, s)}{Waits(bridge)}",
    };

    private static string Waits(Bridge bridge) => bridge.AwaitsApproval ? ", an entry waits for approval." : ".";
}
