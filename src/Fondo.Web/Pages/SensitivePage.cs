using Fondo.Store;
using Fondo.Store.Model;
using Fondo.Store.People;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>A page whose acts ask for the PIN again when the last one is a while ago. What was typed stays.</summary>
public abstract class SensitivePage : PageModel
{
    /// <summary>What is wrong with the PIN that was asked for again.</summary>
    public string? PinObjection { get; private set; }

    /// <summary>Whether the forms ask for it.</summary>
    public bool AsksPin { get; private set; }

    /// <summary>A manager gave their PIN for this act; null where the form named none, or they did not prove themselves.</summary>
    protected Core.SetUp.Person? Second { get; private set; }

    /// <summary>What is wrong with the second person's PIN.</summary>
    protected string? SecondObjection { get; private set; }

    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        var sessions = HttpContext.RequestServices.GetRequiredService<PersonSessions>();
        AsksPin = !sessions.IsFresh(HttpContext);
        if (!HttpMethods.IsPost(Request.Method))
        {
            await next();
            return;
        }

        var (pins, form) = (HttpContext.RequestServices.GetRequiredService<PinSignIn>(), await Request.ReadFormAsync());
        if (AsksPin)
        {
            var (person, objection) = form["my-pin"].ToString() is { Length: > 0 } pin
                ? await pins.Prove(Me.From(User).Id.Value, pin, PinDoor.Again)
                : Outcome.Refused<StorePerson>("Type your PIN again to continue. What you typed is still here.");
            if (person is null)
            {
                PinObjection = objection;
                context.Result = await Again();
                return;
            }

            await sessions.Proved(HttpContext);
            AsksPin = false;
        }

        if (form["second"].ToString() is { Length: > 0 } second && form["second-pin"].ToString() is { Length: > 0 } secondPin)
        {
            var (person, objection) = await pins.ProveSecond(second, secondPin, Me.From(User).Id);
            (Second, SecondObjection) = (person?.ToPerson(), objection);
        }

        await next();
    }

    /// <summary>The page with what was typed, after nothing was done.</summary>
    protected abstract Task<IActionResult> Again();
}
