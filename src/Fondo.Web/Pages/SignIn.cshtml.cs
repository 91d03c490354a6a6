using Fondo.Core.SetUp;
using Fondo.Store.People;
using Fondo.Store.SetUp;
using Fondo.Store.Trails;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Fondo.Web.Pages;

[AllowAnonymous]
[EnableRateLimiting(Doors.Knocking)]
public sealed class SignInModel(PeopleRegister register, PinSignIn pins, SetupBook book, TrailReading trail, RequestOrigin here) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public string? ReturnUrl { get; set; }

    [BindProperty]
    public string? Who { get; set; }

    [BindProperty]
    public string? Pin { get; set; }

    public string? Objection { get; private set; }

    /// <summary>Names what the next page says about the sign-in before this one.</summary>
    public const string LastSignIn = "LastSignIn";

    public bool IsPaired => here.IsPaired;

    public IReadOnlyList<Person> People { get; private set; } = [];

    public async Task<IActionResult> OnGet()
    {
        People = await register.All();
        return People.Count == 0 ? Redirect("/set-up") : Page();
    }

    [Does(ActKind.SignIn)]
    public async Task<IActionResult> OnPost()
    {
        var (person, objection) = await pins.Prove(Who, Pin, PinDoor.SignIn);
        if (person is not null)
        {
            var last = await trail.LastSignIn(person.PersonId);
            await Me.SignIn(HttpContext, person);
            if (last is var (at, machine, wrong))
            {
                var (when, there) = ((await book.Now())?.Setup is { } setup ? Say.Moment(at, setup) : $"{at:yyyy-MM-dd HH:mm} UTC",
                    machine.Length == 0 ? "an unknown machine" : machine);
                TempData[LastSignIn] = $"You last signed in on {when} at {there}."
                    + (wrong == 0 ? "" : $" Since then {Say.Count(wrong, "wrong PIN")} {(wrong == 1 ? "was" : "were")} given for you.");
            }

            return LocalRedirect(Url.IsLocalUrl(ReturnUrl) ? ReturnUrl! : "/");
        }

        Objection = objection;
        People = await register.All();
        return Page();
    }
}
