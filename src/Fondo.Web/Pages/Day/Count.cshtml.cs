using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>Counts one drawer, blind: nothing on this page says what should be there until the count is handed in.
/// Off by more than the tolerance, it asks for one recount, still blind; both attempts are kept (rules §8).</summary>
[Authorize(Policies.Count)]
public sealed class CountModel(DayStore days, Counting counting, Sightings sightings, TimeProvider clock) : DrawerPage(days)
{
    private const int SpareChecks = 3;

    private static readonly TimeSpan _atThisMoment = TimeSpan.FromMinutes(15);

    public TypedCount Typed { get; private set; } = TypedCount.Empty;

    public IReadOnlyList<CountObjection> Objections { get; private set; } = [];

    /// <summary>Made with the page: the same form posted twice is one count.</summary>
    public Guid Form { get; private set; } = Guid.NewGuid();

    public string? Reason { get; private set; }

    public bool IsCorrecting { get; private set; }

    /// <summary>Closing once the session has ended; what one counts before is a spot count, and shows nothing.</summary>
    public CountKind Kind => View.HasEnded(Session) ? CountKind.Closing : CountKind.Spot;

    public IReadOnlyList<Count> Counts => View.CountsOf(new(Drawer), Kind);

    /// <summary>What others are typing into the count of this drawer at this moment.</summary>
    public IReadOnlyList<Draft> Others { get; private set; } = [];

    /// <summary>Whether the person has seen what should be there: then the count says that it is not blind.</summary>
    public bool HasSeen { get; private set; }

    public int Attempt => Counts.Count == 0 ? 1 : Counts[^1].Attempt + 1;

    public IEnumerable<TenderKind> StubTenders => Setup.Tenders.Where(t => t.Proof == ProofKind.Count && t.Id != TenderId.Cash && t.Id != TenderId.Check);

    public int CheckRows => Math.Max(Typed.Checks.Count + 1, SpareChecks);

    /// <summary>Once counted and off beyond tolerance, one recount is asked for.</summary>
    public bool AsksRecount => Kind == CountKind.Closing && Recount.IsAsked(Counts.Count, View.Bridges[CashKey].Cell) && !View.IsClosed;

    public bool NeedsReason => Kind == CountKind.Closing && Recount.IsCorrection(Counts.Count, View.Bridges[CashKey].Cell);

    /// <summary>Whether the sheet is shown, rather than declared against expected.</summary>
    public bool IsCounting => !View.IsClosed && (Kind == CountKind.Spot || Counts.Count == 0 || AsksRecount || IsCorrecting);

    public IEnumerable<Bridge> Declared => View.Bridges.Values.Where(b => b.Cell.Key.Drawer?.Value == Drawer).OrderBy(b => Setup.Tenders.IndexOf(Setup.Find(b.Cell.Key.Tender)!));

    private CellKey CashKey => new(Session.Register, new(Drawer), TenderId.Cash);

    /// <summary>What was left in the drawer for the next session; null while nobody said so.</summary>
    public Count? Kept => Floats.Kept(View, new(Drawer));

    /// <param name="of">Whose typing the sheet begins with; null: one's own.</param>
    public async Task<IActionResult> OnGet(bool correct = false, string? of = null)
    {
        IsCorrecting = correct && Kind == CountKind.Closing && MySelf.May(Right.Supervise) && Counts.Count > 0;
        var drafts = await Look();
        Typed = drafts.FirstOrDefault(d => d.By.Value == (of ?? MySelf.Id.Value))?.Typed ?? TypedCount.Empty;
        return Page();
    }

    /// <summary>Saved as one types.</summary>
    public async Task<IActionResult> OnPostDraft(int attempt, CountKind kind = CountKind.Closing)
    {
        var outcome = await counting.SaveDraft(Date, new(Drawer), kind, attempt, ReadForm(), MySelf);
        if (outcome.IsDone)
        {
            await Look();
            return Content($"Saved {Text.Say.Time(clock.GetUtcNow(), Setup)}.{(Others is [var other, ..] ? $" {Setup.NameOf(other.By)} is typing in this count as well." : "")}");
        }

        Response.StatusCode = StatusCodes.Status409Conflict;
        return Content(outcome.Objection!);
    }

    public async Task<IActionResult> OnPost(Guid form, int attempt, string? reason, bool correcting, CountKind kind = CountKind.Closing)
    {
        Typed = ReadForm();
        var at = TimeZoneInfo.ConvertTime(clock.GetUtcNow(), Setup.TimeZone);
        Objections = await counting.HandIn(Date, new(Drawer), new(form, kind, attempt, Typed, reason, at), MySelf);
        if (Objections.Count == 0)
        {
            Notice = kind == CountKind.Spot ? $"Noted at {Text.Say.Time(at, Setup)}. What should be there is shown after the closing count." : null;
            return Redirect($"/{Setup.TradingDay}/count/{Drawer}");
        }

        await Reload();
        await Look();
        (Form, Reason, IsCorrecting) = (form, Fondo.Files.Text.CardNumbers.Contains(reason) ? "" : reason, correcting && MySelf.May(Right.Supervise));
        return Page();
    }

    private async Task<IReadOnlyList<Draft>> Look()
    {
        var drafts = await counting.Drafts(Date, new(Drawer));
        Others = [.. drafts.Where(d => d.By != MySelf.Id && clock.GetUtcNow() - d.SavedAt < _atThisMoment)];
        HasSeen = await sightings.Has(Date, new(Drawer), MySelf.Id);
        return drafts;
    }

    public string? ObjectionAt(string field) => Objections.FirstOrDefault(o => o.Field == field)?.Sentence;

    private TypedCount ReadForm()
    {
        var form = Request.Form;
        var numbers = form["check-number"];
        var amounts = form["check-amount"];
        return new(
            PiecesSheet.Read(form, Setup),
            [.. Enumerable.Range(0, Math.Min(Math.Min(numbers.Count, amounts.Count), 500)).Select(i => new TypedCheck(PiecesSheet.Short(numbers[i]), PiecesSheet.Short(amounts[i]))).Where(c => c.Number.Length + c.Amount.Length > 0)],
            StubTenders.ToDictionary(t => t.Id.Value, t => PiecesSheet.Short(form[$"s{t.Id}"])).Where(s => s.Value.Length > 0).ToDictionary());
    }
}
