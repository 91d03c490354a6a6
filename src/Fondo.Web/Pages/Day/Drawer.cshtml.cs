using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Fondo.Web.Pictures;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>A drawer's day: what should have been in it, moment by moment.</summary>
[Authorize(Policies.Read)]
public sealed class DrawerModel(DayStore days, Sightings sightings) : DayPage(days)
{
    protected override string Place => "watch";

    public DrawerDay Drawer { get; private set; } = null!;

    internal (string Mark, string Says)[] Legend { get; } =
        [("out", "drop, paid out"), ("in", "loan, paid in"), ("refund", "refund"), ("void", "void"), ("no-sale", "no-sale")];

    public IEnumerable<DrawerStep> Marked =>
        Drawer.Steps.Where(s => DrawerDayPicture.Mark(s.Event) is not null || s.Event is SessionOpen or SessionClose);

    public string Counted => Drawer.Counts is [.., var last]
        ? $"Counted {Amount(last.Count.Cash)}"
            + $"{(last.Variance.IsZero ? ", as expected." : $", {Say.Variance(last.Variance, Setup.Currency)}.")}"
        : "Not counted yet.";

    public async Task<IActionResult> OnGet(string drawer)
    {
        DrawerDay? Named() => View.Overview.Drawers.FirstOrDefault(d => d.Session.Drawer.Value == drawer);
        if (Named() is not { } found)
        {
            // It may have been opened this moment.
            await Reload();
            if ((found = Named()) is null)
            {
                return NotFound();
            }
        }

        Drawer = found;
        await sightings.Note(View, [found.Session.Drawer], MySelf, "the drawer’s day");
        return Page();
    }
}
