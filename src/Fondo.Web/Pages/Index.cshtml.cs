using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Leads you to where your work is: the earliest open day with trade, else today, where it was begun. A new store is set up
/// first.</summary>
public sealed class IndexModel(DayStore days, SetupBook book) : PageModel
{
    public async Task<IActionResult> OnGet()
    {
        var role = Me.From(User).Role;
        if (await book.Now() is null && Rights.Of(Right.Supervise).Contains(role))
        {
            return Redirect("/store");
        }

        var today = await book.Today();
        var open = (await days.List()).Where(d => d.CloseNumber is null).ToList();
        return (open.Where(d => d.HasTrade).MinBy(d => d.Date) ?? open.FirstOrDefault(d => d.Date == today)) is not { } day
            ? Redirect("/days")
            : Redirect($"/{new TradingDay(day.Date)}/{(Rights.Of(Right.Read).Contains(role) ? "board" : "count")}");
    }
}
