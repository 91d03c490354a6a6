using Fondo.Core.SetUp;
using Fondo.Store.People;
using Fondo.Store.Trails;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Fondo.Web.Pages;

[AllowAnonymous]
[EnableRateLimiting(Doors.Knocking)]
public sealed class SignInModel(PeopleRegister register, PinSignIn pins, Here here) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public string? ReturnUrl { get; set; }

    [BindProperty]
    public string? Who { get; set; }

    [BindProperty]
    public string? Pin { get; set; }

    public string? Objection { get; private set; }

    public bool IsPaired => here.IsPaired;

    public IReadOnlyList<Person> People { get; private set; } = [];

    public async Task<IActionResult> OnGet()
    {
        People = await register.All();
        return People.Count == 0 ? Redirect("/set-up") : Page();
    }

    public async Task<IActionResult> OnPost()
    {
        var (person, objection) = await pins.Prove(Who, Pin, PinDoor.SignIn);
        if (person is not null)
        {
            await Me.SignIn(HttpContext, person);
            return LocalRedirect(Url.IsLocalUrl(ReturnUrl) ? ReturnUrl! : "/");
        }

        Objection = objection;
        People = await register.All();
        return Page();
    }
}
