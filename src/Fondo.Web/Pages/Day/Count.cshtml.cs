using Fondo.Core.Cash;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files.Text;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Store.People;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Fondo.Web.Pages.Day;

/// <summary>Counts one drawer, one bag or the safe, blind: nothing on this page says what should be there until the count is handed in.
/// Off by more than the tolerance, it asks for one recount, still blind; both attempts are kept (rules §8).</summary>
[Authorize(Policies.Count)]
public sealed class CountModel(DayStore days, Counting counting, Sightings sightings, MachineDesk machines, PeopleRegister people,
    PinSignIn pins, TimeProvider clock) : DayPage(days)
{
    private const int SpareChecks = 3, MostChecks = 500;

    private static readonly TimeSpan _atThisMoment = TimeSpan.FromMinutes(15);

    protected override string Place => "count";

    /// <summary>A drawer's id, <c>bag:NAME</c> or <c>safe:</c>.</summary>
    [BindProperty(SupportsGet = true)]
    public string What { get; set; } = "";

    public CountTarget Target { get; private set; } = null!;

    /// <summary>Null for a bag and the safe.</summary>
    public DrawerSession? Session { get; private set; }

    public TypedCount Typed { get; private set; } = TypedCount.Empty;

    public IReadOnlyList<Objection> Objections { get; private set; } = [];

    /// <summary>Made with the page: the same form posted twice is one count.</summary>
    public Guid Form { get; private set; } = Guid.NewGuid();

    public string? Reason { get; private set; }

    public bool IsCorrecting { get; private set; }

    /// <summary>Of a drawer: closing once the session has ended; what one counts before is a spot count, and shows nothing.</summary>
    public CountKind Kind => Target.Bag is not null ? CountKind.Drop
        : Target.IsSafe ? CountKind.Safe
        : View.HasEnded(Session!) ? CountKind.Closing
        : CountKind.Spot;

    public IReadOnlyList<Count> Counts => View.CountsOf(Target, Kind);

    /// <summary>What others are typing into this count at this moment.</summary>
    public IReadOnlyList<Draft> Others { get; private set; } = [];

    /// <summary>Whether the person has seen what should be there: then the count says that it is not blind.</summary>
    public bool HasSeen { get; private set; }

    /// <summary>The readings of machines that are of this count, and what they come to.</summary>
    public IReadOnlyList<long> Readings { get; private set; } = [];

    /// <summary>The readings as the form gives them back.</summary>
    public string ReadingsShown => string.Join(',', Readings);

    public IReadOnlyList<MachineSays> Machines { get; private set; } = [];

    /// <summary>The denominations that come first, because the last count of this drawer had them.</summary>
    public IReadOnlySet<long> UsedLast { get; private set; } = new HashSet<long>();

    /// <summary>Who may stand by; empty where nobody has to.</summary>
    public IReadOnlyList<Person> Witnesses { get; private set; } = [];

    public int Attempt => Counts.Count == 0 ? 1 : Counts[^1].Attempt + 1;

    public IEnumerable<TenderKind> StubTenders =>
        Setup.Tenders.Where(t => t.Proof == ProofKind.Count && t.Id != TenderId.Cash && t.Id != TenderId.Check);

    public int CheckRows => Math.Max(Typed.Checks.Count + 1, SpareChecks);

    /// <summary>Once counted and off beyond tolerance, one recount is asked for.</summary>
    public bool AsksRecount => Counting.AsksRecount(View, Target, Kind) && !View.IsClosed;

    public bool NeedsReason => Counting.IsCorrection(View, Target, Kind);

    /// <summary>Whether the sheet is shown, rather than what the count came to.</summary>
    public bool IsCounting => !View.IsClosed && (Kind == CountKind.Spot || Counts.Count == 0 || AsksRecount || IsCorrecting);

    /// <summary>Whether this person may see what expected.</summary>
    public bool ShowsResult => MySelf.May(Right.Supervise) || MySelf.May(Right.Read) || Setup.Policy.ShowsOwnResult;

    public IEnumerable<Bridge> Declared => View.TenderBridges.Where(b => b.Cell.Key.Drawer is { } drawer && drawer == Target.Drawer)
        .OrderBy(b => Setup.Tenders.IndexOf(Setup.Find(b.Cell.Key.OfTender!.Value)!));

    /// <summary>The bag as the journal has it; null for anything else.</summary>
    public Bag? Bag => Target.Bag is { } bag ? Core.Sheets.Bag.Of(View.Day, bag) : null;

    /// <summary>What was left in the drawer for the next session; null while nobody said so.</summary>
    public Count? Kept => Target.Drawer is { } drawer ? Floats.Kept(View, drawer) : null;

    public string Subject => Target.Bag is { } bag ? $"Bag {bag}"
        : Target.IsSafe ? "The safe"
        : $"{Setup.NameOf(Session!.Register)}, {Say.Person(Session.Cashier, Setup)}";

    public string Href => HrefOf(Setup.TradingDay, Target);

    public static string HrefOf(TradingDay day, CountTarget target) => $"/{day}/count/{Uri.EscapeDataString(target.ToString())}";

    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        await base.OnPageHandlerExecutionAsync(context, async () =>
        {
            What = Uri.UnescapeDataString(What);
            if (Find() is null)
            {
                await Reload(); // it may have been opened this moment
            }

            if (Find() is not { } target)
            {
                context.Result = NotFound();
            }
            else if (!MayCount(target))
            {
                context.Result = Forbid();
            }
            else
            {
                (Target, Session) = (target, SessionOf(target));
                return await next();
            }

            return null!;
        });
    }

    /// <param name="of">Whose typing the sheet begins with; null: one's own.</param>
    /// <param name="again">A further count, of what may be counted again at any time.</param>
    public async Task<IActionResult> OnGet(bool correct = false, string? of = null, bool again = false)
    {
        IsCorrecting = Counts.Count > 0
            && ((correct && Kind != CountKind.Safe && MySelf.May(Right.Supervise)) || (again && Kind == CountKind.Safe));
        var drafts = await Look();
        Typed = drafts.FirstOrDefault(d => d.By.Value == (of ?? MySelf.Id.Value))?.Typed ?? TypedCount.Empty;
        return Page();
    }

    /// <summary>What machines have said since the page was made; nothing while they say no more.</summary>
    public async Task<IActionResult> OnGetReadings(string? known)
    {
        await LookAtMachines();
        return IsCounting && ReadingsShown != (known ?? "") ? Partial("_Readings", this) : StatusCode(StatusCodes.Status204NoContent);
    }

    /// <summary>Saved as one types.</summary>
    [Does(ActKind.Draft)]
    public async Task<IActionResult> OnPostDraft(int attempt, CountKind kind = CountKind.Closing)
    {
        var own = (await counting.Drafts(Date, Target)).FirstOrDefault(d => d.By == MySelf.Id
            && clock.GetUtcNow() - d.SavedAt < _atThisMoment)?.Typed;
        var typed = ReadForm();
        var outcome = await counting.SaveDraft(Date, Target, kind, attempt, typed.After(own), MySelf);
        if (outcome.IsDone)
        {
            await Look();
            var other = Others.Count > 0 ? $" {Setup.NameOf(Others[0].By)} is typing in this count as well."
                : typed.ComesAgain(own) ? " You are typing in this count on another device as well. What is typed last is kept."
                : "";
            return Content($"Saved {Say.Time(clock.GetUtcNow(), Setup)}.{other}");
        }

        Response.StatusCode = StatusCodes.Status409Conflict;
        return Content(outcome.Objection!);
    }

    [Does(ActKind.Count)]
    public async Task<IActionResult> OnPost(Guid form, int attempt, string? reason, bool correcting, string? witness, string? readings,
        CountKind kind = CountKind.Closing)
    {
        Typed = ReadForm();
        var at = TimeZoneInfo.ConvertTime(clock.GetUtcNow(), Setup.TimeZone);
        var (second, objection) = await pins.ProveChosen(witness, Request.Form["witness-pin"], MySelf.Id);
        Objections = objection is not null
            ? [new("witness", objection)]
            : (await counting.HandIn(Date, Target, new(form, kind, attempt, Typed, reason, at)
            {
                Witness = second is null ? null : new PersonId(second.PersonId),
                Readings = [.. (readings ?? "").Split(',').Select(r => long.TryParse(r, out var id) ? id : 0).Where(r => r > 0)],
            }, MySelf)).Objections;
        if (Objections.Count == 0)
        {
            Notice = kind == CountKind.Spot
                ? $"Noted at {Say.Time(at, Setup)}. You see the expected amount after the closing count."
                : null;
            return Redirect(Href);
        }

        await Reload();
        await Look();
        (Form, Reason, IsCorrecting) =
            (form, CardNumbers.Contains(reason) ? "" : reason, correcting && (Kind == CountKind.Safe || MySelf.May(Right.Supervise)));
        return Page();
    }

    public string? ObjectionAt(string field) => Objections.FirstOrDefault(o => o.Field == field)?.Sentence;

    private async Task<IReadOnlyList<Draft>> Look()
    {
        var drafts = await counting.Drafts(Date, Target);
        Others = [.. drafts.Where(d => d.By != MySelf.Id && clock.GetUtcNow() - d.SavedAt < _atThisMoment)];
        HasSeen = Target.Drawer is { } drawer && await sightings.Has(Date, drawer, MySelf.Id);
        UsedLast = await counting.UsedLast(View, Target);
        Witnesses = Setup.Policy.Witnessed.Contains(Kind)
            ? [.. (await people.All()).Where(p => p.Id != MySelf.Id && p.May(Right.Count))]
            : [];
        await LookAtMachines();
        return drafts;
    }

    private async Task LookAtMachines()
    {
        Readings = await machines.Fresh(View, Target, Counts.Count == 0 ? null : Counts[^1].At);
        Machines = await machines.Says(View, Target, Readings);
    }

    private CountTarget? Find()
    {
        const string bag = "bag:";
        return View.Overview.Sessions.Any(s => s.Drawer.Value == What) ? CountTarget.Of(new DrawerId(What))
            : What == CountTarget.Safe.ToString() ? CountTarget.Safe
            : What.StartsWith(bag, StringComparison.Ordinal) && What.Length is > 4 and < 80
                && !CardNumbers.Contains(What) ? CountTarget.OfBag(What[bag.Length..])
            : null;
    }

    private bool MayCount(CountTarget target) =>
        SessionOf(target) is { } session ? DrawerPage.MayCount(MySelf, session) : MySelf.May(Right.Supervise);

    private DrawerSession? SessionOf(CountTarget target) => View.Overview.Sessions.FirstOrDefault(s => s.Drawer == target.Drawer);

    private TypedCount ReadForm()
    {
        var form = Request.Form;
        var (numbers, amounts, routings) = (form["check-number"], form["check-amount"], form["check-routing"]);
        return new(
            PiecesSheet.Read(form),
            [.. Enumerable.Range(0, Math.Min(Math.Min(numbers.Count, amounts.Count), MostChecks))
                .Select(i => new TypedCheck(PiecesSheet.Short(numbers[i]), PiecesSheet.Short(amounts[i]),
                    i < routings.Count ? PiecesSheet.Short(routings[i]) : ""))
                .Where(c => c.Number.Length + c.Amount.Length + c.Routing.Length > 0)],
            StubTenders.ToDictionary(t => t.Id.Value, t => PiecesSheet.Short(form[$"s{t.Id}"])).Where(s => s.Value.Length > 0)
                .ToDictionary(),
            form["overrules"].ToString() is { Length: > 0 } why ? why[..Math.Min(why.Length, 500)] : null)
        {
            HasSameChecks = form["same-checks"] == "yes",
            Page = Guid.TryParse(form["form"], out var page) ? page : null,
        };
    }
}
