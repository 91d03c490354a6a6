using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The slip of a count that was handed in, to be printed and signed.</summary>
[Authorize(Policies.Count)]
public sealed class CountSlipModel(DayStore days) : DayPage(days)
{
    protected override string Place => "count";

    public CountTarget Target { get; private set; } = null!;

    /// <summary>The count that stands.</summary>
    public Count Count { get; private set; } = null!;

    public string Name { get; private set; } = "";

    public IActionResult OnGet(string what)
    {
        var text = Uri.UnescapeDataString(what);
        if (View.Day.Counts.Where(c => CountTarget.Of(c).ToString() == text
            && c.Kind is CountKind.Closing or CountKind.Drop or CountKind.Safe).MaxBy(c => (c.Attempt, c.At.UtcTicks)) is not { } count)
        {
            return NotFound();
        }

        (Count, Target) = (count, CountTarget.Of(count));
        var session = View.Overview.Sessions.FirstOrDefault(s => s.Drawer == Target.Drawer);
        if (!(session is not null ? DrawerPage.MayCount(MySelf, session) : MySelf.May(Right.Supervise)))
        {
            return Forbid();
        }

        Name = session is not null ? $"{Setup.NameOf(session.Register)}, drawer {session.Drawer}"
            : Target.Bag is { } bag ? $"Bag {bag}"
            : "The safe";
        return Page();
    }
}
