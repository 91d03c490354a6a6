using Fondo.Core.SetUp;
using Fondo.Store.People;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Names the first supervisor. Answers only while nobody can sign in, and only to the console's code.</summary>
[AllowAnonymous]
public sealed class SetUpModel(PeopleRegister people, IServiceProvider services) : PageModel
{
    private const int MostTries = 20;

    private static int _tries;

    [BindProperty]
    public string? Code { get; set; }

    [BindProperty]
    public string Name { get; set; } = "";

    [BindProperty]
    public string PersonId { get; set; } = "p01";

    [BindProperty]
    public string? Pin { get; set; }

    public string? Objection { get; private set; }

    public async Task<IActionResult> OnGet() => await people.IsEmpty() ? Page() : Redirect("/sign-in");

    public async Task<IActionResult> OnPost()
    {
        if (!await people.IsEmpty())
        {
            return Redirect("/sign-in");
        }

        if (Interlocked.Increment(ref _tries) > MostTries)
        {
            Objection = "Too many tries. Start Fondo again for a new code.";
            return Page();
        }

        if (!services.GetRequiredService<SetUpCode>().Fits(Code))
        {
            Objection = "This is not the code that the console shows.";
            return Page();
        }

        var outcome = await people.Save(new(new(PersonId), Name, Role.Supervisor), Pin ?? "", by: null);
        if (outcome.IsDone)
        {
            return Redirect("/sign-in");
        }

        Objection = outcome.Objection;
        return Page();
    }
}
