using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.SetUp;

namespace Fondo.Core.Entries;

/// <summary>What an entry must satisfy, and when a second person must approve it (rules §11).</summary>
public static class EntryRules
{
    /// <summary>What is wrong with a proposed entry, as a sentence for the person who makes it; null when nothing is.</summary>
    /// <param name="bridges">The cells of the day with the entries that already exist.</param>
    public static string? Objection(EntryKind kind, IReadOnlyList<Posting> postings, string reason, IReadOnlyDictionary<CellKey, Bridge> bridges, Currency currency)
    {
        if (string.IsNullOrWhiteSpace(reason))
        {
            return "Give a reason: it is read a year from now.";
        }

        foreach (var posting in postings)
        {
            if (!bridges.ContainsKey(posting.Cell))
            {
                return $"There is no cell {posting.Cell} on this day.";
            }
        }

        var first = bridges[postings[0].Cell];
        if (first.Left is not { } left)
        {
            return "This cell still waits for its proof; there is nothing to explain yet.";
        }

        var amount = postings[0].Amount;
        return kind switch
        {
            EntryKind.Reverse => "An entry is taken back where it stands, with a reason, not by an entry made by hand.",
            EntryKind.Reclassify when postings.Count != 2 || postings[0].Cell == postings[1].Cell => "A reclassification goes from one cell to another one.",
            EntryKind.Reclassify when !(amount + postings[1].Amount).IsZero =>
                $"The two sides do not add up to nothing: {currency.Format(amount)} and {currency.Format(postings[1].Amount)}.",
            EntryKind.Reclassify or EntryKind.Record when amount.IsZero => "An entry of 0.00 explains nothing. Give an amount.",
            EntryKind.Accept when amount.IsZero && !left.IsZero => "An entry of 0.00 explains nothing. Give an amount.",
            EntryKind.Accept when !left.IsZero && (amount.Sign != left.Sign || amount.Abs() > left.Abs()) =>
                $"What is left is {Plain(left, currency)}; {Plain(amount, currency)} cannot be accepted on it.",
            EntryKind.Accept when left.IsZero && !amount.IsZero => $"Nothing is left to accept; the amount can only be {currency.Format(Money.Zero)}.",
            EntryKind.Accept when amount.IsZero && (first.Cell.State == CellState.Proved || first.IsExplained) => "This cell has nothing left to accept.",
            _ => null,
        };
    }

    /// <summary>Above the approval limit, and for acceptance beyond tolerance, a second person approves; both limits hold for all that a cell has been
    /// explained by without one, so that slices change nothing (rules §11).</summary>
    public static bool NeedsApproval(EntryKind kind, IReadOnlyList<Posting> postings, Policy policy, IReadOnlyDictionary<CellKey, Bridge> bridges) =>
        postings.Any(p => bridges[p.Cell].Unwitnessed() + p.Amount.Abs() > policy.ApprovalAbove
            || (kind == EntryKind.Accept && (p.Amount.IsZero || bridges[p.Cell].Unwitnessed(EntryKind.Accept) + p.Amount.Abs() > bridges[p.Cell].Tolerance)));

    /// <summary>Whether this person may approve that entry: supervisors and managers, never one's own.</summary>
    public static string? ApprovalObjection(Entry entry, Person approver) =>
        !entry.NeedsApproval ? "This entry needs no approval."
        : entry.ApprovedBy is not null ? "This entry is approved already."
        : !approver.May(Right.Supervise) ? $"{approver.Name} may not approve entries; ask a supervisor or a manager."
        : approver.Id == entry.By ? "Nobody approves their own entry; ask another supervisor or a manager."
        : null;

    private static string Plain(Money amount, Currency currency) =>
        $"{currency.Format(amount.Abs())} {(amount.Sign < 0 ? "short" : "over")}";
}
