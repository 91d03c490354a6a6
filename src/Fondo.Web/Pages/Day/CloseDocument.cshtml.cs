using System.Text;
using Fondo.Core.Closing;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Web.Closing;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>A close as it was frozen: shown from its own text alone, nothing is computed anew. Of a day with several revisions, the one
/// that stands or the one that was asked for.</summary>
[Authorize(Policies.Read)]
public sealed class CloseDocumentModel(DayStore days, CloseOffice office) : DayPage(days)
{
    protected override string Place => "close";

    /// <summary>The number of a close; null: the one that stands.</summary>
    [BindProperty(SupportsGet = true)]
    public int? Number { get; set; }

    public FrozenClose Close { get; private set; } = null!;

    /// <summary>Why it stands no more; null while it does.</summary>
    public ReopeningRow? Reopened { get; private set; }

    public CloseDocument Document { get; private set; } = null!;

    public IReadOnlyList<CloseTable> Tables => CloseTables.Of(Document);

    public bool Holds => Close.Hash == CloseChain.HashOf(Close.Number, Close.PreviousHash, Close.Content);

    public bool MaySend => MySelf.May(Right.Supervise) && Reopened is null;

    public async Task<IActionResult> OnGet() => await Load() ? Page() : Redirect($"/{Setup.TradingDay}/close");

    /// <param name="kind">json, csv, xlsx or pdf.</param>
    public async Task<IActionResult> OnGetFile(string? kind)
    {
        if (!await Load())
        {
            return NotFound();
        }

        return kind switch
        {
            "pdf" => File(ClosePdf.Of(Document, Close.Hash), "application/pdf", CloseFiles.NameOf(Document, "pdf")),
            "csv" => File(CloseFiles.Csv(Document), "text/csv", CloseFiles.NameOf(Document, "csv")),
            "xlsx" => File(CloseFiles.Workbook(Document), CloseFiles.Xlsx, CloseFiles.NameOf(Document, "xlsx")),
            _ => File(Encoding.UTF8.GetBytes(Close.Content), "application/json", CloseFiles.NameOf(Document, "json")),
        };
    }

    [Does(ActKind.MailDocument)]
    public async Task<IActionResult> OnPostSend()
    {
        if (!await Load())
        {
            return NotFound();
        }

        Notice = await office.Send(Close);
        return Redirect($"/{Setup.TradingDay}/close/document?number={Close.Number}");
    }

    private async Task<bool> Load()
    {
        var (close, reopened) = (await Days.Revisions(Date))
            .LastOrDefault(r => Number is null ? r.Reopened is null : r.Close.Number == Number);
        if (close is null)
        {
            return false;
        }

        (Close, Reopened, Document) = (close, reopened, ClosingDesk.Read(close));
        return true;
    }
}
