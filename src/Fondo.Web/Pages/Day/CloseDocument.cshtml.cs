using System.Text;
using Fondo.Core.Closing;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The close as it was frozen: shown from its own text alone, nothing is computed anew.</summary>
[Authorize(Policies.Read)]
public sealed class CloseDocumentModel(DayStore days) : DayPage(days)
{
    protected override string Place => "close";

    public CloseDocument Document { get; private set; } = null!;

    public bool Holds => View.Close is { } close && close.Hash == CloseChain.HashOf(close.Number, close.PreviousHash, close.Content);

    public IActionResult OnGet()
    {
        if (View.Close is not { } close)
        {
            return Redirect($"/{Setup.TradingDay}/close");
        }

        Document = ClosingDesk.Read(close);
        return Page();
    }

    public IActionResult OnGetFile() => View.Close is { } close
        ? File(Encoding.UTF8.GetBytes(close.Content), "application/json", $"close-{close.Number}-{Setup.TradingDay}.json")
        : NotFound();

    public string Time(DateTimeOffset at) => Say.Time(at, Setup);
}
