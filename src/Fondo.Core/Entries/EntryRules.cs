using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Entries;

/// <summary>What an entry must satisfy, and when a second person must approve it (rules §11).</summary>
public static class EntryRules
{
    /// <summary>What is wrong with a proposed entry, null when nothing is.</summary>
    /// <param name="bridges">The cells of the day with the entries that already exist.</param>
    public static EntryObjection? Objection(EntryKind kind, IReadOnlyList<Posting> postings, string reason,
        IReadOnlyDictionary<CellKey, Bridge> bridges)
    {
        if (string.IsNullOrWhiteSpace(reason))
        {
            return new EntryObjection.NoReason();
        }

        foreach (var posting in postings)
        {
            if (!bridges.ContainsKey(posting.Cell))
            {
                return new EntryObjection.NoSuchCell();
            }
        }

        var first = bridges[postings[0].Cell];
        if (first.Left is not { } left)
        {
            return new EntryObjection.NoProofYet();
        }

        // What waits for a signature comes off before something is accepted.
        left = first.ToExplain ?? left;
        var amount = postings[0].Amount;
        if (first.IsExplained && kind is not (EntryKind.Reverse or EntryKind.Accept))
        {
            return new EntryObjection.AlreadyExplained();
        }

        return kind switch
        {
            EntryKind.Reverse => new EntryObjection.ReversalByHand(),
            EntryKind.Reclassify when postings.Count < 2 || postings.DistinctBy(p => p.Cell).Count() != postings.Count =>
                new EntryObjection.OneCellOnly(),
            EntryKind.Reclassify when !postings.Sum(p => p.Amount).IsZero =>
                new EntryObjection.SidesDiffer([.. postings.Select(p => p.Amount)]),
            not EntryKind.Accept when postings.Any(p => p.Amount.IsZero) =>
                new EntryObjection.ExplainsNothing(),
            EntryKind.Accept when amount.IsZero && !left.IsZero =>
                new EntryObjection.ExplainsNothing(),
            EntryKind.Accept when !left.IsZero && (amount.Sign != left.Sign || amount.Abs() > left.Abs()) =>
                new EntryObjection.MoreThanLeft(left, amount),
            EntryKind.Accept when left.IsZero && !amount.IsZero =>
                new EntryObjection.OnlyNumberLeft(),
            EntryKind.Accept when amount.IsZero && first.AwaitsApproval =>
                new EntryObjection.ApprovalWaits(),
            EntryKind.Accept when amount.IsZero && (first.Cell.State == CellState.Proved || first.IsExplained) =>
                new EntryObjection.NothingLeft(),
            _ => null,
        };
    }

    /// <summary>What is wrong with what an entry of its kind says besides; null when nothing is.</summary>
    /// <param name="now">A deadline lies after it.</param>
    public static EntryObjection? DetailObjection(Proposal proposal, Setup setup, DateTimeOffset now)
    {
        var (owner, deadline) = proposal.Detail switch
        {
            EntryDetail.Awaited a => (a.Owner, a.Deadline),
            EntryDetail.Owed o => (o.Owner, o.Deadline),
            _ => ((PersonId?)null, (DateTimeOffset?)null),
        };
        return proposal switch
        {
            { Kind: EntryKind.Reverse } => new EntryObjection.ReversalByHand(),
            { Detail: { } detail } when detail.Kind != proposal.Kind =>
                new EntryObjection.DetailOfAnotherKind(detail.Kind),
            { Kind: EntryKind.Record or EntryKind.Recount or EntryKind.Carry or EntryKind.Claim, Detail: null } =>
                new EntryObjection.NoDetail(proposal.Kind),
            _ when owner is { } person && setup.Find(person) is null => new EntryObjection.NoSuchPerson(person),
            _ when deadline is { } until && until <= now => new EntryObjection.DeadlineOver(),
            _ when deadline is { } until && until > now.AddYears(1) => new EntryObjection.DeadlineTooFar(),
            { Detail: EntryDetail.Recounted { Found.IsEmpty: false } recounted }
                when recounted.Found.Sum(p => p.Worth) + proposal.Postings.Sum(p => p.Amount) != Money.Zero =>
                new EntryObjection.PiecesDiffer(recounted.Found.Sum(p => p.Worth), proposal.Postings.Sum(p => p.Amount)),
            _ => null,
        };
    }

    /// <summary>What is wrong with an entry on something that is in no cell of the day: a hold of today, or what an earlier day carried.
    /// Null when nothing is.</summary>
    /// <param name="carried">As <see cref="Carrying.Open"/> says.</param>
    /// <param name="holds">The open holds of today.</param>
    /// <param name="claims">The keys of claims that are open.</param>
    public static EntryObjection? ItemObjection(Proposal proposal, IReadOnlyCollection<CarriedOpen> carried,
        IReadOnlyCollection<Hold> holds,
        IReadOnlySet<string> claims) => proposal switch
        {
            { Reason: var reason } when string.IsNullOrWhiteSpace(reason) => new EntryObjection.NoReason(),
            { Evidence.Length: not 1 } => new EntryObjection.NotOneItem(),
            { Kind: EntryKind.Accept } or { Detail: EntryDetail.Moved { What: MovementKind.PaidIn or MovementKind.PaidOut } }
                when claims.Contains(proposal.Evidence[0]) => null,
            { Kind: EntryKind.Carry } when holds.Any(h => h.Id.Value == proposal.Evidence[0]) => null,
            { Kind: EntryKind.Carry or EntryKind.Claim or EntryKind.Accept }
                when carried.FirstOrDefault(c => c.Key == proposal.Evidence[0]) is { } item =>
                item.Ended is { } ended ? new EntryObjection.ItemEnded(ended) : null,
            { Kind: EntryKind.Carry or EntryKind.Claim or EntryKind.Accept } => new EntryObjection.ItemNotOpen(),
            _ => new EntryObjection.ItemWithoutCell(),
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
    public static EntryObjection? ApprovalObjection(Entry entry, Person approver) =>
        !entry.NeedsApproval ? new EntryObjection.NeedsNoApproval()
        : entry.ApprovedBy is not null ? new EntryObjection.ApprovedBefore()
        : !approver.May(ActKind.ApproveEntry) ? new EntryObjection.MayNotApprove(approver)
        : approver.Id == entry.By ? new EntryObjection.OwnEntry()
        : null;
}
