using Fondo.Core.SetUp;
using Fondo.Store.Model;
using Fondo.Store.People;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

[AllowAnonymous]
public sealed class SignInModel(PeopleRegister register, PinSignIn pins, SignInManager<StorePerson> signIn) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public string? ReturnUrl { get; set; }

    [BindProperty]
    public string? Who { get; set; }

    [BindProperty]
    public string? Pin { get; set; }

    public string? Objection { get; private set; }

    public IReadOnlyList<Person> People { get; private set; } = [];

    public async Task<IActionResult> OnGet()
    {
        People = await register.All();
        return People.Count == 0 ? Redirect("/set-up") : Page();
    }

    public async Task<IActionResult> OnPost()
    {
        var (person, objection) = await pins.Prove(Who, Pin);
        if (person is not null)
        {
            await signIn.SignInAsync(person, isPersistent: false);
            return LocalRedirect(Url.IsLocalUrl(ReturnUrl) ? ReturnUrl! : "/");
        }

        Objection = objection;
        People = await register.All();
        return Page();
    }
}
