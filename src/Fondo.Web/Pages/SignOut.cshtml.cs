using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Fondo.Store;
using Fondo.Store.Trails;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

public sealed class SignOutModel(StoreContext db, RequestOrigin here) : PageModel
{
    public IActionResult OnGet() => Redirect("/");

    [Does(ActKind.OwnMatters)]
    public async Task<IActionResult> OnPost()
    {
        await HttpContext.SignOutAsync();
        try
        {
            await db.Note(new Act(TrailAct.SignOut, here.By, here.By, "signed out"));
        }
        catch (Exception e) when (DiskFull.Is(e))
        {
            // The session has ended all the same.
        }

        return Redirect("/sign-in");
    }
}
