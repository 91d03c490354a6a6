using Fondo.Core.Amounts;
using Fondo.Core.SetUp;
using Fondo.Standins.Terminals;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Demo.Pages.StandIns;

/// <summary>What the stand-in terminals hold, and how their processor misbehaves.</summary>
[Authorize(Policies.Supervise)]
public sealed class HostModel(StandInHost standIns) : PageModel
{
    private static readonly Currency _dollar = Currency.Of("USD");

    public HostFault Fault => standIns.Processor.Fault;

    public IEnumerable<(string Terminal, BatchTotals Totals)> Terminals =>
        standIns.Processor.Terminals.Select(t => (t, standIns.Processor.Running(t).Totals));

    public string Amount(long minor) => Say.Amount(new Money(minor), _dollar);

    public static string Said(HostFault fault) => fault switch
    {
        HostFault.None => "answers as it should",
        HostFault.Slow => "answers slowly",
        HostFault.Refuses => "refuses to settle",
        HostFault.TimesOut => "settles, and its answer never arrives",
        HostFault.Silent => "does not answer at all",
        HostFault.LosesOrders => "loses every order to settle",
        HostFault.SendsTwice => "tells of every batch twice",
        HostFault.RowsMissing => "gives out a row too few",
        HostFault.LeavesBehind => "leaves the last rows for the next batch",
        _ => "loses voids and reversals",
    };

    [Does(ActKind.PlayStandIn)]
    public IActionResult OnPost(HostFault fault)
    {
        standIns.Processor.Fault = fault;
        return Redirect("/stand-ins/processor");
    }
}
