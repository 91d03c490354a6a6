using Fondo.Core.Closing;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The gates, each naming what is left, and the close.</summary>
[Authorize(Policies.Read)]
public sealed class CloseModel(DayStore days, ClosingDesk desk) : DayPage(days)
{
    protected override string Place => "close";

    public string? Objection { get; private set; }

    public bool MaySupervise => MySelf.May(Right.Supervise);

    public async Task<IActionResult> OnPostExcuse(GateId gate, string item, string? reason)
    {
        var outcome = await desk.Excuse(Date, gate, item, reason ?? "", MySelf);
        Failed = outcome.Objection is { } why ? TypedReason.Of($"{gate}/{item}", reason, why) : null;
        return await Answer(outcome, $"/{Setup.TradingDay}/close");
    }

    public async Task<IActionResult> OnPostClose() => await Answer(await desk.Close(Date, MySelf), $"/{Setup.TradingDay}/close/document");

    /// <summary>Where the thing that is left can be done.</summary>
    public string? HrefOf(Gate gate, GateItem item) => gate.Id switch
    {
        GateId.Counts => $"/{Setup.TradingDay}/count/{item.Key}",
        GateId.Cells => View.Bridges.Keys.Where(k => k.ToString() == item.Key).Select(k => CellModel.Href(Setup.TradingDay, k)).FirstOrDefault(),
        GateId.Approvals => View.Find(Guid.Parse(item.Key)) is { } entry ? CellModel.Href(Setup.TradingDay, entry.Postings[0].Cell) : null,
        GateId.Batches => $"/{Setup.TradingDay}/take-in",
        GateId.Holds => $"/{Setup.TradingDay}/ticket/{item.Key}",
        _ => null,
    };

    private async Task<IActionResult> Answer(Store.Outcome outcome, string then)
    {
        if (outcome.IsDone)
        {
            return Redirect(then);
        }

        Objection = outcome.Objection;
        await Reload();
        return Page();
    }
}
