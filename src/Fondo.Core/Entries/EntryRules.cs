using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Entries;

/// <summary>What an entry must satisfy, and when a second person must approve it (rules §11).</summary>
public static class EntryRules
{
    /// <summary>What is wrong with a proposed entry, as a sentence for the person who makes it; null when nothing is.</summary>
    /// <param name="bridges">The cells of the day with the entries that already exist.</param>
    public static string? Objection(EntryKind kind, IReadOnlyList<Posting> postings, string reason,
        IReadOnlyDictionary<CellKey, Bridge> bridges, Currency currency)
    {
        if (string.IsNullOrWhiteSpace(reason))
        {
            return "Give a reason that someone will understand a year from now.";
        }

        foreach (var posting in postings)
        {
            if (!bridges.ContainsKey(posting.Cell))
            {
                return "This day has no such cell.";
            }
        }

        var first = bridges[postings[0].Cell];
        if (first.Left is not { } left)
        {
            return "This cell has no proof yet, so there is nothing to explain.";
        }

        // What waits for a signature comes off before something is accepted.
        left = first.ToExplain ?? left;
        var amount = postings[0].Amount;
        if (first.IsExplained && kind is not (EntryKind.Reverse or EntryKind.Accept))
        {
            return "This cell is already explained. Reverse one of its entries before you make another.";
        }

        return kind switch
        {
            EntryKind.Reverse => "Reverse an entry where it is listed, with a reason. You cannot make a reversal by hand.",
            EntryKind.Reclassify when postings.Count < 2 || postings.DistinctBy(p => p.Cell).Count() != postings.Count =>
                "A reclassification needs two different cells.",
            EntryKind.Reclassify when !postings.Sum(p => p.Amount).IsZero =>
                $"The two sides must balance: {string.Join(" and ", postings.Select(p => currency.Say(p.Amount)))}.",
            not EntryKind.Accept when postings.Any(p => p.Amount.IsZero) =>
                $"An entry of {currency.Say(Money.Zero)} explains nothing. Type an amount.",
            EntryKind.Accept when amount.IsZero && !left.IsZero =>
                $"An entry of {currency.Say(Money.Zero)} explains nothing. Type an amount.",
            EntryKind.Accept when !left.IsZero && (amount.Sign != left.Sign || amount.Abs() > left.Abs()) =>
                $"This cell is {Plain(left, currency)}, so you cannot accept {Plain(amount, currency)}.",
            EntryKind.Accept when left.IsZero && !amount.IsZero =>
                $"Nothing is left to accept. The amount can only be {currency.Say(Money.Zero)}.",
            EntryKind.Accept when amount.IsZero && first.AwaitsApproval =>
                "An entry for this cell already waits for approval. A second person must sign it first.",
            EntryKind.Accept when amount.IsZero && (first.Cell.State == CellState.Proved || first.IsExplained) =>
                "This cell has nothing left to accept.",
            _ => null,
        };
    }

    /// <summary>What is wrong with what an entry of its kind says besides; null when nothing is.</summary>
    /// <param name="now">A deadline lies after it.</param>
    public static string? DetailObjection(Proposal proposal, Setup setup, DateTimeOffset now)
    {
        var (owner, deadline) = proposal.Detail switch
        {
            EntryDetail.Awaited a => (a.Owner, a.Deadline),
            EntryDetail.Owed o => (o.Owner, o.Deadline),
            _ => ((PersonId?)null, (DateTimeOffset?)null),
        };
        return proposal switch
        {
            { Kind: EntryKind.Reverse } => "Reverse an entry where it is listed, with a reason. You cannot make a reversal by hand.",
            { Detail: { } detail } when detail.Kind != proposal.Kind =>
                $"These details belong to another kind of entry ({detail.Kind.Written()}).",
            { Kind: EntryKind.Record, Detail: null } => "Say what moved.",
            { Kind: EntryKind.Recount, Detail: null } => "Say which count was wrong.",
            { Kind: EntryKind.Carry, Detail: null } => "Say who is responsible, and until when.",
            { Kind: EntryKind.Claim, Detail: null } => "Say who owes it, who sees to it, and until when.",
            _ when owner is { } person && setup.Find(person) is null => $"There is no person {person} in this store.",
            _ when deadline is { } until && until <= now => "The deadline is over already. Give a later one.",
            _ when deadline is { } until && until > now.AddYears(1) => "The deadline is more than a year away. Give an earlier one.",
            { Detail: EntryDetail.Recounted { Found.IsEmpty: false } recounted }
                when recounted.Found.Sum(p => p.Worth) + proposal.Postings.Sum(p => p.Amount) != Money.Zero =>
                $"The recounted pieces differ by {setup.Currency.Say(recounted.Found.Sum(p => p.Worth))} from the count. That does not "
                    + $"explain {setup.Currency.Say(proposal.Postings.Sum(p => p.Amount))}.",
            _ => null,
        };
    }

    /// <summary>What is wrong with an entry on something that is in no cell of the day: a hold of today, or what an earlier day carried.
    /// Null when nothing is.</summary>
    /// <param name="carried">As <see cref="Carrying.Open"/> says.</param>
    /// <param name="holds">The open holds of today.</param>
    /// <param name="claims">The keys of claims that are open.</param>
    public static string? ItemObjection(Proposal proposal, IReadOnlyCollection<CarriedOpen> carried, IReadOnlyCollection<Hold> holds,
        IReadOnlySet<string> claims) => proposal switch
        {
            { Reason: var reason } when string.IsNullOrWhiteSpace(reason) => "Give a reason that someone will understand a year from now.",
            { Evidence.Length: not 1 } => "Choose exactly one item for this entry.",
            { Kind: EntryKind.Accept } or { Detail: EntryDetail.Moved { What: MovementKind.PaidIn or MovementKind.PaidOut } }
                when claims.Contains(proposal.Evidence[0]) => null,
            { Kind: EntryKind.Carry } when holds.Any(h => h.Id.Value == proposal.Evidence[0]) => null,
            { Kind: EntryKind.Carry or EntryKind.Claim or EntryKind.Accept }
                when carried.FirstOrDefault(c => c.Key == proposal.Evidence[0]) is { } item =>
                item.Ended is { } ended ? $"This was already written off or claimed: “{ended.Reason}”." : null,
            { Kind: EntryKind.Carry or EntryKind.Claim or EntryKind.Accept } =>
                "This item is no longer open: it has arrived, or it was never carried here.",
            _ => "This item has no cell today. You can carry it, claim it, or accept it.",
        };

    /// <summary>Whether a second person looks at an entry on something that is in no cell: what is given up above the limit, and all that
    /// is accepted.</summary>
    public static bool ItemNeedsApproval(EntryKind kind, Money amount, Policy policy) =>
        kind == EntryKind.Accept || (kind is EntryKind.Claim or EntryKind.Record && amount.Abs() > policy.ApprovalAbove);

    /// <summary>Above the approval limit, and for acceptance beyond tolerance, a second person approves; both limits hold for all that a
    /// cell has been
    /// explained by without one, so that slices change nothing (rules §11).</summary>
    /// <param name="brought">What persons' files changed in cells without a second person; null: nothing.</param>
    public static bool NeedsApproval(
        EntryKind kind, IReadOnlyList<Posting> postings, Policy policy, IReadOnlyDictionary<CellKey, Bridge> bridges,
        IReadOnlyDictionary<CellKey, Money>? brought = null) =>
        postings.Any(p => bridges[p.Cell].Unwitnessed() + (brought is null ? Money.Zero : brought.GetValueOrDefault(p.Cell))
            + p.Amount.Abs() > policy.ApprovalAbove
            || (kind == EntryKind.Accept && (p.Amount.IsZero
                || bridges[p.Cell].Unwitnessed(EntryKind.Accept) + p.Amount.Abs() > bridges[p.Cell].Tolerance)));

    /// <summary>Whether this person may approve that entry: supervisors and managers, never one's own.</summary>
    public static string? ApprovalObjection(Entry entry, Person approver) =>
        !entry.NeedsApproval ? "This entry needs no approval."
        : entry.ApprovedBy is not null ? "This entry is already approved."
        : !approver.May(ActKind.ApproveEntry) ? $"{approver.Name} cannot approve entries. Ask a supervisor or a manager."
        : approver.Id == entry.By ? "You cannot approve your own entry. Ask another supervisor or a manager."
        : null;

    private static string Plain(Money amount, Currency currency) =>
        $"{currency.Say(amount.Abs())} {(amount.Sign < 0 ? "short" : "over")}";
}
