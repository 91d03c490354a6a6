using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
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
