using Fondo.Core.SetUp;
using Fondo.Store.People;
using Fondo.Store.Trails;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Fondo.Web.Pages;

/// <summary>Names the first people who approve: two, because from then on nobody makes their own second person.
/// Answers only while they are missing, and only to the console's code.</summary>
[AllowAnonymous]
[EnableRateLimiting(Doors.Knocking)]
public sealed class SetUpModel(PeopleRegister people, RequestOrigin here, IServiceProvider services) : PageModel
{
    [BindProperty]
    public string? Code { get; set; }

    [BindProperty]
    public List<First> People { get; set; } = [];

    public string? Objection { get; private set; }

    /// <summary>One of the first people, as typed.</summary>
    public sealed class First
    {
        public string Name { get; set; } = "";

        public string Id { get; set; } = "";

        public string? Pin { get; set; }
    }

    public async Task<IActionResult> OnGet()
    {
        var missing = await people.StillMissing();
        People = [.. Enumerable.Range(PeopleRegister.FirstPeople - missing + 1, missing).Select(n => new First { Id = $"p{n:00}" })];
        return missing > 0 ? Page() : Redirect("/sign-in");
    }

    [Does(ActKind.NameFirstPeople)]
    public async Task<IActionResult> OnPost()
    {
        var missing = await people.StillMissing();
        if (missing == 0)
        {
            return Redirect("/sign-in");
        }

        if (services.GetRequiredService<SetUpCode>().Objection(Code, here.Address) is { } objection)
        {
            Objection = objection;
            return Page();
        }

        if (People.Count != missing)
        {
            Objection = missing == 2 ? "Name two people." : "Add one more person.";
            return Page();
        }

        var outcome = await people.Begin([.. People.Select(p => (new Person(new(p.Id ?? ""), p.Name ?? "", Role.Manager), p.Pin ?? ""))]);
        if (outcome.IsDone)
        {
            return Redirect("/sign-in");
        }

        Objection = outcome.Objection;
        return Page();
    }
}
