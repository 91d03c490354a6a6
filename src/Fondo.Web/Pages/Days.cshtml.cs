using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

public sealed class DaysModel(DayStore days) : PageModel
{
    public IReadOnlyList<DayListing> All { get; private set; } = [];

    public int? BrokenClose { get; private set; }

    public bool IsCashier => Me.From(User).Role == Role.Cashier;

    public bool CanTakeIn => Me.From(User).Role is Role.Supervisor or Role.Manager;

    public async Task OnGet()
    {
        All = await days.List();
        BrokenClose = CloseChain.FirstBroken(await days.Closes());
    }
}
