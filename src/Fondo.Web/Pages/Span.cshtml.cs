using System.Collections.Immutable;
using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Closing;
using Fondo.Store.Days;
using Fondo.Store.SetUp;
using Fondo.Web.Closing;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using SkiaSharp;

namespace Fondo.Web.Pages;

/// <summary>Closed days taken together: a month, or any span of days.</summary>
[Authorize(Policies.Read)]
public sealed class SpanModel(DayStore days, CloseOrder order, SetupBook book) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public DateOnly? From { get; set; }

    [BindProperty(SupportsGet = true)]
    public DateOnly? To { get; set; }

    public Span? Span { get; private set; }

    public Currency Currency { get; private set; } = Currency.Of("USD");

    public string Store { get; private set; } = "";

    public ImmutableArray<CloseTable> Tables => Span is null ? [] : SpanTables.Of(Span, Currency);

    /// <summary>Days of the span that are not closed: they are not in it.</summary>
    public IReadOnlyList<DateOnly> Open { get; private set; } = [];

    public string Title => $"{Store}: {Date(From!.Value)} to {Date(To!.Value)}";

    public string Heading => $"{Span!.Days} closed days. The entries of these days, added up.";

    public Task OnGet() => Load();

    public async Task<IActionResult> OnGetFile(string? kind)
    {
        await Load();
        if (Span is null)
        {
            return NotFound();
        }

        var name = $"days-{From:yyyy-MM-dd}-{To:yyyy-MM-dd}";
        return kind == "xlsx"
            ? File(CloseFiles.Workbook([], Tables), CloseFiles.Xlsx, name + ".xlsx")
            : File(ClosePdf.Of(new SKDocumentPdfMetadata { Title = Title, Producer = "Fondo" }, Title, Heading, Tables, Title, "", []), "application/pdf", name + ".pdf");
    }

    public static string Date(DateOnly date) => date.ToString("d MMMM yyyy", CultureInfo.InvariantCulture);

    private async Task Load()
    {
        var listed = await days.List();
        if (listed.Where(d => d.CloseNumber is not null).Select(d => (DateOnly?)d.Date).Max() is not { } latest || await book.For(latest) is not { Setup: var setup })
        {
            return;
        }

        (Currency, Store) = (setup.Currency, setup.Store);
        To ??= latest;
        From ??= new DateOnly(To.Value.Year, To.Value.Month, 1);
        var own = listed.Where(d => d.CloseNumber is not null && d.Date >= From && d.Date <= To).OrderBy(d => d.Date).Select(d => d.CloseNumber!.Value).ToList();
        var booked = await order.Booked(To.Value);
        var before = booked.Where(b => b.Day < From).Select(b => b.Close).LastOrDefault();
        var posted = booked.Where(b => b.Day >= From).Select(b => b.Close).ToList();
        var closes = (await days.Closes([.. own.Concat(posted).Append(before).Distinct()])).ToDictionary(c => c.Number, ClosingDesk.Read);
        Span = Core.Closing.Span.Of(
            From.Value, To.Value, closes.GetValueOrDefault(before), [.. own.Select(c => closes[c])], [.. posted.Select(c => closes[c])], Currency, setup.Accounts.First(a => a.Id == "over-short").Account);
        Open = [.. listed.Where(d => d.CloseNumber is null && d.Date >= From && d.Date <= To).Select(d => d.Date).Order()];
    }
}
