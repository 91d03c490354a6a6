using Fondo.Core.SetUp;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Fondo.Web.SetUp;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages;

/// <summary>One part of the store's set-up.</summary>
[Authorize(Policies.Supervise)]
public sealed class StorePartModel(SetupBook book) : SensitivePage
{
    [TempData]
    public string? Notice { get; set; }

    public SetupPart Part { get; private set; } = null!;

    public SetupForm Form { get; private set; } = null!;

    public DateOnly From { get; private set; }

    /// <summary>What is wrong with what was sent.</summary>
    public SetupObjections Wrong { get; private set; } = SetupObjections.None;

    public async Task<IActionResult> OnGet(string part) => await Load(part) ?? Page();

    [Does(ActKind.SaveSetUp)]
    public async Task<IActionResult> OnPost(string part, DateOnly from)
    {
        if (await Load(part) is { } elsewhere)
        {
            return elsewhere;
        }

        Form.Read(Request.Form, Part);
        From = from;
        if (Form.Objections.Count > 0)
        {
            Wrong = new(Form.Objections);
            return Page();
        }

        var saved = await book.Save(from, Form.Json, Me.From(User));
        if (saved.IsDone)
        {
            Notice = SaysOf(saved.Value!, from);
            return Redirect("/store");
        }

        Wrong = new(Form.Placed(saved.Objections));
        return Page();
    }

    /// <summary>What became of a set-up that was saved.</summary>
    internal static string SaysOf(SetupSaved saved, DateOnly from) => saved.Loosens.Count == 0
        ? $"Saved. It applies from {from:yyyy-MM-dd}."
        : $"Saved, waiting for approval. It loosens {string.Join("; ", saved.Loosens)}. It applies from {from:yyyy-MM-dd} once another "
            + "manager approves it.";

    protected override async Task<IActionResult> Again()
    {
        if (await Load((string)RouteData.Values["part"]!) is { } elsewhere)
        {
            return elsewhere;
        }

        Form.Read(Request.Form, Part);
        From = DateOnly.TryParse(Request.Form["from"], System.Globalization.CultureInfo.InvariantCulture, out var from) ? from : From;
        return Page();
    }

    /// <returns>Where to go instead; null where the part can be shown.</returns>
    private async Task<IActionResult?> Load(string part)
    {
        if (SetupPart.Find(part) is not { } known)
        {
            return NotFound();
        }

        if (await book.Now() is not { } held)
        {
            return Redirect("/store/begin");
        }

        (Part, Form, From) = (known, SetupForm.Of(held.Json), await book.Today());
        return null;
    }
}
