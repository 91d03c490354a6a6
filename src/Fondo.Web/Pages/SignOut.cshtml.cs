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
