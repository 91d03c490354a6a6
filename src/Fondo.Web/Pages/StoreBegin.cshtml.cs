using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.People;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Fondo.Web.SetUp;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>The first questions, one a screen. Each answer is saved at once, and every question can wait.</summary>
[Authorize(Policies.Supervise)]
public sealed class StoreBeginModel(SetupBook book, PeopleRegister people, NewPeople hiring) : SensitivePage
{
    public FirstQuestion Question { get; private set; } = FirstQuestion.All[0];

    public SetupForm Form { get; private set; } = null!;

    /// <summary>What is wrong with the answer.</summary>
    public SetupObjections Wrong { get; private set; } = SetupObjections.None;

    /// <summary>The float whose pieces are shown.</summary>
    public Core.Amounts.Money Float { get; private set; }

    /// <summary>Lines of people that were typed and not taken.</summary>
    public string Names { get; private set; } = "";

    /// <summary>People who can sign in from now on, each with the PIN to begin with; shown once.</summary>
    public IReadOnlyList<FirstPin> Pins { get; private set; } = [];

    public IReadOnlyList<Person> CanSignIn { get; private set; } = [];

    /// <summary>Managers who could be the second person here.</summary>
    public IEnumerable<Person> Seconds => CanSignIn.Where(p => p.May(Right.Manage) && p.Id != Me.From(User).Id);

    public async Task<IActionResult> OnGet(string? step) => await Load(step) ?? Page();

    [Does(ActKind.SaveSetUp)]
    public async Task<IActionResult> OnPost(string? step)
    {
        if (await Load(step) is { } elsewhere)
        {
            return elsewhere;
        }

        Question.Read(Form, Request.Form);
        Float = Form.UsualFloat;
        if (Form.Objections.Count > 0)
        {
            return Refused(Form.Objections);
        }

        // Another amount than the one whose pieces were shown: the pieces are proposed anew before anything is saved.
        return Question.Name == "float" && Request.Form["shown"] != Form.Says(Float) ? Page()
            : Question.Name == "people" ? await Hire()
            : await Save() ?? Redirect(Question.Next);
    }

    protected override async Task<IActionResult> Again()
    {
        if (await Load((string?)RouteData.Values["step"]) is { } elsewhere)
        {
            return elsewhere;
        }

        Question.Read(Form, Request.Form);
        (Names, Float) = (Request.Form["names"].ToString(), Form.UsualFloat);
        return Page();
    }

    private async Task<IActionResult> Hire()
    {
        var hired = await hiring.Take(Request.Form["names"].ToString(), Form.PersonIds, Me.From(User), Second);
        (Pins, Names, CanSignIn) = (hired.Pins, hired.Rest, await people.All());
        Form.Add(hired.Pins.Select(p => p.Person));
        return await Save() is { } refused ? refused
            : (SecondObjection ?? hired.Objection) is { } objection ? Refused([new("names", objection)])
            : Pins.Count > 0 ? Page()
            : Redirect(Question.Next);
    }

    /// <summary>Null once the answer is saved.</summary>
    private async Task<IActionResult?> Save()
    {
        var saved = await book.Save(await book.Today(), Form.Json, Me.From(User));
        return saved.IsDone ? null : Refused(saved.Objections);
    }

    private PageResult Refused(IReadOnlyList<Objection> objections)
    {
        Wrong = new(objections);
        return Page();
    }

    /// <returns>Where to go instead; null where the question can be asked.</returns>
    private async Task<IActionResult?> Load(string? step)
    {
        if (await book.HasBegun())
        {
            return Redirect("/store");
        }

        if (FirstQuestion.Find(step) is not { } question)
        {
            return Redirect($"/store/begin/{FirstQuestion.All[0].Name}");
        }

        (Question, CanSignIn) = (question, await people.All());
        Form = await book.Now() is { } held ? SetupForm.Of(held.Json) : SetupForm.ForNewStore(CanSignIn);
        Float = Form.UsualFloat;
        return null;
    }
}
