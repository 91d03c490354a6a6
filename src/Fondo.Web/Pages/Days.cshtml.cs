using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
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

    public bool IsCashier => Me.From(User).Role == Role.Cashier;

    public bool CanTakeIn => Me.From(User).Role is Role.Supervisor or Role.Manager;

    /// <summary>The trading day that it is now; null for people who do not begin days, or when nothing is set up.</summary>
    public DateOnly? Today { get; private set; }

    public async Task<IActionResult> OnPostBegin() =>
        Me.From(User).Role == Role.Auditor || await opening.Begin(Me.From(User)) is not { } day ? Redirect("/days") : Redirect($"/{new TradingDay(day)}/open");

    public async Task OnGet()
    {
        Today = Me.From(User).Role != Role.Auditor && await book.Now() is { } held ? held.Setup.TradingDay.Date : null;
        All = await days.List();
        BrokenClose = CloseChain.FirstBroken(await days.Closes());
    }
}
