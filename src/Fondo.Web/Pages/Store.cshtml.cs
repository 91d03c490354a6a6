using System.Text;
using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Fondo.Web.SetUp;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages;

/// <summary>The store's set-up, in one place.</summary>
[Authorize(Policies.Supervise)]
[BodyLimit(LargestFile + (1 << 20))]
public sealed class StoreModel(SetupBook book, PeopleRegister people, RegisterKeys keys, TerminalSwaps swaps) : SensitivePage
{
    private const int LargestFile = 4 << 20;

    [TempData]
    public string? Notice { get; set; }

    [TempData]
    public string? NewKey { get; set; }

    [TempData]
    public string? NewKeyOf { get; set; }

    public Setup? Setup { get; private set; }

    public DateOnly From { get; private set; }

    /// <summary>Whether a trading day has ever begun.</summary>
    public bool HasBegun { get; private set; }

    public string? Objection { get; private set; }

    /// <summary>What is wrong with the set-up that was sent.</summary>
    public SetupObjections Wrong { get; private set; } = SetupObjections.None;

    /// <summary>Set-ups that loosen something and wait for a manager.</summary>
    public IReadOnlyList<SetupRow> Waiting { get; private set; } = [];

    /// <summary>Who could be the second person here.</summary>
    public IReadOnlyList<Person> Others { get; private set; } = [];

    /// <summary>Managers who could approve them here.</summary>
    public IReadOnlyList<Person> Seconds { get; private set; } = [];

    public string? ApprovalObjection { get; private set; }

    public IReadOnlyList<RegisterKeyRow> Keys { get; private set; } = [];

    internal IReadOnlyList<SetupStep> Steps { get; private set; } = [];

    public async Task OnGet() => await Load();

    public async Task<IActionResult> OnGetExport() =>
        await book.Now() is { } held
            ? File(Encoding.UTF8.GetBytes(SetupForm.Of(held.Json).Json), "application/json", "set-up.json")
            : NotFound();

    [Does(ActKind.SaveSetUp)]
    public async Task<IActionResult> OnPostImport(IFormFile? file, DateOnly from)
    {
        await Load();
        if (file is null || file.Length > LargestFile)
        {
            Objection = file is null ? "Choose the file first." : "This file is larger than 4 MB; a set-up is not.";
            return Page();
        }

        using var text = new StreamReader(file.OpenReadStream());
        return await Save(from, await text.ReadToEndAsync());
    }

    [Does(ActKind.SaveSetUp)]
    public async Task<IActionResult> OnPostSwap(string? replaced, string? replacement, DateOnly on, string? time)
    {
        Swap = new(replaced, replacement, on, time);
        var (says, objection) = await swaps.Make(Swap, Me.From(User));
        if (says is not null)
        {
            Notice = says;
            return Redirect("/store");
        }

        await Load();
        SwapObjection = objection;
        return Page();
    }

    [Does(ActKind.MakeKey)]
    public async Task<IActionResult> OnPostKey(string register)
    {
        await Load();
        if (Setup?.Find(new Core.Journal.RegisterId(register)) is not { } known)
        {
            Objection = "Save the register first.";
            return Page();
        }

        return await Made(register, known.Name);
    }

    [Does(ActKind.MakeKey)]
    public async Task<IActionResult> OnPostDeviceKey(string? device)
    {
        await Load();
        if (device?.Trim() is not { } name || !Core.Limits.IsId(name) || name.Length > 40)
        {
            Objection = "Give the machine a name of letters and digits, like counter-1.";
            return Page();
        }

        return await Made(MachineDesk.KeyOf(name), name);
    }

    private async Task<IActionResult> Made(string holder, string name)
    {
        var (key, objection) =
            SecondObjection is { } unproved ? Outcome.Refused<string>(unproved) : await keys.Make(holder, Me.From(User), Second);
        if (key is null)
        {
            KeyObjection = objection;
            return Page();
        }

        (NewKey, NewKeyOf) = (key, name);
        return Redirect("/store#keys");
    }

    public string? KeyObjection { get; private set; }

    /// <summary>What was typed of a swapped terminal.</summary>
    public TerminalSwap? Swap { get; private set; }

    public string? SwapObjection { get; private set; }

    /// <summary>The terminals that stand somewhere now, with their registers.</summary>
    public IEnumerable<TerminalPlace> Places => Setup?.Terminals.Where(t => t.Until is null) ?? [];

    /// <summary>Whose key it is, as people say it.</summary>
    public string HolderOf(string holder) => MachineDesk.DeviceOf(holder) ?? holder;

    [Does(ActKind.RevokeKey)]
    public async Task<IActionResult> OnPostRevoke(Guid id)
    {
        await keys.Revoke(id, Me.From(User));
        Notice = "The key is revoked. Fondo now refuses what its register sends; the register keeps it.";
        return Redirect("/store");
    }

    /// <summary>A manager's word for a set-up that loosens something: their own session, or their PIN at this machine.</summary>
    [Does(ActKind.LoosenSetUp)]
    public async Task<IActionResult> OnPostApprove(int id)
    {
        var outcome = SecondObjection is { } objection
            ? Fondo.Store.Outcome.Refused(objection)
            : await book.Approve(id, Second ?? Me.From(User));
        if (outcome.IsDone)
        {
            Notice = "Approved. The board shows it on the days it applies to.";
            return Redirect("/store");
        }

        await Load();
        ApprovalObjection = outcome.Objection;
        return Page();
    }

    protected override async Task<IActionResult> Again()
    {
        await Load();
        return Page();
    }

    private async Task<IActionResult> Save(DateOnly from, string json)
    {
        var saved = await book.Save(from, json, Me.From(User));
        if (saved.IsDone)
        {
            Notice = StorePartModel.SaysOf(saved.Value!, from);
            return Redirect("/store");
        }

        (Wrong, From) = (new(saved.Objections), from);
        return Page();
    }

    private async Task Load()
    {
        var held = await book.Now();
        var everyone = await people.All();
        (Setup, From) = (held?.Setup, await book.Today());
        HasBegun = await book.HasBegun();
        Keys = await keys.All();
        Waiting = await book.Waiting();
        Others = [.. everyone.Where(p => p.May(Right.Supervise) && p.Id != Me.From(User).Id)];
        Seconds = [.. everyone.Where(p => p.May(Right.Manage) && p.Id != Me.From(User).Id)];
        Steps = SetupChecklist.Of(Setup, everyone, Keys);
    }
}
