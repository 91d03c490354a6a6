using Fondo.Core.Amounts;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages.Day;

/// <summary>A page of one day: loads the day before the handler runs, and frames the page.</summary>
public abstract class DayPage(DayStore days) : PageModel
{
    public DayView View { get; private set; } = null!;

    public Setup Setup => View.Setup;

    internal DateOnly Date => Setup.TradingDay.Date;

    internal Person MySelf => Me.From(User);

    /// <summary>What a person should be told about what they just tried.</summary>
    [TempData]
    public string? Notice { get; set; }

    /// <summary>A reason that was typed and not taken: it stays where it stood, with what is wrong.</summary>
    public TypedReason? Failed { get; protected set; }

    /// <summary>Which knot of the evening this page is.</summary>
    protected abstract string Place { get; }

    /// <summary>Whether it may show the day of a moment ago while journals pour in.</summary>
    protected virtual bool MayLag => true;

    protected DayStore Days => days;

    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        try
        {
            if (!TradingDay.TryParse(RouteData.Values["day"]?.ToString(), out var day)
                || await days.View(day.Date, mayLag: MayLag && HttpMethods.IsGet(Request.Method)) is not { } view)
            {
                context.Result = new NotFoundResult();
                return;
            }

            Show(view);
        }
        catch (UnreadableDayException e)
        {
            context.Result = new RedirectResult(UnreadableModel.Href(e.Day));
            return;
        }

        await next();
    }

    /// <summary>The day as it is after something was done to it.</summary>
    protected async Task Reload() => Show((await days.View(Date))!);

    internal string Amount(Money? amount) => Say.Amount(amount, Setup.Currency);

    internal string Signed(Money amount) => Say.Signed(amount, Setup.Currency);

    private void Show(DayView view)
    {
        View = view;
        ViewData["Frame"] = Frame.Of(view, Place, MySelf);
    }
}

/// <summary>A reason as typed into one of several forms alike.</summary>
/// <param name="Key">Names the form.</param>
public sealed record TypedReason(string Key, string? Reason, string Objection)
{
    /// <summary>A full card number is not given back.</summary>
    public static TypedReason Of(string key, string? reason, string objection) =>
        new(key, Fondo.Files.Text.CardNumbers.Contains(reason) ? "" : reason, objection);
}
