using Fondo.Core.Days;
using Fondo.Core.Proof;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;

namespace Fondo.Web.Pages.Day;

/// <summary>The drawers of the day that this person may count.</summary>
[Authorize(Policies.Count)]
public sealed class CountListModel(DayStore days) : DayPage(days)
{
    protected override string Place => "count";

    public IReadOnlyList<(DrawerSession Session, IReadOnlyList<Count> Counts)> Sessions =>
        [.. View.Overview.Sessions.Where(s => DrawerPage.MayCount(MySelf, s)).Select(s => (s, View.CountsOf(s.Drawer))).OrderBy(s => s.Item2.Count == 0 ? 0 : 1)];

    public int Waiting => Sessions.Count(s => s.Counts.Count == 0);
}
