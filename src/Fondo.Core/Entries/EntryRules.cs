using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

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

    /// <summary>Above the approval limit, and every acceptance beyond tolerance, a second person approves.</summary>
    public static bool NeedsApproval(EntryKind kind, IReadOnlyList<Posting> postings, Policy policy, IReadOnlyDictionary<CellKey, Bridge> bridges) =>
        postings.Any(p => p.Amount.Abs() > policy.ApprovalAbove
            || (kind == EntryKind.Accept && (p.Amount.IsZero || p.Amount.Abs() > bridges[p.Cell].Tolerance)));

    /// <summary>Whether this person may approve that entry: supervisors and managers, never one's own.</summary>
    public static string? ApprovalObjection(Entry entry, Person approver) =>
        !entry.NeedsApproval ? "This entry needs no approval."
        : entry.ApprovedBy is not null ? "This entry is approved already."
        : approver.Role is not (Role.Supervisor or Role.Manager) ? $"{approver.Name} may not approve entries; ask a supervisor or a manager."
        : approver.Id == entry.By ? "Nobody approves their own entry; ask another supervisor or a manager."
        : null;

    private static string Plain(Money amount, Currency currency) =>
        $"{currency.Format(amount.Abs())} {(amount.Sign < 0 ? "short" : "over")}";
}
