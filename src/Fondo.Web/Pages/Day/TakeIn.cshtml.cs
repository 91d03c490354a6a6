using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Web.Hosting;
using Fondo.Web.Intake;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>What was taken in for a day, what of it waits for a person, and the way to take in more.</summary>
[Authorize(Policies.Supervise)]
public sealed class TakeInModel(DayStore days, Waiting waiting, Numbering numbering, InboxReport inbox) : DayPage(days)
{
    protected override string Place => "take-in";

    public IntakeResult? Result { get; private set; }

    public string? Objection { get; private set; }

    public IReadOnlyList<AsideRow> Waiting { get; private set; } = [];

    public IReadOnlyList<MissingNumbers> Missing { get; private set; } = [];

    /// <summary>What the watched folder refused lately.</summary>
    public IEnumerable<InboxOutcome> Refused => inbox.Latest.Where(o => o.Reasons.Count > 0);

    public int Tickets => View.Overview.Tickets;

    public int Registers => View.Reconciliation.Cells.Select(c => c.Key.Register).Distinct().Count();

    /// <param name="upload">Whose result is shown.</param>
    public async Task OnGet(Guid? upload)
    {
        Result = HttpContext.RequestServices.GetRequiredService<Uploads>().Result(upload);
        await Look();
    }

    [Does(ActKind.DecideLine)]
    public async Task<IActionResult> OnPostDecide(long id, string? reason, string? how) => await Answer(
        $"aside {id}", reason,
        how switch
        {
            "instead" => await waiting.TakeInstead(id, reason, MySelf),
            "again" => await waiting.TryAgain(id, MySelf),
            _ => await waiting.LeaveOut(id, reason, MySelf),
        },
        how switch
        {
            "instead" => "The new version counts now. Fondo keeps both.",
            "again" => "Taken.",
            _ => "The line is left out. Fondo keeps it with your reason."
        });

    [Does(ActKind.ExplainGap)]
    public async Task<IActionResult> OnPostExplain(string register, long first, long last, string? reason) =>
        await Answer($"gap {register} {first}", reason, await numbering.Explain(Date, register, first, last, reason, MySelf.Id.Value),
            "Noted: these numbers will not come.");

    /// <summary>Somebody agrees to files that wait, or they are given up.</summary>
    [Does(ActKind.AgreeToFiles)]
    public async Task<IActionResult> OnPostHeld(Guid id, string? how, string? who, string? pin)
    {
        (Notice, var objection, Result) = await HeldList.Answer(HttpContext.RequestServices, id, how, who, pin, MySelf);
        if (Notice is not null)
        {
            return RedirectToPage();
        }

        await Reload();
        await Look();
        Held = Held with { Failed = objection is null ? null : (id, objection) };
        return Page();
    }

    public HeldList Held { get; private set; } = null!;

    private async Task<IActionResult> Answer(string key, string? reason, Outcome outcome, string done)
    {
        if (outcome.IsDone)
        {
            Notice = done;
            return RedirectToPage();
        }

        (Objection, Failed) = (outcome.Objection, TypedReason.Of(key, reason, outcome.Objection!));
        await Look();
        return Page();
    }

    private async Task Look()
    {
        (Waiting, Missing) = (await waiting.All(), await numbering.Missing(Date));
        Held = await HeldList.Of(HttpContext.RequestServices, Setup, MySelf);
    }
}
