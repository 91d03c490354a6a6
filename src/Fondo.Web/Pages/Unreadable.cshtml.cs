using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Stands in for every page of a day that does not read: names the record and the reason, and lets a supervisor set it
/// aside.</summary>
public sealed class UnreadableModel(DayStore days, Waiting waiting) : PageModel
{
    public DateOnly Date { get; private set; }

    public IReadOnlyList<UnreadRecord> Records { get; private set; } = [];

    public string? Objection { get; private set; }

    public bool MaySupervise => Me.From(User).May(Right.Supervise);

    public static string Href(DateOnly day) => $"/unreadable/{new TradingDay(day)}";

    public Task<IActionResult> OnGet(string day) => Look(day);

    [Does(ActKind.SetRecordAside)]
    public async Task<IActionResult> OnPost(string day, string kind, string key)
    {
        if (!TradingDay.TryParse(day, out var date) || WrittenNames.Read<RecordKind>(kind) is not { } known)
        {
            return NotFound();
        }

        Objection = (await waiting.SetRecordAside(date.Date, known, key, Me.From(User))).Objection;
        return await Look(day);
    }

    private async Task<IActionResult> Look(string day)
    {
        if (!TradingDay.TryParse(day, out var date))
        {
            return NotFound();
        }

        Date = date.Date;
        try
        {
            return await days.View(Date) is null ? NotFound() : Redirect($"/{date}/{(Me.From(User).May(Right.Read) ? "board" : "count")}");
        }
        catch (UnreadableDayException e)
        {
            Records = e.Records;
            return Page();
        }
    }

    /// <summary>What a record is, for a person.</summary>
    public static string What(UnreadRecord record) => record.Kind switch
    {
        RecordKind.Setup => "The set-up of this day",
        RecordKind.Event => $"Event {record.Key}",
        RecordKind.Row => $"Settled row {record.Key}",
        RecordKind.Total => $"The total of batch {record.Key}",
        RecordKind.Ledger => $"Line {record.Key} of the store’s own books",
        RecordKind.Count => $"Count {record.Key}",
        _ => $"Carried item {record.Key}",
    };
}
