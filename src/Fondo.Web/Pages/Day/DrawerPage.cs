using Fondo.Core.Days;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Fondo.Web.Pages.Day;

/// <summary>A page at which one drawer is counted: cashiers reach their own drawers, supervisors and managers all.</summary>
public abstract class DrawerPage(DayStore days) : DayPage(days)
{
    protected override string Place => "count";

    [BindProperty(SupportsGet = true)]
    public string Drawer { get; set; } = "";

    public DrawerSession Session { get; private set; } = null!;

    public static bool MayCount(Person person, DrawerSession session) =>
        person.May(Right.Supervise) || (person.May(Right.Count) && session.Cashier == person.Id);

    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        await base.OnPageHandlerExecutionAsync(context, async () =>
        {
            DrawerSession? Named() => View.Overview.Sessions.FirstOrDefault(s => s.Drawer.Value == Drawer);
            if (Named() is null)
            {
                await Reload(); // it may have been opened this moment
            }

            if (Named() is not { } session)
            {
                context.Result = NotFound();
            }
            else if (!MayCount(MySelf, session))
            {
                context.Result = Forbid();
            }
            else
            {
                Session = session;
                return await next();
            }

            return null!;
        });
    }
}
