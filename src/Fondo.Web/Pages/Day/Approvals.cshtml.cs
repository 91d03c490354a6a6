using Fondo.Core.Amounts;
using Fondo.Core.Entries;
using Fondo.Core.Evidence;
using Fondo.Core.Leads;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Keeping;
using Fondo.Store.People;
using Fondo.Web.Evidences;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>Everything that waits for a second person, with its evidence, to be signed with one PIN.</summary>
[Authorize(Policies.Read)]
public sealed class ApprovalsModel(DayStore days, Resolving resolving, Attachments attachments, PinSignIn pins, PeopleRegister people)
    : DayPage(days)
{
    protected override string Place => "resolve";

    /// <summary>Another entry that moves the same on the same cells; null where there is none.</summary>
    public Entry? Twin(Entry entry) => entry.Postings.IsEmpty ? null
        : Explained.Counted(View.Entries)
            .FirstOrDefault(e => e.Id != entry.Id && e.Kind == entry.Kind && e.Postings.SequenceEqual(entry.Postings));

    /// <summary>Those that a person chose to sign.</summary>
    public IReadOnlyCollection<Guid>? Chosen { get; private set; }

    public string? Approver { get; private set; }

    public IReadOnlyList<string> Objections { get; private set; } = [];

    public IReadOnlyList<Person> Approvers { get; private set; } = [];

    public IReadOnlyList<Attachment> Files { get; private set; } = [];

    public bool MaySign => MySelf.May(Right.Supervise) && !View.IsClosed;

    public IReadOnlyList<Entry> Waiting =>
        [.. View.Entries.Where(e => !e.Holds && !e.IsWithdrawn(View.Entries)).OrderBy(e => e.At).ThenBy(e => e.Id)];

    /// <summary>What is left of each cell that an entry names, before it is signed and after.</summary>
    public IEnumerable<(string Cell, Money Before, Money After)> Effects(Entry entry) =>
        from posting in entry.Postings
        let left = View.Bridges.GetValueOrDefault(posting.Cell)?.Left
        where left is not null
        select (View.NameOf(posting.Cell), left.Value, left.Value - posting.Amount);

    public ExhibitList EvidenceOf(Entry entry) => new(Setup,
        Exhibit.Of(entry.Evidence, entry.Detail is EntryDetail.Recounted recounted ? recounted.Found : [], View.Overview, 6),
        entry.Evidence.Length);

    public Task OnGet() => Load();

    [Does(ActKind.ApproveEntry)]
    public async Task<IActionResult> OnPost(List<Guid> entry, string? approver, string? pin)
    {
        // Whoever may not use this form is not told anything by it.
        (Chosen, Approver) = (entry, approver);
        if (entry.Count == 0)
        {
            Objections = ["Tick the entries to sign."];
        }
        else
        {
            var (person, objection) = await pins.ProveSecond(approver, pin, MySelf.Id);
            var signed = objection is null ? await resolving.Sign(Date, entry, person!.ToPerson()) : new(0, [objection]);
            Objections = signed.Objections;
            if (signed.Objections.Count == 0)
            {
                Notice = signed.Approved == 0
                    ? "These entries were already signed."
                    : $"{person!.Name} signed {(signed.Approved == 1 ? "one entry" : $"{signed.Approved} entries")}.";
                return Redirect($"/{Setup.TradingDay}/approvals");
            }
        }

        await Reload();
        await Load();
        return Page();
    }

    private async Task Load()
    {
        Approvers = [.. (await people.All()).Where(p => p.May(Right.Supervise))];
        Files = await attachments.Of(Date);
    }
}
