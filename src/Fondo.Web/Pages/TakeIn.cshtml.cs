using Fondo.Store.Intake;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Takes in the files of a day that is not known yet.</summary>
[Authorize(Policies.Supervise)]
public sealed class TakeInModel(DayIntake intake) : PageModel
{
    public IntakeResult? Result { get; private set; }

    public async Task OnPost() => Result = await intake.Take(Request.Form.Files, null, Me.From(User).Id.Value);
}
