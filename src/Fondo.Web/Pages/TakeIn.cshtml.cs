using Fondo.Core.SetUp;
using Fondo.Store.Intake;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Fondo.Web.Intake;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Takes in the files of a day that is not known yet.</summary>
[Authorize(Policies.Supervise)]
public sealed class TakeInModel(IServiceProvider services, SetupBook book) : PageModel
{
    [TempData]
    public string? Notice { get; set; }

    public HeldList Held { get; private set; } = null!;

    public IntakeResult? Result { get; private set; }

    /// <param name="upload">Whose result is shown.</param>
    public async Task OnGet(Guid? upload)
    {
        Result = services.GetRequiredService<Uploads>().Result(upload);
        Held = await HeldList.Of(services, (await book.Now())?.Setup, Me.From(User));
    }

    /// <summary>Somebody agrees to files that wait, or they are given up.</summary>
    [Does(ActKind.AgreeToFiles)]
    public async Task<IActionResult> OnPostHeld(Guid id, string? how, string? who, string? pin)
    {
        (Notice, var objection, Result) = await HeldList.Answer(services, id, how, who, pin, Me.From(User));
        if (Notice is not null)
        {
            return RedirectToPage();
        }

        Held = await HeldList.Of(services, (await book.Now())?.Setup, Me.From(User), objection is null ? null : (id, objection));
        return Page();
    }
}
