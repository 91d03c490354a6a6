using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages;

/// <summary>The machines that the store has paired, and the code for the next one.</summary>
[Authorize(Policies.Supervise)]
public sealed class MachinesModel(Machines machines, MachineDesk desk, DayStore days, PairingCodes codes) : SensitivePage
{
    public IReadOnlyList<MachineRow> All { get; private set; } = [];

    public string? Code { get; private set; }

    /// <summary>What scales and counting machines said of drawers or days that are not there.</summary>
    public IReadOnlyList<StrayReading> Strays { get; private set; } = [];

    public Task OnGet() => Load();

    [Does(ActKind.PairMachine)]
    public async Task<IActionResult> OnPostCode()
    {
        Code = codes.Show(Me.From(User));
        return await Again();
    }

    [Does(ActKind.EndMachine)]
    public async Task<IActionResult> OnPostEnd(Guid id)
    {
        await machines.End(id, Me.From(User));
        return Redirect("/machines");
    }

    protected override async Task<IActionResult> Again()
    {
        await Load();
        return Page();
    }

    private async Task Load() => (All, Strays) = (await machines.All(), await desk.Strays(days));
}
