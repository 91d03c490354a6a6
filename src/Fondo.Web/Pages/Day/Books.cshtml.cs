using System.Text;
using Fondo.Core.Books;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Closing;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The accounting entry of the day: as it was frozen, or as it would be by now. Each line opens what it is made of.</summary>
[Authorize(Policies.Read)]
public sealed class BooksModel(DayStore days) : DayPage(days)
{
    /// <summary>More lines than this nobody reads.</summary>
    private const int Most = 400;

    protected override string Place => "close";

    /// <summary>A register's id; null or empty: the store.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Register { get; set; }

    /// <summary>The account of which the things themselves are shown.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Account { get; set; }

    public AccountingEntry Entry { get; private set; } = null!;

    /// <summary>The correction that this revision of the day makes; null on a first one.</summary>
    public AccountingEntry? Correction { get; private set; }

    /// <summary>By account; what it is made of.</summary>
    public IEnumerable<IGrouping<string, BookSum>> Accounts => Entry.Sums.Where(s => string.IsNullOrEmpty(Register) || s.Register?.Value == Register).GroupBy(s => s.Account);

    public IReadOnlyList<BookLine> Lines { get; private set; } = [];

    public bool AreMore { get; private set; }

    public async Task OnGet()
    {
        await Load();
        if (!string.IsNullOrEmpty(Account))
        {
            var lines = AccountingEntry.Lines(View.Reconciliation, View.Entries, View.Money).Where(l => l.Account == Account && (string.IsNullOrEmpty(Register) || l.Register?.Value == Register)).Take(Most + 1).ToList();
            (Lines, AreMore) = ([.. lines.Take(Most)], lines.Count > Most);
        }
    }

    /// <param name="kind">csv or journal.</param>
    public async Task<IActionResult> OnGetFile(string? kind)
    {
        await Load();
        var file = BooksFiles.Of(Heading, Correction ?? Entry, Setup.Currency, id => Setup.NameOf(id));
        return kind == "journal" ? File(Encoding.UTF8.GetBytes(file.Journal), "text/plain", $"books-{Setup.TradingDay}.journal") : File(Encoding.UTF8.GetBytes(file.Csv), "text/csv", $"books-{Setup.TradingDay}.csv");
    }

    public string RegisterName(RegisterId? register) => register is null ? "the store" : Setup.NameOf(register);

    /// <summary>Where the thing behind a line can be looked at.</summary>
    public string? HrefOf(BookLine line) =>
        View.Day.Journal.Any(e => e.Id.Value == line.Source) ? $"/{Setup.TradingDay}/ticket/{Uri.EscapeDataString(line.Source)}"
        : View.Bridges.Keys.FirstOrDefault(k => k.ToString() == line.Source) is { Tender.Value: not null } cell ? CellModel.Href(Setup.TradingDay, cell)
        : Guid.TryParse(line.Source, out var id) && View.Find(id) is { Postings: [var first, ..] } ? CellModel.Href(Setup.TradingDay, first.Cell)
        : null;

    private Fondo.Files.Writing.BooksHeading Heading => BooksFiles.HeadingOf(Setup.TradingDay, Setup.Store, View.Close?.Number, Correction is not null);

    private async Task Load()
    {
        if (View.Close is { } close && ClosingDesk.Read(close) is { Books.IsEmpty: false } frozen)
        {
            Entry = frozen.ToAccountingEntry();
            var before = (await Days.Revisions(Date)).Where(r => r.Close.Number < close.Number).Select(r => r.Close).LastOrDefault();
            Correction = before is null || ClosingDesk.Read(before) is not { Books.IsEmpty: false } earlier ? null : BooksFiles.HandedOut(frozen, earlier);
        }
        else
        {
            Entry = AccountingEntry.Of(View.Reconciliation, View.Entries, View.Money);
        }
    }
}
