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
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Leads everybody to where their work is: the latest day that is open.</summary>
public sealed class IndexModel(DayStore days) : PageModel
{
    public async Task<IActionResult> OnGet()
    {
        var all = await days.List();
        var role = Me.From(User).Role;
        return all.OrderBy(d => d.CloseNumber is null ? 0 : 1).ThenByDescending(d => d.Date).FirstOrDefault() is not { } day
            ? Redirect("/days")
            : Redirect($"/{new TradingDay(day.Date)}/{(role == Role.Cashier ? "count" : "board")}");
    }
}
