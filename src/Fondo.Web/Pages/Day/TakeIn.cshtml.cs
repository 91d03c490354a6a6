using System.Globalization;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Store.Settling;
using Fondo.Web.Hosting;
using Fondo.Web.Intake;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>What was taken in for a day, what of it waits for a person, and the way to take in more.</summary>
[Authorize(Policies.Supervise)]
public sealed class TakeInModel(DayStore days, Waiting waiting, Numbering numbering, InboxReport inbox, ImportedFiles imported,
    PinSignIn pins) : DayPage(days)
{
    /// <summary>Lines that wait for the same reason: they are decided as one.</summary>
    public sealed record Alike(IReadOnlyList<AsideRow> Lines)
    {
        public AsideRow First => Lines[0];

        /// <summary>Names the group in its form.</summary>
        public string Key => $"aside {First.Id}";
    }

    /// <summary>The file that is being taken back, and what was typed for it.</summary>
    public sealed record TakingBack(ImportedFile File, string? Reason, string? Objection);

    protected override string Place => "take-in";

    public IntakeResult? Result { get; private set; }

    public string? Objection { get; private set; }

    public IReadOnlyList<Alike> Waiting { get; private set; } = [];

    public IReadOnlyList<ImportedFile> Imported { get; private set; } = [];

    public TakingBack? Back { get; private set; }

    /// <summary>Who may be the second person of taking a file back.</summary>
    public IEnumerable<Person> Seconds => Held.Others.Where(p => p.May(Right.Supervise));

    public IReadOnlyList<MissingNumbers> Missing { get; private set; } = [];

    /// <summary>What the watched folder refused lately.</summary>
    public IEnumerable<InboxOutcome> Refused => inbox.Latest.Where(o => o.Reasons.Count > 0);

    public string WhoBrought(ImportedFile file) => file.By switch
    {
        Source.Inbox => "watched folder",
        BatchIntake.By => "processor",
        var by => Setup.NameOf(new PersonId(by)),
    };

    public static string DaysOf(ImportedFile file) => file.Days.Count == 1
        ? file.Days[0].ToString("d MMM", CultureInfo.InvariantCulture)
        : string.Create(CultureInfo.InvariantCulture, $"{file.Days[0]:d MMM} to {file.Days[^1]:d MMM}");

    public int Tickets => View.Overview.Tickets;

    public int Registers => View.Reconciliation.Cells.Select(c => c.Key.Register).Distinct().Count();

    /// <param name="upload">Whose result is shown.</param>
    /// <param name="back">The first record of a file that is to be taken back.</param>
    public async Task OnGet(Guid? upload, long? back)
    {
        Result = HttpContext.RequestServices.GetRequiredService<Uploads>().Result(upload);
        await Look();
        Back = Imported.FirstOrDefault(f => f.First == back && f.CanBeTakenBack) is { } file ? new(file, null, null) : null;
    }

    /// <param name="id">The lines that are decided as one.</param>
    [Does(ActKind.DecideLine)]
    public async Task<IActionResult> OnPostDecide(long[] id, string? reason, string? how)
    {
        var (decided, refused) = (0, (Outcome?)null);
        foreach (var line in id)
        {
            var outcome = how switch
            {
                "instead" => await waiting.TakeInstead(line, reason, MySelf),
                "again" => await waiting.TryAgain(line, MySelf),
                _ => await waiting.LeaveOut(line, reason, MySelf),
            };
            (decided, refused) = outcome.IsDone ? (decided + 1, refused) : (decided, refused ?? outcome);
        }

        if (refused is not null && decided > 0)
        {
            Notice = $"{Say.Capital(Say.Count(decided, "line"))} decided. {Say.Capital(Say.Count(id.Length - decided, "line"))} still "
                + $"{(id.Length - decided == 1 ? "waits" : "wait")}: {refused.Objection}";
            return RedirectToPage();
        }

        return await Answer($"aside {id.FirstOrDefault()}", reason,
            refused ?? (id.Length == 0 ? Outcome.Refused("This was already decided.") : Outcome.Done),
            (how, id.Length) switch
            {
                ("instead", 1) => "The new version counts now. Fondo keeps both.",
                ("instead", var n) => $"The {n} new versions count now. Fondo keeps the old ones too.",
                ("again", 1) => "Taken.",
                ("again", var n) => $"All {n} taken.",
                (_, 1) => "The line is left out. Fondo keeps it with your reason.",
                (_, var n) => $"The {n} lines are left out. Fondo keeps them with your reason.",
            });
    }

    [Does(ActKind.TakeBackFile)]
    public async Task<IActionResult> OnPostBack(long file, string? reason, string? second)
    {
        var (person, objection) = await pins.ProveChosen(second, Request.Form["second-pin"], MySelf.Id);
        var outcome = objection is not null
            ? Outcome.Refused(objection)
            : await imported.TakeBack(file, reason, MySelf, person?.ToPerson());
        if (outcome.IsDone)
        {
            Notice = "The file is taken back. What it brought counts no more. You can import the right one now.";
            return RedirectToPage();
        }

        await Reload();
        await Look();
        Back = Imported.FirstOrDefault(f => f.First == file) is { } found
            ? new(found, Fondo.Files.Text.CardNumbers.Contains(reason) ? null : reason, outcome.Objection)
            : null;
        Objection = Back is null ? outcome.Objection : null;
        return Page();
    }

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
        Waiting = [.. (await waiting.All()).GroupBy(a => (a.Kind, a.Why, a.IsConflict, a.From)).Select(g => new Alike([.. g]))];
        (Missing, Imported) = (await numbering.Missing(Date), await imported.In(Date));
        Held = await HeldList.Of(HttpContext.RequestServices, Setup, MySelf);
    }
}
