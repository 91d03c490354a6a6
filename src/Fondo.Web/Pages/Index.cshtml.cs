using Fondo.Core.SetUp;
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
            : Redirect($"/{new TradingDay(day.Date)}/{(Rights.Of(Right.Read).Contains(role) ? "board" : "count")}");
    }
}
