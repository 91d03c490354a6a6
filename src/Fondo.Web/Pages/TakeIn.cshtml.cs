using Fondo.Store.Intake;
using Fondo.Web.Hosting;
using Fondo.Web.Intake;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Takes in the files of a day that is not known yet.</summary>
[Authorize(Policies.Supervise)]
public sealed class TakeInModel(IServiceProvider services) : PageModel
{
    public IntakeResult? Result { get; private set; }

    /// <param name="upload">Whose result is shown.</param>
    public void OnGet(Guid? upload) => Result = services.GetRequiredService<Uploads>().Result(upload);
}
