using Fondo.Core.Entries;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Keeping;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The photos and scans that an entry rests on.</summary>
[Authorize(Policies.Read)]
[BodyLimit(Attachments.MostBytes + (256 << 10))]
public sealed class SlipsModel(DayStore days, Attachments attachments) : DayPage(days)
{
    protected override string Place => "resolve";

    public Entry Entry { get; private set; } = null!;

    public IReadOnlyList<Attachment> Files { get; private set; } = [];

    public string? Objection { get; private set; }

    public bool MayAttach => MySelf.May(Right.Supervise) && !View.IsClosed;

    public string Back =>
        Entry.Postings.IsEmpty ? $"/{Setup.TradingDay}/open-items" : CellModel.Href(Setup.TradingDay, Entry.Postings[0].Cell);

    public async Task<IActionResult> OnGet(Guid entry) => await Load(entry) ? Page() : NotFound();

    public async Task<IActionResult> OnGetFile(Guid entry, Guid id)
    {
        if (await attachments.Find(Date, entry, id) is not var (path, type, name))
        {
            return NotFound();
        }

        // A browser shows what we know it to be, and guesses nothing.
        Response.Headers.ContentDisposition =
            new System.Net.Mime.ContentDisposition { Inline = true, FileName = Uri.EscapeDataString(name) }.ToString();
        return PhysicalFile(path, type);
    }

    [Does(ActKind.AttachSlip)]
    public async Task<IActionResult> OnPost(Guid entry, IFormFile? slip)
    {
        if (!await Load(entry))
        {
            return NotFound();
        }

        if (slip is null)
        {
            Objection = "Choose a file.";
        }
        else if (slip.Length > Attachments.MostBytes)
        {
            Objection = $"The file is larger than {Attachments.MostBytes / 1_000_000} MB. Nothing was saved.";
        }
        else
        {
            using var content = new MemoryStream();
            await slip.CopyToAsync(content);
            Objection = (await attachments.Add(Date, entry, slip.FileName, content.ToArray(), MySelf)).Objection;
        }

        if (Objection is null)
        {
            Notice = "The file is attached to the entry.";
            return Redirect($"/{Setup.TradingDay}/slips/{entry}");
        }

        await Load(entry);
        return Page();
    }

    private async Task<bool> Load(Guid entry)
    {
        if (View.Find(entry) is not { } found)
        {
            return false;
        }

        (Entry, Files) = (found, [.. (await attachments.Of(Date)).Where(f => f.Entry == entry)]);
        return true;
    }
}
