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
using Fondo.Store.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

public sealed class SignOutModel(SignInManager<StorePerson> signIn) : PageModel
{
    public IActionResult OnGet() => Redirect("/");

    public async Task<IActionResult> OnPost()
    {
        await signIn.SignOutAsync();
        return Redirect("/sign-in");
    }
}
