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
public sealed class CountModel(DayStore days, Counting counting, TimeProvider clock) : DrawerPage(days)
{
    private const int SpareChecks = 3;

    public TypedCount Typed { get; private set; } = TypedCount.Empty;

    public IReadOnlyList<CountObjection> Objections { get; private set; } = [];

    /// <summary>Made with the page: the same form posted twice is one count.</summary>
    public Guid Form { get; private set; } = Guid.NewGuid();

    public string? Reason { get; private set; }

    public bool IsCorrecting { get; private set; }

    public IReadOnlyList<Count> Counts => View.CountsOf(new(Drawer));

    public int Attempt => Counts.Count == 0 ? 1 : Counts[^1].Attempt + 1;

    public IEnumerable<TenderKind> StubTenders => Setup.Tenders.Where(t => t.Proof == ProofKind.Count && t.Id != TenderId.Cash && t.Id != TenderId.Check);

    public int CheckRows => Math.Max(Typed.Checks.Count + 1, SpareChecks);

    /// <summary>Once counted and off beyond tolerance, one recount is asked for.</summary>
    public bool AsksRecount => Recount.IsAsked(Counts.Count, View.Bridges[CashKey].Cell) && !View.IsClosed;

    public bool NeedsReason => Recount.IsCorrection(Counts.Count, View.Bridges[CashKey].Cell);

    /// <summary>Whether the sheet is shown, rather than declared against expected.</summary>
    public bool IsCounting => !View.IsClosed && (Counts.Count == 0 || AsksRecount || IsCorrecting);

    public IEnumerable<Bridge> Declared => View.Bridges.Values.Where(b => b.Cell.Key.Drawer?.Value == Drawer).OrderBy(b => Setup.Tenders.IndexOf(Setup.Find(b.Cell.Key.Tender)!));

    private CellKey CashKey => new(Session.Register, new(Drawer), TenderId.Cash);

    /// <summary>What was left in the drawer for the next session; null while nobody said so.</summary>
    public Count? Kept => Floats.Kept(View, new(Drawer));

    public async Task<IActionResult> OnGet(bool correct = false)
    {
        IsCorrecting = correct && MySelf.May(Right.Supervise) && Counts.Count > 0;
        Typed = await counting.Draft(Date, new(Drawer)) ?? TypedCount.Empty;
        return Page();
    }

    /// <summary>Saved as one types.</summary>
    public async Task<IActionResult> OnPostDraft(int attempt)
    {
        var outcome = await counting.SaveDraft(Date, new(Drawer), attempt, ReadForm());
        return Content(outcome.Objection ?? $"Saved {Text.Say.Time(clock.GetUtcNow(), Setup)}.");
    }

    public async Task<IActionResult> OnPost(Guid form, int attempt, string? reason, bool correcting)
    {
        Typed = ReadForm();
        var at = TimeZoneInfo.ConvertTime(clock.GetUtcNow(), Setup.TimeZone);
        Objections = await counting.HandIn(Date, new(Drawer), form, attempt, Typed, reason, MySelf, at);
        if (Objections.Count == 0)
        {
            return Redirect($"/{Setup.TradingDay}/count/{Drawer}");
        }

        await Reload();
        (Form, Reason, IsCorrecting) = (form, reason, correcting && MySelf.May(Right.Supervise));
        return Page();
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
