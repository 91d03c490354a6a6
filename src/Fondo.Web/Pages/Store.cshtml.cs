using System.Text;
using Fondo.Core.SetUp;
using Fondo.Files.Text;
using Fondo.Store.Intake;
using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Fondo.Web.SetUp;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>The store's set-up, in one place.</summary>
[Authorize(Policies.Supervise)]
public sealed class StoreModel(SetupBook book, PeopleRegister people, RegisterKeys keys) : PageModel
{
    private const int LargestFile = 4 << 20;

    [TempData]
    public string? Notice { get; set; }

    [TempData]
    public string? NewKey { get; set; }

    [TempData]
    public string? NewKeyOf { get; set; }

    public SetupForm Form { get; private set; } = null!;

    public Setup? Setup { get; private set; }

    public DateOnly From { get; private set; }

    public string? Objection { get; private set; }

    public IReadOnlyList<Finding> Findings { get; private set; } = [];

    public IReadOnlyList<RegisterKeyRow> Keys { get; private set; } = [];

    internal IReadOnlyList<SetupStep> Steps { get; private set; } = [];

    public async Task OnGet() => await Load();

    public async Task<IActionResult> OnGetExport() =>
        await book.Now() is { } held ? File(Encoding.UTF8.GetBytes(SetupForm.Of(held.Json).Json), "application/json", "set-up.json") : NotFound();

    public async Task<IActionResult> OnPost(DateOnly from)
    {
        await Load();
        Form.Read(Request.Form);
        return await Save(from, Form.Json);
    }

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

    public async Task<IActionResult> OnPostKey(string register)
    {
        await Load();
        if (Setup?.Find(new Core.Journal.RegisterId(register)) is not { } known)
        {
            Objection = "Save the register first.";
            return Page();
        }

        (NewKey, NewKeyOf) = (await keys.Make(register, Me.From(User)), known.Name);
        return Redirect("/store#keys");
    }

    public async Task<IActionResult> OnPostRevoke(Guid id)
    {
        await keys.Revoke(id, Me.From(User));
        Notice = "The key was revoked. What its register sends from now on is refused, and stays with the register.";
        return Redirect("/store");
    }

    private async Task<IActionResult> Save(DateOnly from, string json)
    {
        var saved = CardNumbers.Contains(json) ? new("This holds a full card number. Nothing was saved.", []) : await book.Save(from, json, Me.From(User));
        if (saved.IsDone)
        {
            Notice = $"Saved. It holds from {from:yyyy-MM-dd}.";
            return Redirect("/store");
        }

        (Objection, Findings, From) = (saved.Objection, saved.Findings, from);
        return Page();
    }

    private async Task Load()
    {
        var held = await book.Now();
        var everyone = await people.All();
        (Setup, Form, From) = (held?.Setup, held is null ? SetupForm.ForNewStore(everyone) : SetupForm.Of(held.Json), await book.Today());
        Keys = await keys.All();
        Steps = SetupChecklist.Of(Setup, everyone, Keys);
    }
}
