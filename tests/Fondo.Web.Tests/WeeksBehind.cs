using System.Globalization;
using Fondo.Core.Closing;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Web.Tests;

/// <summary>The demo with closed days behind it.</summary>
public sealed class WeeksBehind : IDisposable
{
    private readonly Shop _shop = new() { Weeks = 1 };

    public void Dispose() => _shop.Dispose();

    [Fact]
    public async Task A_week_of_closed_days_hangs_together_and_leads_to_the_evening()
    {
        var visitor = await _shop.SignedIn();
        using var scope = _shop.Services.CreateScope();
        var closes = await scope.ServiceProvider.GetRequiredService<DayStore>().Closes();
        Assert.Equal(Enumerable.Range(1, 7), closes.Select(c => c.Number));
        Assert.Null(CloseChain.FirstBroken(closes));
        var documents = closes.Select(ClosingDesk.Read).ToList();
        Assert.Equal(Enumerable.Range(14, 7).Select(d => $"2026-11-{d}"), documents.Select(d => d.TradingDay));
        Assert.All(documents, d => Assert.All(d.Cells, c => Assert.Equal("proved", c.State)));
        Assert.Contains(documents.SelectMany(d => d.Cells), c => c.Variance is not (null or "0.00")); // cents, within tolerance

        // Numbers go on from Friday to Saturday without a gap.
        Assert.Empty(await scope.ServiceProvider.GetRequiredService<Numbering>().Missing(new(2026, 11, 21)));
        Assert.Equal(1, await _shop.InStore(async db =>
            await db.Events.Where(e => e.Day == new DateOnly(2026, 11, 21) && e.Register == "L2")
                .MinAsync(e => e.Number) - await db.Events.Where(e => e.Day == new DateOnly(2026, 11, 20) && e.Register == "L2")
                    .MaxAsync(e => e.Number)));

        // What was left on Friday is what Saturday began with.
        Assert.Contains("All floats are right", (await visitor.Page($"{Shop.Day}/open")).QuerySelector("h1")!.TextContent,
            StringComparison.Ordinal);
        var friday = await scope.ServiceProvider.GetRequiredService<DayStore>().View(new(2026, 11, 20));
        Assert.Contains(friday!.Day.Counts, c => c.Kind == Core.Proof.CountKind.Kept && c.Cash.Minor == 200_00);

        // A ticket of another week is found, and its day is closed to every change.
        var old = await _shop.InStore(db => db.Events.Where(e => e.Day == new DateOnly(2026, 11, 16) && e.Kind == EventKind.Sale)
            .OrderBy(e => e.Id).FirstAsync());
        Assert.Contains(old.Key, (await visitor.Page($"/find?q={old.Key}")).QuerySelector("#found")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("closed, no. 3", (await visitor.Page("/days")).Body!.TextContent, StringComparison.Ordinal);
        Assert.Equal(old.Amount, (long)(decimal.Parse(
            (await visitor.Page($"/2026-11-16/ticket/{old.Key}")).QuerySelector(".total-line .n")!.TextContent,
            CultureInfo.InvariantCulture) * 100));
    }

    /// <summary>Rules §12: a day closed anew with closed days behind it changes nothing in them; the correction stands once, in the entry
    /// of the earliest open day.</summary>
    [Fact]
    public async Task A_correction_with_closed_days_behind_it_is_posted_once_in_the_day_that_is_open()
    {
        DateOnly monday = new(2026, 11, 16), saturday = new(2026, 11, 21);
        Task<DayView> View(DateOnly day) => _shop.Ask(async (DayStore days) => (await days.View(day))!);
        var odile = await _shop.SignedIn();
        var behind = await odile.Page("/2026-11-18/books");
        var spanBefore = await odile.Page("/span?from=2026-11-14&to=2026-11-20");

        Assert.True((await _shop.Ask((ClosingDesk d) => d.Reopen(monday, "a slip was found", Shop.Tamsin))).IsDone);
        var off = (await View(monday)).Bridges.Values
            .First(b => b.Cell.Key.Written.Tender == "cash" && b.Cell.Key.Register is not null && b.Left is { IsZero: false });
        Proposal slip = new(EntryKind.Record, [new(off.Cell.Key, off.Left!.Value)],
            new EntryDetail.Moved(off.Left.Value.Sign < 0 ? MovementKind.PaidOut : MovementKind.PaidIn), "the slip lay under the drawer",
            []);
        Assert.Null((await _shop.Ask((Resolving r) => r.Add(monday, Guid.NewGuid(), [slip], Shop.Odile))).Objection);
        Assert.Null((await _shop.Ask((ClosingDesk d) => d.Close(monday, Shop.Odile))).Objection);

        var document = ClosingDesk.Read((await View(monday)).Close!);
        Assert.Equal((3, 2), (document.Corrects, document.Revision));
        var page = await odile.Page("/2026-11-16/books");
        Assert.Contains("The changes are posted in the entry of Saturday, 21 November", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain("USD", await (await odile.Get("/2026-11-16/books?handler=File&kind=journal")).Content.ReadAsStringAsync(),
            StringComparison.Ordinal);

        // Days between stand as they are; the day that is open has both sides of it.
        Assert.Equal(behind.QuerySelector(".books")!.TextContent,
            (await odile.Page("/2026-11-18/books")).QuerySelector(".books")!.TextContent);
        var posted = Core.Books.AccountingEntry.Of((await View(saturday)).Reconciliation, (await View(saturday)).Entries,
            (await View(saturday)).Money).Sums.Where(s => s.What.EndsWith(", correction of 2026-11-16", StringComparison.Ordinal)).ToList();
        Assert.Equal(0, posted.Sum(s => s.Amount.Minor));
        Assert.Equal(off.Left.Value.Abs(), Assert.Single(posted, s => s.Amount.Sign > 0).Amount);
        Assert.Equal(2, posted.Count);

        // A span without that day is what it was.
        static string Accounts(AngleSharp.Dom.IDocument span) =>
            span.QuerySelectorAll("h2").Single(h => h.TextContent == "Accounts").NextElementSibling!.TextContent;
        Assert.Equal(Accounts(spanBefore), Accounts(await odile.Page("/span?from=2026-11-14&to=2026-11-20")));
    }

    /// <summary>Rules §12: where every day behind a corrected one is opened again as well, nothing that was handed on stands any more: the
    /// day itself says it, and no open day posts it a second time.</summary>
    [Fact]
    public async Task A_correction_is_not_posted_on_top_once_all_days_behind_it_are_open_again()
    {
        DateOnly monday = new(2026, 11, 16), saturday = new(2026, 11, 21);
        Task<DayView> View(DateOnly day) => _shop.Ask(async (DayStore days) => (await days.View(day))!);
        async Task Close(DateOnly day) => Assert.Null((await _shop.Ask((ClosingDesk d) => d.Close(day, Shop.Odile))).Objection);
        async Task Reopen(DateOnly day) =>
            Assert.True((await _shop.Ask((ClosingDesk d) => d.Reopen(day, "looked at again", Shop.Tamsin))).IsDone);
        var odile = await _shop.SignedIn();

        await Reopen(monday);
        var off = (await View(monday)).Bridges.Values
            .First(b => b.Cell.Key.Written.Tender == "cash" && b.Cell.Key.Register is not null && b.Left is { IsZero: false });
        Proposal slip = new(EntryKind.Record, [new(off.Cell.Key, off.Left!.Value)],
            new EntryDetail.Moved(off.Left.Value.Sign < 0 ? MovementKind.PaidOut : MovementKind.PaidIn), "the slip lay under the drawer",
            []);
        Assert.Null((await _shop.Ask((Resolving r) => r.Add(monday, Guid.NewGuid(), [slip], Shop.Odile))).Objection);
        await Close(monday);
        Assert.Contains(Entry(await View(saturday)), s => s.What.EndsWith(", correction of 2026-11-16", StringComparison.Ordinal));
        var before = await Ends(odile);

        for (var day = new DateOnly(2026, 11, 20); day >= monday; day = day.AddDays(-1))
        {
            await Reopen(day);
        }

        for (var day = monday; day < saturday; day = day.AddDays(1))
        {
            await Close(day);
        }

        Assert.DoesNotContain(Entry(await View(saturday)), s => s.What.Contains("correction of", StringComparison.Ordinal));
        var (petty, overShort) = off.Left.Value.Sign < 0
            ? ("Expenses:Petty cash", "Expenses:Over and short")
            : ("Income:Other", "Expenses:Over and short");
        var after = await Ends(odile);
        Assert.Equal(before.GetValueOrDefault(petty) - off.Left.Value.Minor, after.GetValueOrDefault(petty));
        Assert.Equal(before.GetValueOrDefault(overShort) + off.Left.Value.Minor, after.GetValueOrDefault(overShort));
        Assert.Equal(before.Where(b => b.Key != petty && b.Key != overShort), after.Where(b => b.Key != petty && b.Key != overShort));

        static IEnumerable<Core.Books.BookSum> Entry(DayView view) =>
            Core.Books.AccountingEntry.Of(view.Reconciliation, view.Entries, view.Money).Sums;
        static async Task<SortedDictionary<string, long>> Ends(Visitor visitor)
        {
            var span = await visitor.Page("/span?from=2026-11-14&to=2026-11-20");
            var rows = span.QuerySelectorAll("h2").Single(h => h.TextContent == "Accounts").NextElementSibling!.QuerySelectorAll("tbody tr")
                .Select(r => r.QuerySelectorAll("td").Select(c => c.TextContent.Trim()).ToList());
            return new(rows.ToDictionary(r => r[0],
                r => (long)(decimal.Parse(string.Concat(r[4].Replace('−', '-').Where(c => char.IsAsciiDigit(c) || c is '-' or '.')),
                    CultureInfo.InvariantCulture) * 100)), StringComparer.Ordinal);
        }
    }
}
