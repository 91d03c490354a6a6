using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files.Text;
using Fondo.Store.Days;
using Fondo.Store.Keeping;
using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Store.Search;
using Fondo.Web.Evidences;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>One cell: what is expected made of, what proves it, what is open, and the entries until it is explained.</summary>
[Authorize(Policies.Read)]
public sealed class CellModel(DayStore days, Resolving resolving, Attachments attachments, PinSignIn pins, PeopleRegister people,
    Sightings sightings, Referrals referrals, Sources sources, TimeProvider clock) : DayPage(days)
{
    private const string Nothing = "-";

    /// <summary>More open items than this nobody looks through here; all are in the list by time left.</summary>
    internal const int Most = 60;

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

    public CellKey Key => Named!;

    private CellKey? Named => new CellName(Part(Register), Part(Drawer), PathPart.Read(Tender)).Cell;

    private static string? Part(string written) => written == Nothing ? null : PathPart.Read(written);

    private bool IsThere => Named is { } key && View.Bridges.ContainsKey(key);

    public Bridge Bridge => View.Bridges[Key];

    public bool MayResolve => !View.IsClosed && MySelf.May(Right.Supervise);

    /// <summary>The kinds of entry that a person makes by hand, with their keys.</summary>
    public static readonly (EntryKind Kind, string Name, string Key)[] Kinds =
    [
        (EntryKind.Reclassify, "Reclassify", "r"), (EntryKind.Record, "Record a movement", "m"), (EntryKind.Recount, "Recount", "u"),
        (EntryKind.Carry, "Carry", "y"), (EntryKind.Claim, "Claim", "l"), (EntryKind.Accept, "Accept", "a"),
    ];

    /// <summary>The leads of this cell, as they are laid out.</summary>
    public IReadOnlyList<LeadShown> Shown => _shown ??= [.. Leads.Select(l => LeadShown.Of(l, View, MySelf))];

    private IReadOnlyList<LeadShown>? _shown;

    /// <summary>The lead that lies open, from 1; 0 where several belong together and lie open as one.</summary>
    public int Opened => _wanted > 0 && _wanted <= Shown.Count ? _wanted : Together is null ? 1 : 0;

    private int _wanted;

    /// <summary>Several leads that only together explain what is left of the cell; null where one alone does, or nothing.</summary>
    public Combination? Together => Found is { } found && Combination.Around(Key, found.Leads, ToExplain) is { Leads.Length: > 1 } all
        && all.Explained(ToExplain).Contains(Key) ? all : null;

    private Money? ToExplain(CellKey cell) => View.Bridges.GetValueOrDefault(cell)?.ToExplain;

    public bool IsPartOfTogether(LeadShown shown) =>
        Opened == 0 && Together is { } together && together.Leads.Any(l => Combination.IsSame(l, shown.Lead));

    public bool NeedsSecond(Combination together) => together.Leads.Any(l => LeadShown.Of(l, View, MySelf).NeedsApproval);

    public string Sentences(Combination together) => $"{Say.Capital(Say.Number(together.Leads.Length))} things together explain it.";

    /// <summary>What they explain: this cell, and which others.</summary>
    public string Explains(Combination together) => together.Explained(ToExplain).ToList() is { Count: > 1 } cells
        ? Say.List([.. cells.Select(c => View.NameOf(c))])
        : "it";

    /// <summary>Why a lead could not be taken, and the reason as typed.</summary>
    public string? TakeObjection { get; private set; }

    public string? TakenReason { get; private set; }

    /// <summary>Whether the form for an entry by hand lies open.</summary>
    public bool IsByHand { get; private set; }

    /// <summary>Who may own what is carried or claimed.</summary>
    public IEnumerable<Person> Owners => Setup.People.Where(p => p.May(Right.Read)).Concat(Setup.People.Where(p => !p.May(Right.Read)));

    /// <summary>The next cell that is off; null where this is the last one.</summary>
    public CellKey? Next => View.NextToResolve(Key);

    /// <summary>Tickets of other days with the card and approval of a settled row that no ticket of today has: it may have been settled
    /// twice, or late.</summary>
    public IReadOnlyList<EventRow> Elsewhere { get; private set; } = [];

    public IReadOnlyList<Attachment> Files { get; private set; } = [];

    public IReadOnlyList<Person> Approvers { get; private set; } = [];

    /// <summary>What may have happened, while something is left to explain.</summary>
    public IEnumerable<Lead> Leads => Found is { } found && Bridge.IsUnresolved ? found.Leads.Where(l => l.Cell == Key) : [];

    /// <summary>What was found for the whole day; null while it is being worked out: the page stands before it is there.</summary>
    public LeadsFound? Found { get; private set; }

    public bool IsLooking => Bridge.IsUnresolved && Found is null;

    /// <summary>How long an open card item can still be put right.</summary>
    public string TimeLeft(OpenItem open) => Say.TimeLeft(Core.Matching.TimeLeft.Until(open, View.Day) - clock.GetUtcNow());

    /// <summary>The least time left first.</summary>
    public IEnumerable<OpenItem> OpenItems =>
        View.Reconciliation.OpenItems.Where(o => o.Item.Cell == Key).OrderBy(o => Core.Matching.TimeLeft.Until(o, View.Day));

    /// <summary>Pairs with another cell, or of another amount: matched, and yet the reason that the cell is off.</summary>
    public IEnumerable<Match> Strays => View.Overview.Unlike.Where(m => (m.Journal[0].Cell == Key || m.Rows[0].Cell == Key)
        && (m.Journal[0].Cell != m.Rows[0].Cell || !m.Difference.IsZero));

    public IEnumerable<Match> Matched => Matches.Where(m => m.Journal[0].Cell == m.Rows[0].Cell && m.Difference.IsZero);

    /// <summary>What an entry may rest on: what is open here, and what a chosen lead names; each as a person calls it.</summary>
    public IEnumerable<(string Key, string Says)> EvidenceKeys
    {
        get
        {
            var items = OpenItems.Select(o => o.Item).Concat(Strays.SelectMany(m => m.Journal.Concat(m.Rows))).DistinctBy(i => i.Key)
                .ToDictionary(i => i.Key, Say.Of(Setup));
            return Form.Evidence.Concat(items.Keys).Distinct().Take(Most).Select(k => (k, items.GetValueOrDefault(k) ?? k));
        }
    }

    /// <summary>The items of one side of a match, as one line: a group has several.</summary>
    public static string Keys(IEnumerable<Item> items) => string.Join(" + ", items.Select(i => i.Key));

    public IReadOnlyList<Count> Counts => Target is { } target
        ? View.CountsOf(target, Key switch
        {
            CellKey.Safe => CountKind.Safe,
            CellKey.Bag => CountKind.Drop,
            _ => CountKind.Closing,
        })
        : [];

    /// <summary>What is counted to prove it; null where nothing is.</summary>
    private CountTarget? Target => Key switch
    {
        CellKey.Safe => CountTarget.Safe,
        CellKey.Bag bag => CountTarget.OfBag(bag.Number),
        CellKey.Takings { Drawer: { } drawer } => CountTarget.Of(drawer),
        _ => null,
    };

    /// <summary>Where its count is corrected.</summary>
    public string? CountHref => Target is not { } target ? null
        : Key.IsPlace ? CountModel.HrefOf(Setup.TradingDay, target)
        : $"/{Setup.TradingDay}/count/{Key.Drawer}?correct=true";

    public IReadOnlyDictionary<string, string> CountReasons { get; private set; } = new Dictionary<string, string>();

    public static string Href(TradingDay day, CellKey key)
    {
        var (register, drawer, tender) = key.Written;
        return $"/{day}/cell/{PathPart.Of(register ?? Nothing)}/{PathPart.Of(drawer ?? Nothing)}/{PathPart.Of(tender)}";
    }

    private IEnumerable<Match> Matches => View.Known.MatchesByCell[Key];

    /// <param name="lead">The place of a lead in the list, from 1, that the entry is to be filled in from.</param>
    /// <param name="fill">Whether its entry is to be changed by hand.</param>
    public async Task<IActionResult> OnGet(int? lead, bool fill)
    {
        if (!IsThere)
        {
            return NotFound();
        }

        Form = Fresh();
        await Look(lead is > 0);
        _wanted = lead ?? 0;
        IsByHand = fill;
        if (fill && Shown.ElementAtOrDefault(_wanted - 1) is { } chosen)
        {
            Form =
                EntryForm.For(chosen.Proposal.At(clock.GetUtcNow(), Setup.Policy.DisputeTime), Bridge, Setup, MySelf.Id, clock.GetUtcNow());
        }

        if (Key is CellKey.Takings { Drawer: { } drawer })
        {
            await sightings.Note(View, [drawer], MySelf, "the cell");
        }

        await LoadPeople();
        return Page();
    }

    /// <summary>What may have happened, once it is worked out.</summary>
    public async Task<IActionResult> OnGetLeads()
    {
        if (!IsThere)
        {
            return NotFound();
        }

        Form = Fresh();
        await Look(whole: true);
        return Partial("_Leads", this);
    }

    /// <summary>What the expected amount is made of; a place of the store's own money shows that itself.</summary>
    public IReadOnlyList<MakeupPart> Made =>
        Key is CellKey.Takings takings ? View.Known.Once((nameof(Makeup), Key), () => Makeup.Of(View.Day, takings)) : [];

    public IActionResult OnGetMade() => IsThere ? Partial("_Made", this) : NotFound();

    public IActionResult OnGetMatched() => IsThere ? Partial("_Matched", this) : NotFound();

    /// <summary>On which ways the records behind the cell came in.</summary>
    public async Task<IActionResult> OnGetSources() => !IsThere ? NotFound()
        : Partial("_Sources", (await sources.Of(View, Key))
            .Select(s => (Say.Records(s.Kind.Written()), Say.Way(s.Way, NameOfSender(s), s.File), s.Number, Say.Time(s.First, Setup)))
            .ToList());

    private string NameOfSender(Source source) =>
        source.Way == SourceWay.Key && Setup.Find(new RegisterId(source.By)) is { } register
            ? register.Name
            : Setup.NameOf(new PersonId(source.By));

    /// <summary>What persons' files changed here after the cell was judged.</summary>
    public IReadOnlyList<FileChangeRow> FileChanges { get; private set; } = [];

    /// <summary>The bridge as it would be with the entry that is being typed.</summary>
    public IActionResult OnGetPreview(EntryForm form) =>
        IsThere
            ? Partial("_Bridge", new BridgeView(Bridge, Setup, form.AmountOn(Bridge, Setup.Currency)))
            : NotFound();

    [Does(ActKind.MakeEntry)]
    public async Task<IActionResult> OnPostEntry(EntryForm form)
    {
        if (!IsThere)
        {
            return NotFound();
        }

        (Form, IsByHand) = (form, true);
        var (proposed, objection) = form.Read(Bridge, Setup);
        Objection = objection ?? (await resolving.Add(Date, form.Id, [proposed!], MySelf,
            form.Seen is null ? null : new(Key, form.SeenLeft))).Objection;
        return await Answer(Objection is null ? "The entry is made." : null);
    }

    /// <summary>Takes one lead, or several as one, with the reasons as they were changed.</summary>
    /// <param name="lead">The marks of the leads, as the page showed them.</param>
    [Does(ActKind.MakeEntry)]
    public async Task<IActionResult> OnPostTake(Guid id, string? seen, List<string> lead, List<string?> reason)
    {
        if (!IsThere)
        {
            return NotFound();
        }

        if (View.Find(id) is null)
        {
            var found = (await Search()).Leads;
            var chosen = lead.Select(m => found.FirstOrDefault(l => LeadShown.MarkOf(l) == m)).OfType<Lead>().ToList();
            var proposals = chosen.Select((l, i) => l.Proposal(View.Reconciliation, MySelf.Id, l.Says(Setup))
                .At(clock.GetUtcNow(), Setup.Policy.DisputeTime) with
            { Reason = reason.ElementAtOrDefault(i) ?? "" }).ToList();
            var seenCell = new SeenCell(Key, new EntryForm { Seen = seen }.SeenLeft);
            TakeObjection = Resolving.Changed(View, seenCell) is { } changed ? changed
                : chosen.Count == 0
                    || chosen.Count != lead.Count
                    ? "The evidence has changed since you opened this page. No entry was made. Look at the new leads."
                : (await resolving.Add(Date, id, [.. proposals.Select(OwnCellFirst)], MySelf, seenCell)).Objection;
        }

        TakenReason = TakeObjection is null || CardNumbers.Contains(reason.FirstOrDefault()) ? null : reason.FirstOrDefault();
        return await Answer(TakeObjection is null ? lead.Count > 1 ? "The entries are made together." : "The entry is made." : null);
    }

    private Proposal OwnCellFirst(Proposal proposal) =>
        proposal with { Postings = [.. proposal.Postings.OrderBy(p => p.Cell == Key ? 0 : 1)] };

    /// <summary>An entry as it would lie ready by hand.</summary>
    private EntryForm Fresh() => EntryForm.For(Bridge, Setup, MySelf.Id, clock.GetUtcNow(),
        Strays.FirstOrDefault() is { } stray ? stray.Journal[0].Cell == Key ? stray.Rows[0].Cell : stray.Journal[0].Cell : null);

    [Does(ActKind.ReverseEntry)]
    public async Task<IActionResult> OnPostReverse(Guid entry, Guid id, string? reason)
    {
        if (!IsThere)
        {
            return NotFound();
        }

        TakeBackObjection = (await resolving.Reverse(Date, id, entry, reason ?? "", MySelf)).Objection;
        TakingBack = (entry, id, Fondo.Files.Text.CardNumbers.Contains(reason) ? "" : reason);
        return await Answer(TakeBackObjection is null ? "The entry is reversed." : null);
    }

    /// <summary>The approver's own PIN, on the machine of the person who made the entry.</summary>
    [Does(ActKind.ApproveEntry)]
    public async Task<IActionResult> OnPostApprove(Guid entry, string? approver, string? pin)
    {
        if (!IsThere)
        {
            return NotFound();
        }

        // Whoever may not use this form is not told anything by it.
        (Approving, Approver) = (entry, approver);
        var (person, objection) = await pins.ProveSecond(approver, pin, MySelf.Id);
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
        _shown = null;
        if (!IsThere)
        {
            return NotFound();
        }

        await Look(whole: false);
        if (Form.Id == Guid.Empty)
        {
            Form = Fresh();
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

        var leads = Search();
        if (!whole)
        {
            await Task.WhenAny(leads, Task.Delay(_unnoticed));
        }

        Found = whole || leads.IsCompleted ? await leads : null;
    }

    private Task<LeadsFound> Search() => Key.IsPlace ? Task.FromResult(new LeadsFound(View.PlaceLeads, false)) : View.Leads;

    private async Task LoadPeople()
    {
        Approvers = [.. (await people.All()).Where(p => p.May(Right.Supervise))];
        if (OpenItems.FirstOrDefault(o => o is
            {
                Side: OpenIn.Batch, Cause: Cause.NotInJournal,
                Item: { CarriedFrom: null, Card: { Approval: not null, LastFour: not null } }
            }) is { Item.Card: var card })
        {
            Elsewhere = [.. (await referrals.PaidWith(card.Approval!, card.LastFour!)).Where(e => e.Day != Date)];
        }

        FileChanges = await sources.Changes(Date, Key);
        Files = Bridge.Entries.IsEmpty ? [] : await attachments.Of(Date);
        CountReasons = Counts.Count > 1 ? await Days.CountReasons(Date) : CountReasons;
    }

    /// <summary>“Lane 2 cash is short 300.00: 956.00 should be there, Chidi counted 656.00.”</summary>
    public string Sentence()
    {
        var cell = Bridge.Cell;
        if (Key.IsPlace)
        {
            return PlaceSentence(cell);
        }

        var proof = Setup.ProofOf(Key) switch
        {
            ProofKind.Count => Counts.Count == 0
                ? "not counted yet"
                : $"{Say.Person(Counts[^1].By, Setup)} counted "
                    + $"{Amount(cell.Proof)}{(Counts.Count > 1 ? $" at attempt {Counts[^1].Attempt}" : "")}",
            ProofKind.Batch => cell.Proof is null ? "no batch is in yet" : $"{Amount(cell.Proof)} settled",
            _ => cell.Proof is null ? "no books imported" : $"the books say {Amount(cell.Proof)}",
        };
        return $"{Amount(cell.Expected)} expected, {proof}.";
    }

    /// <summary>“600.00 was recorded, Odile counted 580.00.”</summary>
    private string PlaceSentence(Cell cell)
    {
        var who = Counts is [.., var last]
            ? Say.Person(last.By, Setup) + (last.Witness is { } witness ? $" and {Say.Person(witness, Setup)}" : "")
            : "nobody";
        var proof = cell.Proof is null ? "not counted yet" : $"{who} counted {Amount(cell.Proof)}";
        return Key switch
        {
            CellKey.Safe => $"{Amount(cell.Expected)} in loose cash expected, {proof}.",
            CellKey.Bag => cell.ExpectedCount == 0 && cell.Expected.IsZero
                ? $"no drop was recorded for it, {proof}."
                : $"{Amount(cell.Expected)} should be in it, {proof}.",
            CellKey.Float =>
                $"{Amount(cell.Expected)} was left the evening before, {Amount(cell.Proof)} was declared at opening.",
            CellKey.Deposit => $"{Amount(cell.Expected)} was sealed, and the bank credited {Amount(cell.Proof)}.",
            CellKey.Funding =>
                $"{Amount(cell.Expected)} was expected for {Say.Count(cell.ExpectedCount, "item")}, {Amount(cell.Proof)} "
                    + $"came{(cell.ProofCount is { } number ? $" for {number}" : "")}.",
            _ =>
                $"the bank booked {Signed(cell.Proof ?? Money.Zero)}, and it is not matched: “{View.BankLineOf(cell.Key)?.Text}”.",
        };
    }
}

/// <summary>A bridge to be drawn.</summary>
public sealed record BridgeView(Bridge Bridge, Setup Setup, Money? Proposed);
