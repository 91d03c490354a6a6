using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.Books;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Closing;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The accounting entry of the day: as it was frozen, or as it would be by now. Each line opens what it is made of.</summary>
[Authorize(Policies.Read)]
public sealed class BooksModel(DayStore days, CloseOrder order) : DayPage(days)
{
    /// <summary>More lines than this nobody reads.</summary>
    private const int Most = 400;

    protected override string Place => "close";

    /// <summary>A register's id; null or empty: the store.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Register { get; set; }

    /// <summary>How the entry is laid out: by <c>product</c>, by <c>ticket</c>; else by account.</summary>
    [BindProperty(SupportsGet = true)]
    public string? By { get; set; }

    /// <summary>The account of which the things themselves are shown.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Account { get; set; }

    public AccountingEntry Entry { get; private set; } = null!;

    /// <summary>The correction that this revision of the day makes; null on a first one.</summary>
    public AccountingEntry? Correction { get; private set; }

    /// <summary>Where the correction goes: to the books by itself, or with the entry of a later day, because days behind this one were
    /// closed. Null where this revision makes none.</summary>
    public string? CorrectionGoes { get; private set; }

    /// <summary>One line of the entry as it is laid out.</summary>
    /// <param name="Parts">What it is made of.</param>
    public sealed record Row(string Name, string? Href, Money Debit, Money Credit, int Number,
        IReadOnlyList<(string What, int Number, Money Amount)> Parts);

    private IEnumerable<BookSum> Sums => Entry.Sums.Where(s => string.IsNullOrEmpty(Register) || s.Register?.Value == Register);

    public Money Debits => Sums.Where(s => s.Amount.Sign > 0).Sum(s => s.Amount);

    public Money Credits => -Sums.Where(s => s.Amount.Sign < 0).Sum(s => s.Amount);

    /// <summary>The entry by accounts, each on the side where it stands; by products or tickets, each with both sides.</summary>
    public IReadOnlyList<Row> Rows { get; private set; } = [];

    public IReadOnlyList<BookLine> Lines { get; private set; } = [];

    public bool AreMore { get; private set; }

    public async Task OnGet()
    {
        await Load();
        Rows = By switch
        {
            "product" => [.. Sums.GroupBy(s => s.What).OrderBy(g => g.Key, StringComparer.Ordinal)
                .Select(g => Of(g.Key, null, g.Sum(s => s.Number),
                    g.GroupBy(s => s.Account).Select(a => (a.Key, a.Sum(s => s.Number), a.Sum(s => s.Amount)))))],
            "ticket" => ByTicket(),
            _ => [.. Sums.GroupBy(s => s.Account)
                .Select(g => InOne(Of(g.Key, $"?register={Register}&account={Uri.EscapeDataString(g.Key)}#lines", g.Sum(s => s.Number),
                    g.GroupBy(s => s.What).Select(w => (w.Key, w.Sum(s => s.Number), w.Sum(s => s.Amount))))))],
        };
        if (!string.IsNullOrEmpty(Account))
        {
            var lines = Detail.Where(l => l.Account == Account).Take(Most + 1).ToList();
            (Lines, AreMore) = ([.. lines.Take(Most)], lines.Count > Most);
        }
    }

    /// <param name="kind">csv, journal, or lines: every ticket, movement and cell.</param>
    public async Task<IActionResult> OnGetFile(string? kind)
    {
        await Load();
        if (kind == "lines")
        {
            return File(Encoding.UTF8.GetBytes(Fondo.Files.Writing.BooksText.Lines(Heading, Detail, Setup.Currency, RegisterName)),
                "text/csv", $"books-{Setup.TradingDay}-lines.csv");
        }

        var entry = Correction ?? Entry;
        var file = BooksFiles.Of(Heading, string.IsNullOrEmpty(Register) ? entry : entry.Of(new RegisterId(Register)), Setup.Currency,
            id => Setup.NameOf(id));
        return kind == "journal"
            ? File(Encoding.UTF8.GetBytes(file.Journal), "text/plain", $"books-{Setup.TradingDay}.journal")
            : File(Encoding.UTF8.GetBytes(file.Csv), "text/csv", $"books-{Setup.TradingDay}.csv");
    }

    private IEnumerable<BookLine> Detail => AccountingEntry.Lines(View.Reconciliation, View.Entries, View.Money)
        .Where(l => string.IsNullOrEmpty(Register) || l.Register?.Value == Register);

    private Row[] ByTicket()
    {
        var sources = Detail.GroupBy(l => l.Source).Take(Most + 1).ToList();
        AreMore = sources.Count > Most;
        return [.. sources.Take(Most).Select(g => Of(g.Key, HrefOf(g.First()), g.Count(),
            g.Select(l => ($"{l.Account}: {l.What}", 1, l.Amount))))];
    }

    private static Row Of(string name, string? href, int number, IEnumerable<(string What, int Number, Money Amount)> parts)
    {
        var all = parts.OrderByDescending(p => p.Amount.Abs()).ToList();
        return new(name, href, all.Where(p => p.Amount.Sign > 0).Sum(p => p.Amount), -all.Where(p => p.Amount.Sign < 0).Sum(p => p.Amount),
            number, all);
    }

    /// <summary>On the side where it stands.</summary>
    private static Row InOne(Row row) => row.Debit > row.Credit
        ? row with { Debit = row.Debit - row.Credit, Credit = Money.Zero }
        : row with { Debit = Money.Zero, Credit = row.Credit - row.Debit };

    public string RegisterName(RegisterId? register) => register is null ? "the store" : Setup.NameOf(register);

    /// <summary>Where the thing behind a line can be looked at.</summary>
    public string? HrefOf(BookLine line) =>
        View.Day.Journal.Any(e => e.Id.Value == line.Source) ? $"/{Setup.TradingDay}/ticket/{Uri.EscapeDataString(line.Source)}"
        : View.Bridges.Keys.FirstOrDefault(k => k.ToString() == line.Source) is { } cell ? CellModel.Href(
            Setup.TradingDay, cell)
        : Guid.TryParse(line.Source, out var id) && View.Find(id) is { Postings: [var first, ..] } ? CellModel.Href(Setup.TradingDay,
            first.Cell)
        : null;

    private Fondo.Files.Writing.BooksHeading Heading =>
        BooksFiles.HeadingOf(Setup.TradingDay, Setup.Store, View.Close?.Number, Correction is not null);

    private async Task Load()
    {
        if (View.Close is { } close && ClosingDesk.Read(close) is { Books.IsEmpty: false } frozen)
        {
            Entry = frozen.ToAccountingEntry();
            var before = (await Days.Revisions(Date)).Where(r => r.Close.Number < close.Number).Select(r => r.Close).LastOrDefault();
            Correction = before is null || ClosingDesk.Read(before) is not { Books.IsEmpty: false } earlier
                ? null
                : BooksFiles.HandedOut(frozen, earlier);
            CorrectionGoes = Correction is null ? null
                : frozen.Corrects is not null ? await order.PostedIn(close.Number) is { } day
                    ? $"Later days are closed too. The changes are posted in the entry of {Say.LongDate(day)}. This day posts nothing."
                    : "Later days are closed too. The changes are posted in the entry of the next day. This day posts nothing."
                : Correction.Sums.IsEmpty ? "Nothing changed, so nothing new is posted."
                : $"Only the correction is posted: {Say.Count(Correction.Sums.Length, "line")}. Together with the earlier entry they make "
                    + "this one.";
        }
        else
        {
            Entry = AccountingEntry.Of(View.Reconciliation, View.Entries, View.Money);
        }
    }
}
