using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;

namespace Fondo.Web.Pages.Day;

/// <summary>From what should be there over the entries to what proves it: for the day, and for every register.</summary>
[Authorize(Policies.Read)]
public sealed class BridgeModel(DayStore days) : DayPage(days)
{
    protected override string Place => "resolve";

    public WideBridge Whole { get; private set; } = null!;

    public IReadOnlyList<(RegisterId? Register, WideBridge Bridge)> Registers { get; private set; } = [];

    public void OnGet()
    {
        var cells = View.TenderBridges.ToLookup(b => b.Cell.Key.Register);
        Whole = WideBridge.Of(View.TenderBridges);
        Registers = [.. Setup.Registers.Select(r => (RegisterId?)r.Id).Append(null).Where(r => cells[r].Any())
            .Select(r => (r, WideBridge.Of(cells[r])))];
    }
}
