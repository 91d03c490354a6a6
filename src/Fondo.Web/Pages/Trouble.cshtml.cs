using Fondo.Core.SetUp;
using Fondo.Store;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Says in a sentence what went wrong with a request.</summary>
[AllowAnonymous]
[IgnoreAntiforgeryToken]
public sealed class TroubleModel : PageModel
{
    public string Sentence { get; private set; } = "";

    public IActionResult OnGet(int status = 0, string? returnUrl = null) => Choose(returnUrl is not null && status == 0 ? 403 : status);

    [Does(ActKind.OwnMatters)]
    public IActionResult OnPost(int status = 0) => Choose(status);

    private IActionResult Choose(int status)
    {
        if (HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error is Store.Days.UnreadableDayException unreadable)
        {
            return Redirect(UnreadableModel.Href(unreadable.Day));
        }

        if (status == 403)
        {
            Response.StatusCode = 403;
        }

        if (DiskFull.Is(HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error))
        {
            Response.StatusCode = StatusCodes.Status507InsufficientStorage;
            Sentence = "The disk is full. Nothing was changed: make room, go back, and send the page again; what was typed is still there.";
            return Page();
        }

        Sentence = status switch
        {
            404 => "There is nothing here. The day or the page does not exist.",
            403 => "This page is not yours to open. Ask a supervisor.",
            400 => "This form has grown old. Go back, load the page again, and send it once more; nothing was changed.",
            413 => "This is larger than Fondo takes at once here: 64 KB of a form, 5 MB of a set-up, 512 MB of files. Nothing was taken.",
            429 => "Too many tries from this machine within a minute. Wait a moment, and try again.",
            507 => "The disk is full. Nothing was taken: make room, and send it again.",
            _ => "Something went wrong on our side. Nothing was changed; try again.",
        };
        return Page();
    }
}
