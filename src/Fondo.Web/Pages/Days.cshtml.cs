using Fondo.Core.Closing;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

public sealed class DaysModel(DayStore days, Opening opening, SetupBook book) : PageModel
{
    public IReadOnlyList<DayListing> All { get; private set; } = [];

    public int? BrokenClose { get; private set; }

    public bool IsCashier => !Me.From(User).May(Right.Read);

    public bool CanTakeIn => Me.From(User).May(Right.Supervise);

    /// <summary>The trading day that it is now; null for people who do not begin days, or when nothing is set up.</summary>
    public DateOnly? Today { get; private set; }

    [Does(ActKind.BeginDay)]
    public async Task<IActionResult> OnPostBegin() =>
        !Me.From(User).May(Right.Count) || await opening.Begin(Me.From(User)) is not { } day
            ? Redirect("/days")
            : Redirect($"/{new TradingDay(day)}/open");

    public async Task OnGet()
    {
        Today = Me.From(User).May(Right.Count) && await book.Now() is { } held ? held.Setup.TradingDay.Date : null;
        All = await days.List();
        BrokenClose = CloseChain.FirstBroken(await days.Closes());
    }
}
