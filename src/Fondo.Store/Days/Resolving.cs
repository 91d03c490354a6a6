using System.Security.Cryptography;
using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.SetUp;
using Fondo.Files.Text;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>What a person saw of a cell when they decided: if it is another by now, nothing is done.</summary>
public sealed record SeenCell(CellKey Cell, Money? Left);

/// <summary>What became of a list that was signed.</summary>
/// <param name="Approved">How many entries hold from now on.</param>
/// <param name="Objections">Why others do not.</param>
public sealed record Signed(int Approved, IReadOnlyList<string> Objections);

/// <summary>Adds entries, approvals and reversals. Nothing is ever changed or taken away.</summary>
public sealed class Resolving(StoreContext db, DayStore days, DayLock guard, Sources sources, TimeProvider clock)
{
    private const string OtherContents =
        "This form was already sent with different values, and that entry was kept. Reload the page to see it.";

    /// <summary>Makes one entry, or several as one. All of them, or none.</summary>
    /// <param name="form">Made with the page: the form posted twice is made once.</param>
    /// <param name="seen">Null where nothing was shown before.</param>
    public Task<Outcome> Add(DateOnly day, Guid form, IReadOnlyList<Proposal> proposals, Person by, SeenCell? seen = null) =>
        guard.Write(day, async () =>
    {
        var view = (await days.View(day))!;
        proposals = [.. proposals.OrderBy(p => p.Kind == EntryKind.Accept)]; // accepted is what the others leave
        if (view.Find(form) is { } made)
        {
            return made.Kind == proposals[0].Kind && made.Postings.SequenceEqual(proposals[0].Postings)
                && made.Reason == proposals[0].Reason.Trim() ? Outcome.Done : Outcome.Refused(OtherContents);
        }

        if (by.Refusal(ActKind.MakeEntry) is { } refused)
        {
            return refused;
        }

        if (seen is not null && Changed(view, seen) is { } changed)
        {
            return Outcome.Refused(changed);
        }

        var (entries, brought) = (view.Entries.ToList(), await sources.Alone(day));
        Guid? together = proposals.Count > 1 ? form : null;
        foreach (var (proposal, place) in proposals.Select((p, i) => (p, i)))
        {
            if (Objection(proposal, view, entries, Judged(proposals, place)) is { } objection)
            {
                return Outcome.Refused(objection);
            }

            var needs = proposal.Postings.IsEmpty ? EntryRules.ItemNeedsApproval(proposal.Kind, AmountOf(proposal, view), view.Setup.Policy)
                : EntryRules.NeedsApproval(proposal.Kind, proposal.Postings, view.Setup.Policy, Bridges(view, entries), brought);
            entries.Add(Append(day, place == 0 ? form : IdOf(form, place), proposal, by, null, needs, together));
        }

        return Outcome.Done;
    });

    /// <summary>Why what a person saw of a cell is another now; null where it is the same.</summary>
    public static string? Changed(DayView view, SeenCell seen) =>
        view.Bridges.GetValueOrDefault(seen.Cell)?.Left is var left && left == seen.Left ? null
        : $"This cell has changed since you opened it: {Left(seen.Left, view)} was left, now {Left(left, view)} is. No entry was made. "
            + "Look at it again.";

    /// <summary>The second person's word for entries that wait for one: those that they may approve hold from now on.</summary>
    public async Task<Signed> Sign(DateOnly day, IReadOnlyCollection<Guid> ids, Person approver)
    {
        var (approved, objections) = (0, new List<string>());
        var outcome = await guard.Write(day, async () =>
        {
            var view = (await days.View(day))!;
            // Whoever gave a person their sign-in may have it still: that person approves nothing of theirs before another one has
            // confirmed them.
            var approves = await db.Users.AsNoTracking().SingleOrDefaultAsync(p => p.PersonId == approver.Id.Value);
            foreach (var id in ids.Distinct())
            {
                var entry = view.Find(id);
                var objection = entry is null ? "There is no such entry on this day."
                    : entry.IsWithdrawn(view.Entries) ? "This entry was reversed. There is nothing to approve."
                    : entry.ApprovedBy == approver.Id ? null
                    : approves?.IsOnlyKnownTo(entry.By) == true ? approves.NotConfirmed(view.Setup.NameOf(entry.By))
                    : EntryRules.ApprovalObjection(entry, approver)?.Says(view.Setup);
                if (objection is not null)
                {
                    objections.Add(ids.Count == 1 || entry is null ? objection : $"“{entry.Reason}”: {objection}");
                }
                else if (entry!.ApprovedBy is null)
                {
                    db.Add(new ApprovalRow { EntryId = id, By = approver.Id.Value, At = clock.GetUtcNow() });
                    approved++;
                }
            }

            return Outcome.Done;
        });
        return outcome.Objection is { } refused ? new(0, [refused]) : new(approved, objections);
    }

    public async Task<Outcome> Approve(DateOnly day, Guid id, Person approver) =>
        (await Sign(day, [id], approver)).Objections is [var objection, ..] ? Outcome.Refused(objection) : Outcome.Done;

    /// <summary>Takes an entry back with another one that says why, and with it what was taken together with it. A reversal needs the
    /// approval that its entry had.</summary>
    public Task<Outcome> Reverse(DateOnly day, Guid form, Guid id, string reason, Person by) => guard.Write(day, async () =>
    {
        var view = (await days.View(day))!;
        if (view.Find(form) is { } made)
        {
            return made.Reverses == id && made.Reason == reason.Trim() ? Outcome.Done : Outcome.Refused(OtherContents);
        }

        if (view.Find(id) is not { } entry)
        {
            return Outcome.Refused("There is no such entry on this day.");
        }

        if (by.Refusal(ActKind.ReverseEntry) is { } refused)
        {
            return refused;
        }

        if (Reasons.Needed(reason) is { } objection)
        {
            return Outcome.Refused(objection);
        }

        if (entry.Kind == EntryKind.Reverse || view.Entries.Any(e => e.Reverses == id))
        {
            return Outcome.Refused("This entry is reversed already, or is itself a reversal.");
        }

        List<Entry> all = [
            entry,
            .. view.Entries.Where(e => e.Together is { } one && one == entry.Together && e.Id != id && e.Kind != EntryKind.Reverse
                && view.Entries.All(o => o.Reverses != e.Id))
        ];
        foreach (var (one, place) in all.Select((e, i) => (e, i)))
        {
            // What never held is withdrawn: its reversal moves nothing.
            var opposite = new Proposal(EntryKind.Reverse, one.Holds ? [.. one.Postings.Select(p => p with { Amount = -p.Amount })] : [],
                null, reason, one.Evidence);
            Append(day, place == 0 ? form : IdOf(form, place), opposite, by, one.Id, one.Holds && one.NeedsApproval,
                all.Count > 1 ? form : null);
        }

        return Outcome.Done;
    });

    /// <summary>The postings by which a proposal is judged. What several of one form accept of a cell is one sum, judged with the first of
    /// them: one may be more than is left, and another takes it back. Null for those behind it.</summary>
    private static IReadOnlyList<Posting>? Judged(IReadOnlyList<Proposal> proposals, int place)
    {
        if (proposals[place] is not { Kind: EntryKind.Accept, Postings: [var own, .. var others] })
        {
            return proposals[place].Postings;
        }

        var same = proposals.Index().Where(p => p.Item is { Kind: EntryKind.Accept, Postings: [var first, ..] } && first.Cell == own.Cell)
            .ToList();
        return same[0].Index == place ? [own with { Amount = same.Sum(p => p.Item.Postings[0].Amount) }, .. others] : null;
    }

    /// <param name="judged">As <see cref="Judged"/> says.</param>
    private string? Objection(Proposal proposal, DayView view, List<Entry> entries, IReadOnlyList<Posting>? judged) =>
        Reasons.Objection(proposal.Reason)
        ?? (Named.Unknown(view.Day, proposal.Evidence.Where(e => !ClaimsOf(view).Contains(e))) is [var unknown, ..]
            ? $"“{(CardNumbers.Contains(unknown) ? "(withheld)" : unknown.Length > 40 ? unknown[..40] + "…" : unknown)}” is not part "
                + "of this day. Choose a ticket, row, count, bag or drawer of this day." : null)
        ?? (proposal.Postings.IsEmpty
            ? EntryRules.ItemObjection(proposal, Carrying.Open(view.Reconciliation, entries), view.Overview.OpenHolds, ClaimsOf(view))
            : judged is null ? null
            : EntryRules.Objection(proposal.Kind, judged, proposal.Reason, Bridges(view, entries)))?.Says(view.Setup)
        ?? CarriesTooMuch(proposal, view, entries)
        ?? EntryRules.DetailObjection(proposal, view.Setup, clock.GetUtcNow())?.Says(view.Setup);

    /// <summary>A carry names its items, or carries a sum: no more than is open of its cell.</summary>
    private static string? CarriesTooMuch(Proposal proposal, DayView view, List<Entry> entries)
    {
        if (proposal.Kind != EntryKind.Carry || proposal.Postings.IsEmpty || proposal.Detail is not EntryDetail.Awaited)
        {
            return null;
        }

        var made = new Entry(Guid.Empty, proposal.Kind, proposal.Postings, proposal.Reason, new(""), DateTimeOffset.MaxValue,
            proposal.Evidence, null, false, null)
        { Detail = proposal.Detail };
        var sum = Carrying.Sums(view.Reconciliation, [.. entries, made]).FirstOrDefault(s => s.Entry == made).Amount;
        var open = Bridges(view, entries)[proposal.Postings[0].Cell].ToExplain ?? Money.Zero;
        return sum.IsZero || (-sum.Sign == open.Sign && sum.Abs() <= open.Abs()) ? null
            : $"Only {view.Setup.Currency.Say(open.Abs())} of this cell is open, so you cannot carry {view.Setup.Currency.Say(sum.Abs())}.";
    }

    private static Dictionary<CellKey, Bridge> Bridges(DayView view, List<Entry> entries) =>
        view.Bridges.ToDictionary(b => b.Key,
            b => entries.Count == view.Entries.Count ? b.Value : Bridge.Of(b.Value.Cell, entries, b.Value.Tolerance));

    private static Money AmountOf(Proposal proposal, DayView view) =>
        Carrying.Open(view.Reconciliation, view.Entries).FirstOrDefault(c => c.Key == proposal.Evidence[0])?.Amount
            ?? view.Money.Claims.FirstOrDefault(c => c.Key == proposal.Evidence[0])?.Amount ?? Money.Zero;

    private static HashSet<string> ClaimsOf(DayView view) => [.. view.Money.Claims.Select(c => c.Key)];

    private static string Left(Money? left, DayView view) => left is { } known ? view.Setup.Currency.Say(known) : "nothing known";

    /// <summary>The further entries of one form have ids that follow from it.</summary>
    private static Guid IdOf(Guid form, int place) => new(SHA256.HashData(Encoding.UTF8.GetBytes($"{form:N}/{place}")).AsSpan(0, 16));

    private Entry Append(DateOnly day, Guid id, Proposal proposal, Person by, Guid? reverses, bool needsApproval, Guid? together)
    {
        var now = clock.GetUtcNow();
        db.Entries.Add(new EntryRow
        {
            Id = id,
            Day = day,
            Kind = proposal.Kind,
            Reason = proposal.Reason.Trim(),
            By = by.Id.Value,
            At = now,
            Evidence = string.Join('\n', proposal.Evidence),
            Reverses = reverses,
            NeedsApproval = needsApproval,
            Detail = DetailText.Write(proposal.Detail),
            Together = together,
            Postings =
            [
                .. proposal.Postings.Select((p, i) => new PostingRow
                {
                    EntryId = id,
                    Place = i + 1,
                    Register = p.Cell.Written.Register,
                    Drawer = p.Cell.Written.Drawer,
                    Tender = p.Cell.Written.Tender,
                    Amount = p.Amount,
                }),
            ],
        });
        return new(id, proposal.Kind, proposal.Postings, proposal.Reason.Trim(), by.Id, now, proposal.Evidence, reverses, needsApproval,
            null)
        { Detail = proposal.Detail, Together = together };
    }
}
