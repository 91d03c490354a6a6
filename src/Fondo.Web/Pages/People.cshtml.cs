using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.People;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages;

/// <summary>Who can sign in. Whoever may approve is made and changed by two.</summary>
[Authorize(Policies.Supervise)]
public sealed class PeopleModel(PeopleRegister people) : SensitivePage
{
    [BindProperty]
    public string PersonId { get; set; } = "";

    [BindProperty]
    public string Name { get; set; } = "";

    [BindProperty]
    public Role Role { get; set; }

    [BindProperty]
    public string? Pin { get; set; }

    [TempData]
    public string? Notice { get; set; }

    public string? Objection { get; private set; }

    public IReadOnlyList<Listed> Everyone { get; private set; } = [];

    /// <summary>Who can be the second person here.</summary>
    public IEnumerable<Person> Seconds =>
        Everyone.Where(p => !p.IsOff && p.Person.May(Right.Manage) && p.Person.Id != Me.From(User).Id).Select(p => p.Person);

    public async Task OnGet() => Everyone = await people.Listing();

    [Does(ActKind.ChangePerson)]
    public async Task<IActionResult> OnPost() =>
        await Answer(await people.Save(new(new(PersonId), Name, Role), Pin, Me.From(User), Second),
            $"Saved. {Name} {(string.IsNullOrEmpty(Pin) ? "signs in again" : "can sign in, and chooses a PIN of their own first")}.");

    [Does(ActKind.ChangePerson)]
    public async Task<IActionResult> OnPostSwitch(string id, bool off) =>
        await Answer(await people.Switch(new(id), off, Me.From(User), Second),
            off ? "Switched off. This person is signed out and can no longer sign in." : "Switched on again.");

    [Does(ActKind.ConfirmPerson)]
    public async Task<IActionResult> OnPostConfirm(string id) =>
        await Answer(await people.Confirm(new(id), Me.From(User)), "Confirmed. This person can be the second person for everyone now.");

    public string NameOf(PersonId id) => Everyone.FirstOrDefault(p => p.Person.Id == id)?.Person.Name ?? id.Value;

    /// <summary>Whether I may confirm a person whom nobody but their maker knows.</summary>
    public bool MayConfirm(Listed listed) =>
        listed is { IsOff: false, GivenBy: { } by } && by != Me.From(User).Id && listed.Person.Id != Me.From(User).Id;

    protected override async Task<IActionResult> Again()
    {
        ModelState.Clear();
        var form = Request.Form;
        (PersonId, Name) = (form[nameof(PersonId)].ToString(), form[nameof(Name)].ToString());
        Role = Enum.TryParse<Role>(form[nameof(Role)], out var role) ? role : Role.Cashier;
        Everyone = await people.Listing();
        return Page();
    }

    private async Task<IActionResult> Answer(Outcome outcome, string done)
    {
        if (outcome.IsDone)
        {
            Notice = done;
            return Redirect("/people");
        }

        Objection = SecondObjection ?? outcome.Objection;
        Everyone = await people.Listing();
        return Page();
    }
}
