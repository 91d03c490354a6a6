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
            Sentence = "The disk is full. Nothing was changed. Make room, go back, and send the page again. What you typed is still there.";
            return Page();
        }

        Sentence = status switch
        {
            404 => "There is nothing here. The day or the page does not exist.",
            403 => "You are not allowed to open this page. Ask a supervisor.",
            400 => "This form has expired. Nothing was changed. Go back, reload the page, and send it again.",
            413 => "This is too large: at most 64 KB in a form, 5 MB in a set-up, 512 MB in files. Nothing was imported.",
            429 => "Too many tries from this machine. Wait a minute, then try again.",
            507 => "The disk is full. Nothing was imported. Make room, and send it again.",
            _ => "Something went wrong in Fondo. Nothing was changed. Try again.",
        };
        return Page();
    }
}
