using Fondo.Store.Intake;
using Fondo.Web.Hosting;
using Fondo.Web.Intake;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Takes in the files of a day that is not known yet.</summary>
[Authorize(Policies.Supervise)]
public sealed class TakeInModel(Uploads uploads) : PageModel
{
    public IntakeResult? Result { get; private set; }

    public async Task OnPost(Guid upload) => Result = await uploads.Take(upload, Request.Form.Files, null, Me.From(User).Id.Value);
}
