using System.Globalization;
using System.Text;
using Fondo.Core.Amounts;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files.Text;
using Fondo.Store.Search;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fondo.Web.Pages;

/// <summary>Every batch of the past, its rows, and which item of the journal each row met.</summary>
[Authorize(Policies.Read)]
public sealed class BatchesModel(BatchSearch search, SetupBook book) : PageModel
{
    private const int UsualDays = 7;

    public Setup Setup { get; private set; } = null!;

    [BindProperty(SupportsGet = true)]
    public DateOnly? From { get; set; }

    [BindProperty(SupportsGet = true)]
    public DateOnly? To { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Terminal { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Batch { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Amount { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Last { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Reference { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? State { get; set; }

    public string? Objection { get; private set; }

    public BatchQuery Query { get; private set; } = null!;

    public IReadOnlyList<FoundBatch> Batches { get; private set; } = [];

    public IReadOnlyList<FoundRow> Rows { get; private set; } = [];

    public bool AreMore { get; private set; }

    /// <summary>What the shown rows or batches come to, by brand.</summary>
    public IEnumerable<(string Brand, CardTotals Totals)> Brands =>
        (Query.IsOfRows ? Rows.Select(r => (r.Brand, CardTotals.One(r.Row.Signed))) : Batches.SelectMany(b => b.Brands))
        .GroupBy(b => b.Item1).OrderBy(g => g.Key, StringComparer.Ordinal)
            .Select(g => (g.Key, g.Aggregate(default(CardTotals), (sum, b) => sum + b.Item2)));

    public string CsvHref => $"/batches{Request.QueryString}{(Request.QueryString.HasValue ? "&" : "?")}handler=Csv";

    public async Task<IActionResult> OnGet() => await Load() ? Page() : Redirect("/");

    public async Task<IActionResult> OnGetCsv()
    {
        if (!await Load() || Objection is not null)
        {
            return Redirect("/batches");
        }

        var (rows, _) = Query.IsOfRows ? (Rows, AreMore) : await search.Rows(Query);
        var text = new StringBuilder("day,terminal,batch,seq,at,type,amount,tip,cashback,brand,card,auth,rrn,state,met\r\n");
        foreach (var found in rows)
        {
            var r = found.Row;
            string?[] fields =
            [
                found.Day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                r.Key.Terminal.Value,
                r.Key.Batch,
                r.Key.Sequence.Text,
                r.At.ToString("yyyy-MM-ddTHH:mm:sszzz", CultureInfo.InvariantCulture),
                r.Direction.Written(),
                Setup.Currency.Format(r.Amount),
                Setup.Currency.Format(r.Tip),
                Setup.Currency.Format(r.Cashback),
                r.Card.Brand,
                r.Card.LastFour,
                r.Card.Approval,
                r.Card.Rrn,
                found.State.Written(),
                found.Met?.Key,
            ];
            text.AppendJoin(',', fields.Select(CsvText.Shown)).Append("\r\n");
        }

        return File(Encoding.UTF8.GetBytes(text.ToString()), "text/csv; charset=utf-8",
            $"batches-{Query.From:yyyy-MM-dd}-{Query.To:yyyy-MM-dd}.csv");
    }

    private async Task<bool> Load()
    {
        if (await book.Now() is not { Setup: var setup })
        {
            return false;
        }

        Setup = setup;
        var to = To ?? From ?? setup.TradingDay.Date;
        var from = From ?? to.AddDays(1 - UsualDays);
        string? Text(string? typed) => typed?.Trim() is { Length: > 0 } text ? text : null;
        var amount = Text(Amount) is { } typedAmount ? TypedAmount.Read(typedAmount, setup.Currency) : null;
        Objection = !ModelState.IsValid ? "A date is written like 2026-11-21."
            : from > to ? "The first date is after the last one."
            : Text(Amount) is not null && amount is null ? $"Type the amount like {setup.Currency.Typed(new(5820))}."
            : null;
        Query = new(from, to, Text(Terminal), Text(Batch), amount, Text(Last), Text(Reference), WrittenNames.Read<RowState>(Text(State)));
        Objection ??= to.DayNumber - from.DayNumber < Query.MostDays ? null
            : $"At most {Query.MostDays} days at a time; choose a shorter span.";
        if (Objection is not null)
        {
            return true;
        }

        if (Query.IsOfRows)
        {
            (Rows, AreMore) = await search.Rows(Query);
        }
        else
        {
            Batches = await search.Batches(Query);
        }

        return true;
    }
}
