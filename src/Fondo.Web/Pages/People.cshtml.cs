using Fondo.Core.SetUp;
using Fondo.Store.People;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

[Authorize(Policies.Supervise)]
public sealed class PeopleModel(PeopleRegister people) : PageModel
{
    [BindProperty]
    public string PersonId { get; set; } = "";

    [BindProperty]
    public string Name { get; set; } = "";

    [BindProperty]
    public Role Role { get; set; }

    [BindProperty]
    public string? Pin { get; set; }

    public string? Objection { get; private set; }

    public string? Done { get; private set; }

    public IReadOnlyList<Person> Everyone { get; private set; } = [];

    public async Task OnGet() => Everyone = await people.All();

    public async Task OnPost()
    {
        var outcome = await people.Save(new(new(PersonId), Name, Role), Pin ?? "", Me.From(User));
        (Objection, Done) = (outcome.Objection, outcome.IsDone ? $"{Name} can sign in." : null);
        Everyone = await people.All();
    }
}
