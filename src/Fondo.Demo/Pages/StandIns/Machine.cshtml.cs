using System.Text.Json.Nodes;
using Fondo.Core.Amounts;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Demo.Pages.StandIns;

/// <summary>A stand-in scale and a stand-in counting machine.</summary>
[Authorize(Policies.Count)]
public sealed class MachineModel(StandInHost standIns, DayStore days, RunOptions options) : PageModel
{
    public IReadOnlyList<(CountTarget Target, string Name)> Targets { get; private set; } = [];

    public IReadOnlyList<Denomination> Denominations { get; private set; } = [];

    public Currency Currency { get; private set; } = Currency.Of("USD");

    [TempData]
    public string? Says { get; set; }

    public Task OnGet() => Load();

    /// <param name="how">scale or counter.</param>
    /// <param name="way">http, or folder.</param>
    [Does(ActKind.PlayStandIn)]
    public async Task<IActionResult> OnPost(string what, string how, string way)
    {
        await Load();
        if (Targets.FirstOrDefault(t => t.Target.ToString() == what).Target is not { } target)
        {
            return Redirect("/stand-ins/machine");
        }

        var isScale = how == "scale";
        var rows = Denominations.Select(d => (Currency.Format(d.Worth), Request.Form[$"d{d.Worth.Minor}"].ToString().Trim()))
            .Where(r => r.Item2.Length > 0)
            .Select(r => (r.Item1, isScale ? null : r.Item2, isScale ? r.Item2 : (string?)null));
        var device = await standIns.Device(isScale ? "scale-1" : "counter-1");
        var (number, json) = device.Read(target.Drawer is not null ? "drawer" : target.Bag is not null ? "bag" : "safe",
            target.Drawer is { } d ? JsonValue.Create(d.Value) : target.Bag is { } b ? JsonValue.Create(b) : JsonValue.Create(true), rows);
        if (way == "folder")
        {
            device.Drop(options.Inbox, number, json);
        }
        else
        {
            await device.Send(json);
        }

        Says = device.Says;
        return Redirect("/stand-ins/machine");
    }

    private async Task Load()
    {
        if ((await days.List()).FirstOrDefault(d => d.CloseNumber is null) is not { } open || await days.View(open.Date) is not { } view)
        {
            return;
        }

        (Currency, Denominations) = (view.Setup.Currency, view.Setup.Denominations);
        Targets =
        [
            .. view.Overview.Sessions.OrderBy(s => view.CountsOf(s.Drawer).Count)
                .Select(s => (CountTarget.Of(s.Drawer), $"{view.Setup.NameOf(s.Register)}, drawer {s.Drawer}")),
            .. Bag.In(view.Day).Select(b => (CountTarget.OfBag(b.Name), $"Bag {b.Name}")), (CountTarget.Safe, "The safe"),
        ];
    }
}
