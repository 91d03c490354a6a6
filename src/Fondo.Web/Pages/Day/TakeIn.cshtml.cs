using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;

namespace Fondo.Web.Pages.Day;

/// <summary>What was taken in for a day, and the way to take in more.</summary>
[Authorize(Policies.Supervise)]
public sealed class TakeInModel(DayStore days, DayIntake intake) : DayPage(days)
{
    protected override string Place => "take-in";

    public IntakeResult? Result { get; private set; }

    public int Tickets => View.Reconciliation.Tickets;

    public int Registers => View.Reconciliation.Cells.Select(c => c.Key.Register).Distinct().Count();

    public async Task OnPost()
    {
        Result = await intake.Take(Request.Form.Files, Date, MySelf.Id.Value);
        await Reload();
    }
}
