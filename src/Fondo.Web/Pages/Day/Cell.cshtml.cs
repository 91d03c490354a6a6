using Fondo.Core.Amounts;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.People;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>One cell: what is expected made of, what proves it, what is open, and the entries until it is explained.</summary>
[Authorize(Policies.Read)]
public sealed class CellModel(DayStore days, Resolving resolving, PinSignIn pins, PeopleRegister people, Sightings sightings, TimeProvider clock) : DayPage(days)
{
    private const string Nothing = "-";

    private static readonly TimeSpan _unnoticed = TimeSpan.FromMilliseconds(250);

    protected override string Place => "resolve";

    [BindProperty(SupportsGet = true)]
    public string Register { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public string Drawer { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public string Tender { get; set; } = "";

    public EntryForm Form { get; private set; } = new();

    public string? Objection { get; private set; }

    public string? ApprovalObjection { get; private set; }

    public string? TakeBackObjection { get; private set; }

    /// <summary>The entry that somebody tried to approve, and as whom: chosen still when it did not go through.</summary>
    public Guid? Approving { get; private set; }

    public string? Approver { get; private set; }

    /// <summary>The entry that somebody tried to take back, and the reason as typed.</summary>
    public (Guid Entry, Guid Form, string? Reason)? TakingBack { get; private set; }

    public CellKey Key => new(Register == Nothing ? null : new RegisterId(Register), Drawer == Nothing ? null : new DrawerId(Drawer), new(Tender));

    public Bridge Bridge => View.Bridges[Key];

    public bool MayResolve => !View.IsClosed && MySelf.May(Right.Supervise);

    public IReadOnlyList<Person> Approvers { get; private set; } = [];

    /// <summary>What may have happened, while something is left to explain.</summary>
    public IEnumerable<Lead> Leads => Found is { } found && Bridge.IsUnresolved ? found.Leads.Where(l => l.Cell == Key) : [];

    /// <summary>What was found for the whole day; null while it is being worked out: the page stands before it is there.</summary>
    public LeadsFound? Found { get; private set; }

    public bool IsLooking => Bridge.IsUnresolved && Found is null;

    /// <summary>How long an open card item can still be put right.</summary>
    public string TimeLeft(OpenItem open) => Say.TimeLeft(Core.Matching.TimeLeft.Until(open, View.Day) - clock.GetUtcNow());

    /// <summary>The least time left first.</summary>
    public IEnumerable<OpenItem> OpenItems => View.Reconciliation.OpenItems.Where(o => o.Item.Cell == Key).OrderBy(o => Core.Matching.TimeLeft.Until(o, View.Day));

    /// <summary>Pairs with another cell, or of another amount: matched, and yet the reason that the cell is off.</summary>
    public IEnumerable<Match> Strays => Matches.Where(m => m.Journal[0].Cell != m.Rows[0].Cell || !m.Difference.IsZero);

    public IEnumerable<Match> Matched => Matches.Where(m => m.Journal[0].Cell == m.Rows[0].Cell && m.Difference.IsZero);

    /// <summary>What an entry may rest on: what is open here, and what a chosen lead names.</summary>
    public IEnumerable<string> EvidenceKeys =>
        Form.Evidence.Concat(OpenItems.Select(o => o.Item.Key)).Concat(Strays.SelectMany(m => m.Journal.Concat(m.Rows).Select(i => i.Key))).Distinct();

    /// <summary>The items of one side of a match, as one line: a group has several.</summary>
    public static string Keys(IEnumerable<Item> items) => string.Join(" + ", items.Select(i => i.Key));

    public IReadOnlyList<Count> Counts => Key.Drawer is { } drawer ? View.CountsOf(drawer) : [];

    public IReadOnlyDictionary<string, string> CountReasons { get; private set; } = new Dictionary<string, string>();

    public static string Href(TradingDay day, CellKey key) =>
        $"/{day}/cell/{Uri.EscapeDataString(key.Register?.Value ?? Nothing)}/{Uri.EscapeDataString(key.Drawer?.Value ?? Nothing)}/{Uri.EscapeDataString(key.Tender.Value)}";

    private IEnumerable<Match> Matches => View.Reconciliation.Matches.Where(m => m.Journal[0].Cell == Key || m.Rows[0].Cell == Key);

    /// <param name="lead">The place of a lead in the list, from 1, that the entry is to be filled in from.</param>
    public async Task<IActionResult> OnGet(int? lead)
    {
        if (!View.Bridges.ContainsKey(Key))
        {
            return NotFound();
        }

        Form = EntryForm.For(Bridge, Setup.Currency, Strays.FirstOrDefault() is { } stray ? stray.Journal[0].Cell == Key ? stray.Rows[0].Cell : stray.Journal[0].Cell : null);
        await Look(lead is > 0);
        if (lead is > 0 && Leads.ElementAtOrDefault(lead.Value - 1) is { } chosen)
        {
            Form = EntryForm.For(chosen, Setup.Currency);
        }

        if (Key.Drawer is { } drawer)
        {
            await sightings.Note(View, [drawer], MySelf, "the cell");
        }

        await LoadPeople();
        return Page();
    }

    /// <summary>What may have happened, once it is worked out.</summary>
    public async Task<IActionResult> OnGetLeads()
    {
        if (!View.Bridges.ContainsKey(Key))
        {
            return NotFound();
        }

        await Look(whole: true);
        return Partial("_Leads", this);
    }

    public IActionResult OnGetMade() => View.Bridges.ContainsKey(Key) ? Partial("_Made", this) : NotFound();

    public IActionResult OnGetMatched() => View.Bridges.ContainsKey(Key) ? Partial("_Matched", this) : NotFound();

    /// <summary>The bridge as it would be with the entry that is being typed.</summary>
    public IActionResult OnGetPreview(EntryForm form) =>
        View.Bridges.ContainsKey(Key) ? Partial("_Bridge", new BridgeView(Bridge, Setup, form.AmountOn(Bridge, Setup.Currency))) : NotFound();

    public async Task<IActionResult> OnPostEntry(EntryForm form)
    {
        if (!View.Bridges.ContainsKey(Key))
        {
            return NotFound();
        }

        Form = form;
        var (proposed, objection) = form.Read(Bridge, Setup.Currency);
        Objection = objection ?? (await resolving.Add(Date, proposed!, MySelf)).Objection;
        return await Answer(Objection is null ? "The entry is made." : null);
    }

    public async Task<IActionResult> OnPostReverse(Guid entry, Guid id, string? reason)
    {
        if (!View.Bridges.ContainsKey(Key))
        {
            return NotFound();
        }

        TakeBackObjection = (await resolving.Reverse(Date, id, entry, reason ?? "", MySelf)).Objection;
        TakingBack = (entry, id, Fondo.Files.Text.CardNumbers.Contains(reason) ? "" : reason);
        return await Answer(TakeBackObjection is null ? "The entry is taken back." : null);
    }

    /// <summary>The approver's own PIN, on the machine of the person who made the entry.</summary>
    public async Task<IActionResult> OnPostApprove(Guid entry, string? approver, string? pin)
    {
        if (!View.Bridges.ContainsKey(Key))
        {
            return NotFound();
        }

        // Whoever may not use this form is not told anything by it.
        if (!MySelf.May(Right.Supervise))
        {
            return Forbid();
        }

        (Approving, Approver) = (entry, approver);
        var (person, objection) = await pins.Prove(approver, pin, PinDoor.Approve);
        ApprovalObjection = objection ?? (await resolving.Approve(Date, entry, person!.ToPerson())).Objection;
        return await Answer(ApprovalObjection is null ? "The entry is approved." : null);
    }

    private async Task<IActionResult> Answer(string? notice)
    {
        if (notice is not null)
        {
            Notice = notice;
            return Redirect(Href(Setup.TradingDay, Key));
        }

        await Reload();
        if (!View.Bridges.ContainsKey(Key))
        {
            return NotFound();
        }

        await Look(whole: false);
        if (Form.Id == Guid.Empty)
        {
            Form = EntryForm.For(Bridge, Setup.Currency, null);
        }

        await LoadPeople();
        return Page();
    }

    /// <param name="whole">Waits to the end; else only as long as nobody notices.</param>
    private async Task Look(bool whole)
    {
        if (!Bridge.IsUnresolved)
        {
            return;
        }

        var leads = View.Leads;
        if (!whole)
        {
            await Task.WhenAny(leads, Task.Delay(_unnoticed));
        }

        Found = whole || leads.IsCompleted ? await leads : null;
    }

    private async Task LoadPeople()
    {
        Approvers = [.. (await people.All()).Where(p => p.May(Right.Supervise))];
        CountReasons = Counts.Count > 1 ? await Days.CountReasons(Date) : CountReasons;
    }

    /// <summary>“Lane 2 cash is short 300.00: 956.00 should be there, Chidi counted 656.00.”</summary>
    public string Sentence()
    {
        var cell = Bridge.Cell;
        var proof = Setup.Find(cell.Key.Tender)!.Proof switch
        {
            ProofKind.Count => Counts.Count == 0 ? "nobody has counted yet" : $"{Say.FirstName(Setup.NameOf(Counts[^1].By))} counted {Amount(cell.Proof)}{(Counts.Count > 1 ? $" at attempt {Counts[^1].Attempt}" : "")}",
            ProofKind.Batch => cell.Proof is null ? "no batch is in yet" : $"{Amount(cell.Proof)} settled",
            _ => cell.Proof is null ? "no books were taken in" : $"the books say {Amount(cell.Proof)}",
        };
        return $"{Amount(cell.Expected)} should be there, {proof}.";
    }
}

/// <summary>A bridge to be drawn.</summary>
public sealed record BridgeView(Bridge Bridge, Setup Setup, Money? Proposed);
