using System.Globalization;
using Fondo.Core.Amounts;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Search;

/// <summary>How a settled row stands.</summary>
public enum RowState
{
    /// <summary>It met a tender of the journal, and they agree.</summary>
    Met,

    /// <summary>It met one, and the amounts differ.</summary>
    Differs,

    /// <summary>No tender explains it.</summary>
    Open,
}

/// <summary>What settled rows are looked for by; what is null does not matter.</summary>
/// <param name="Reference">An approval code or a retrieval reference number.</param>
public sealed record BatchQuery(DateOnly From, DateOnly To, string? Terminal = null, string? Batch = null, Money? Amount = null,
    string? LastFour = null, string? Reference = null, RowState? State = null)
{
    /// <summary>How many days it may span.</summary>
    public int MostDays => LastFour is null && Reference is null ? BatchSearch.MostDays : BatchSearch.MostDaysOfOne;

    /// <summary>Whether single rows are meant; else whole batches.</summary>
    public bool IsOfRows => Batch is not null || Amount is not null || LastFour is not null || Reference is not null || State is not null;
}

/// <summary>A settled row that was found, and what of the journal it met.</summary>
/// <param name="Day">The trading day that has it.</param>
/// <param name="Met">Null where it is open.</param>
public sealed record FoundRow(DateOnly Day, BatchRow Row, RowState State, Item? Met, string Brand);

/// <summary>A batch of the past: what the host says of it, and what its rows say.</summary>
/// <param name="Total">Null where no host said.</param>
public sealed record FoundBatch(DateOnly Day, string Terminal, string Batch, BatchTotal? Total, CardTotals Rows, int Open,
    IReadOnlyList<(string Brand, CardTotals Totals)> Brands);

/// <summary>Looks through the batches of days past: day by day, as each day is known.</summary>
public sealed class BatchSearch(StoreContext db, DayStore days)
{
    /// <summary>Reports reach back so far at a time.</summary>
    public const int MostDays = 62;

    /// <summary>One card, or one transaction, is looked for over thirteen months: only the days that have it are put together.</summary>
    public const int MostDaysOfOne = 400;

    /// <summary>No more rows than these are shown at once.</summary>
    public const int MostRows = 1_000;

    /// <summary>Every batch of the span, the latest day first.</summary>
    public async Task<IReadOnlyList<FoundBatch>> Batches(BatchQuery query)
    {
        var found = new List<FoundBatch>();
        await foreach (var view in Days(query))
        {
            var rows = RowsOf(view).Where(r => query.Terminal is null || r.Row.Key.Terminal.Value == query.Terminal)
                .ToLookup(r => (r.Row.Key.Terminal, r.Row.Key.Batch));
            var totals = view.Day.Totals.Where(t => query.Terminal is null || t.Terminal.Value == query.Terminal)
                .ToDictionary(t => (t.Terminal, t.Batch));
            found.AddRange(rows.Select(r => r.Key).Union(totals.Keys).OrderBy(k => k.Terminal.Value, StringComparer.Ordinal)
                .ThenBy(k => k.Batch, StringComparer.Ordinal).Select(k => new FoundBatch(
                view.Setup.TradingDay.Date, k.Terminal.Value, k.Batch, totals.GetValueOrDefault(k), Sum(rows[k]),
                    rows[k].Count(r => r.State == RowState.Open),
                [.. rows[k].GroupBy(r => r.Brand).OrderBy(g => g.Key, StringComparer.Ordinal).Select(g => (g.Key, Sum(g)))])));
        }

        return found;
    }

    /// <summary>The rows that fit, the latest day first.</summary>
    public async Task<(IReadOnlyList<FoundRow> Rows, bool AreMore)> Rows(BatchQuery query)
    {
        var found = new List<FoundRow>();
        await foreach (var view in Days(query))
        {
            found.AddRange(RowsOf(view).Where(r => Fits(r, query)));
            if (found.Count > MostRows)
            {
                return (found[..MostRows], true);
            }
        }

        return (found, false);
    }

    private async IAsyncEnumerable<DayView> Days(BatchQuery query)
    {
        // Only days that have such a row are put together.
        var (from, to) = (query.From.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            query.To.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture));
        var amount = query.Amount is { } a ? a.Abs().Minor : (long?)null;
        var dates = await db.Database.SqlQuery<string>($"""
            SELECT DISTINCT Day AS Value FROM Records AS r
            WHERE Day BETWEEN {from} AND {to} AND Kind IN ('row', 'total') AND Json <> ''
              AND NOT EXISTS (SELECT 1 FROM OpenIntakes AS o WHERE r.Id BETWEEN o.First AND o.Last)
              AND ({query.Terminal} IS NULL OR json_extract(Json, '$.terminal') = {query.Terminal})
              AND ({query.Batch} IS NULL OR json_extract(Json, '$.batch') = {query.Batch})
              AND ({query.LastFour} IS NULL OR r.Id IN (
                SELECT Id FROM Records WHERE Kind = 'row' AND Json <> '' AND json_extract(Json, '$.card') = {query.LastFour}))
              AND ({query.Reference} IS NULL OR json_extract(Json, '$.rrn') = {query.Reference} OR json_extract(Json, '$.auth') = {query.Reference})
              AND ({amount} IS NULL OR CAST(REPLACE(json_extract(Json, '$.amount'), '.', '') AS INTEGER) = {amount})
            ORDER BY Day DESC
            """).ToListAsync();
        foreach (var date in dates)
        {
            DayView? view = null;
            try
            {
                view = await days.View(DateOnly.ParseExact(date, "yyyy-MM-dd", CultureInfo.InvariantCulture), mayLag: true);
            }
            catch (UnreadableDayException)
            {
                // The day itself says so.
            }

            if (view is not null)
            {
                yield return view;
            }
        }
    }

    private static IEnumerable<FoundRow> RowsOf(DayView view)
    {
        var (result, day) = (view.Reconciliation, view.Setup.TradingDay.Date);
        var met = new Dictionary<BatchKey, (Item Journal, bool Differs)>();
        foreach (var match in result.Matches)
        {
            foreach (var row in match.Rows.Where(r => r.CarriedFrom is null))
            {
                met[row.Row!.Key] = (match.Journal[0], !match.Difference.IsZero);
            }
        }

        return (view.Day.Rows ?? []).OrderBy(r => r.Key).Select(r => met.TryGetValue(r.Key, out var m)
            ? new FoundRow(day, r, m.Differs ? RowState.Differs : RowState.Met, m.Journal, TerminalComparison.BrandOf(r))
            : new FoundRow(day, r, RowState.Open, null, TerminalComparison.BrandOf(r)));
    }

    private static bool Fits(FoundRow found, BatchQuery query) =>
        (query.Terminal is null || found.Row.Key.Terminal.Value == query.Terminal)
        && (query.Batch is null || found.Row.Key.Batch == query.Batch)
        && (query.Amount is not { } amount || found.Row.Amount == amount.Abs())
        && (query.LastFour is null || found.Row.Card.LastFour == query.LastFour)
        && (query.Reference is null || found.Row.Card.Rrn == query.Reference || found.Row.Card.Approval == query.Reference)
        && (query.State is null || found.State == query.State);

    private static CardTotals Sum(IEnumerable<FoundRow> rows) =>
        rows.Aggregate(default(CardTotals), (sum, r) => sum + CardTotals.One(r.Row.Signed));
}
