using Fondo.Core.Cells;
using Fondo.Core.Entries;
using Fondo.Core.SetUp;
using Fondo.Files.Text;
using Fondo.Store.Model;

namespace Fondo.Store.Days;

/// <summary>An entry as a person proposes it.</summary>
/// <param name="Id">Made with the form, so that the form posted twice is one entry.</param>
public sealed record ProposedEntry(Guid Id, EntryKind Kind, IReadOnlyList<Posting> Postings, string Reason, IReadOnlyList<string> Evidence);

/// <summary>Adds entries, approvals and reversals. Nothing is ever changed or taken away.</summary>
public sealed class Resolving(StoreContext db, DayStore days, DayLock guard, TimeProvider clock)
{
    private const string OtherContents = "This form was sent before with other contents, and the entry made of those stands. Nothing was changed; load the page to see it.";

    public Task<Outcome> Add(DateOnly day, ProposedEntry proposed, Person by) => guard.Write(day, async () =>
    {
        var view = (await days.View(day))!;
        if (view.Find(proposed.Id) is { } made)
        {
            return made.Kind == proposed.Kind && made.Postings.SequenceEqual(proposed.Postings) && made.Reason == proposed.Reason.Trim() ? Outcome.Done : Outcome.Refused(OtherContents);
        }

        if (!by.May(Right.Supervise))
        {
            return Outcome.Refused("Only a supervisor or a manager makes entries.");
        }

        if (Reasons.Objection(proposed.Reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        if (proposed.Evidence.FirstOrDefault(key => !view.Names.Contains(key)) is { } unknown)
        {
            return Outcome.Refused($"“{(CardNumbers.Contains(unknown) ? "(withheld)" : unknown.Length > 40 ? unknown[..40] + "…" : unknown)}” is nothing that this day holds: an entry rests on its tickets, rows, counts, bags and drawers.");
        }

        if (EntryRules.Objection(proposed.Kind, proposed.Postings, proposed.Reason, view.Bridges, view.Setup.Currency) is { } objection)
        {
            return Outcome.Refused(objection);
        }

        Append(day, proposed, by, null, EntryRules.NeedsApproval(proposed.Kind, proposed.Postings, view.Setup.Policy, view.Bridges));
        return Outcome.Done;
    });

    public Task<Outcome> Approve(DateOnly day, Guid id, Person approver) => guard.Write(day, async () =>
    {
        var view = (await days.View(day))!;
        if (view.Find(id) is not { } entry)
        {
            return Outcome.Refused("There is no such entry on this day.");
        }

        if (entry.IsWithdrawn(view.Entries))
        {
            return Outcome.Refused("This entry was withdrawn; there is nothing to approve.");
        }

        if (EntryRules.ApprovalObjection(entry, approver) is { } objection)
        {
            return entry.ApprovedBy == approver.Id ? Outcome.Done : Outcome.Refused(objection);
        }

        db.Add(new ApprovalRow { EntryId = id, By = approver.Id.Value, At = clock.GetUtcNow() });
        return Outcome.Done;
    });

    /// <summary>Takes an entry back with another one that says why. A reversal needs the approval that its entry had.</summary>
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

        if (Reasons.Objection(reason) is { } withheld)
        {
            return Outcome.Refused(withheld);
        }

        if (!by.May(Right.Supervise))
        {
            return Outcome.Refused("Only a supervisor or a manager reverses entries.");
        }

        if (string.IsNullOrWhiteSpace(reason))
        {
            return Outcome.Refused("Give a reason: it is read a year from now.");
        }

        if (entry.Kind == EntryKind.Reverse || view.Entries.Any(e => e.Reverses == id))
        {
            return Outcome.Refused("This entry is reversed already, or is itself a reversal.");
        }

        // What never held is withdrawn: its reversal moves nothing.
        var opposite = new ProposedEntry(form, EntryKind.Reverse, entry.Holds ? [.. entry.Postings.Select(p => p with { Amount = -p.Amount })] : [], reason, entry.Evidence);
        Append(day, opposite, by, id, entry.Holds && entry.NeedsApproval);
        return Outcome.Done;
    });

    private void Append(DateOnly day, ProposedEntry proposed, Person by, Guid? reverses, bool needsApproval) => db.Entries.Add(new EntryRow
    {
        Id = proposed.Id,
        Day = day,
        Kind = proposed.Kind,
        Reason = proposed.Reason.Trim(),
        By = by.Id.Value,
        At = clock.GetUtcNow(),
        Evidence = string.Join('\n', proposed.Evidence),
        Reverses = reverses,
        NeedsApproval = needsApproval,
        Postings =
        [
            .. proposed.Postings.Select((p, i) => new PostingRow
            {
                EntryId = proposed.Id,
                Place = i + 1,
                Register = p.Cell.Register?.Value,
                Drawer = p.Cell.Drawer?.Value,
                Tender = p.Cell.Tender.Value,
                Amount = p.Amount,
            }),
        ],
    });
}
