using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Fondo.Core.Closing;
using Fondo.Store.Treasury;
using Fondo.Web.Closing;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using SkiaSharp;

namespace Fondo.Web.Pages;

/// <summary>Closed days taken together: a month, or any span of days.</summary>
[Authorize(Policies.Read)]
public sealed class SpanModel(SpanBook book) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public DateOnly? From { get; set; }

    [BindProperty(SupportsGet = true)]
    public DateOnly? To { get; set; }

    /// <summary>Null where no day is closed yet.</summary>
    public BookedSpan? Booked { get; private set; }

    public Span? Span => Booked?.Span;

    public ImmutableArray<CloseTable> Tables => Booked is null ? [] : SpanTables.Of(Booked.Span, Booked.Setup.Currency);

    public string Title => $"{Booked!.Setup.Store}: {Date(From!.Value)} to {Date(To!.Value)}";

    public string Heading => $"{Span!.Days} closed days. The entries of these days, added up.";

    public string Href(string kind) =>
        string.Create(CultureInfo.InvariantCulture, $"?handler=File&kind={kind}&from={From:yyyy-MM-dd}&to={To:yyyy-MM-dd}");

    public Task OnGet() => Load();

    /// <param name="kind">pdf, xlsx, or the entries of the days as csv or journal.</param>
    public async Task<IActionResult> OnGetFile(string? kind)
    {
        await Load();
        if (Booked is null)
        {
            return NotFound();
        }

        var name = string.Create(CultureInfo.InvariantCulture, $"days-{From:yyyy-MM-dd}-{To:yyyy-MM-dd}");
        return kind switch
        {
            "xlsx" => File(CloseFiles.Workbook([], Tables), CloseFiles.Xlsx, name + ".xlsx"),
            "csv" => File(Encoding.UTF8.GetBytes(BooksFiles.Together(Booked.Posted).Csv), "text/csv", name + ".csv"),
            "journal" => File(Encoding.UTF8.GetBytes(BooksFiles.Together(Booked.Posted).Journal), "text/plain", name + ".journal"),
            _ => File(ClosePdf.Of(new SKDocumentPdfMetadata { Title = Title, Producer = "Fondo" }, Title, Heading, Tables, Title, "", []),
                "application/pdf", name + ".pdf"),
        };
    }

    public static string Date(DateOnly date) => date.ToString("d MMMM yyyy", CultureInfo.InvariantCulture);

    private async Task Load()
    {
        Booked = await book.Of(From, To);
        (From, To) = (Span?.From ?? From, Span?.To ?? To);
    }
}
