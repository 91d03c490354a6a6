using Fondo.Core.Days;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The drawers of the day that this person may count.</summary>
[Authorize(Policies.Count)]
public sealed class CountListModel(DayStore days) : DayPage(days)
{
    protected override string Place => "count";

    public IReadOnlyList<(DrawerSession Session, IReadOnlyList<Count> Counts)> Sessions =>
        [.. View.Overview.Sessions.Where(s => DrawerPage.MayCount(MySelf, s)).Select(s => (s, View.CountsOf(s.Drawer)))
            .OrderBy(s => s.Item2.Count == 0 ? 0 : 1)];

    /// <summary>The bags of the day, those first that wait to be opened; for supervisors alone.</summary>
    public IReadOnlyList<Bag> Bags => MySelf.May(Right.Supervise) ? Bag.In(View.Day) : [];

    public IReadOnlyList<Count> Safe => View.CountsOf(CountTarget.Safe, CountKind.Safe);

    /// <summary>A bag that the journal does not know is counted by its name.</summary>
    [Does(ActKind.Draft)]
    public IActionResult OnPostBag(string? bag)
    {
        if (bag?.Trim() is not { Length: > 0 and <= 64 } name || Files.Text.CardNumbers.Contains(name))
        {
            Notice = "Type the bag’s number.";
            return Redirect($"/{Setup.TradingDay}/count");
        }

        return Redirect(CountModel.HrefOf(Setup.TradingDay, CountTarget.OfBag(name)));
    }

    public int Waiting => Sessions.Count(s => s.Counts.Count == 0);
}
