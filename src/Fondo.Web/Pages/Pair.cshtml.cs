using Fondo.Core.SetUp;
using Fondo.Store.People;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Fondo.Web.Pages;

/// <summary>Makes this machine known to the store, with the code that the desk shows.</summary>
[AllowAnonymous]
[EnableRateLimiting(Doors.Knocking)]
public sealed class PairModel(Machines machines, RunOptions options) : PageModel
{
    private static readonly TimeSpan _lasts = TimeSpan.FromDays(400);

    [BindProperty]
    public string? Code { get; set; }

    [BindProperty]
    public string? Name { get; set; }

    public string? Objection { get; private set; }

    public void OnGet()
    {
    }

    [Does(ActKind.SignIn)]
    public async Task<IActionResult> OnPost()
    {
        var (secret, objection) = await machines.Pair(Code, Name);
        if (secret is null)
        {
            Objection = objection;
            return Page();
        }

        Response.Cookies.Append(Whereabouts.MachineCookie, secret,
            new() { HttpOnly = true, SameSite = SameSiteMode.Strict, Secure = options.IsSecure, MaxAge = _lasts, IsEssential = true });
        return Redirect("/sign-in");
    }
}
