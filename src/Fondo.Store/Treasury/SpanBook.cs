using System.Collections.Immutable;
using Fondo.Core.Amounts;
using Fondo.Core.Banking;
using Fondo.Core.Books;
using Fondo.Core.Closing;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.SetUp;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Treasury;

/// <summary>Closed days taken together, and the closes by which they stand in the books.</summary>
/// <param name="Posted">Their documents, in the order of their days.</param>
/// <param name="Open">Days of the span that are not closed: they are not in it.</param>
public sealed record BookedSpan(Span Span, Setup Setup, IReadOnlyList<CloseDocument> Posted, IReadOnlyList<DateOnly> Open);

/// <summary>Puts closed days together: their entries, what stands on each account, and each account at the bank against its
/// statements.</summary>
public sealed class SpanBook(StoreContext db, DayStore days, CloseOrder order, SetupBook book, CustomerList customers,
    StatementBook statements)
{
    /// <summary>Null where no day is closed yet.</summary>
    /// <param name="from">Null: the first of the month.</param>
    /// <param name="to">Null: the last closed day.</param>
    public async Task<BookedSpan?> Of(DateOnly? from, DateOnly? to)
    {
        var listed = await days.List();
        if (listed.Where(d => d.CloseNumber is not null).Select(d => (DateOnly?)d.Date).Max() is not { } latest
            || await book.For(latest) is not { Setup: var setup })
        {
            return null;
        }

        var until = to ?? latest;
        var since = from ?? new DateOnly(until.Year, until.Month, 1);
        var own = listed.Where(d => d.CloseNumber is not null && d.Date >= since && d.Date <= until).OrderBy(d => d.Date)
            .Select(d => d.CloseNumber!.Value).ToList();
        var booked = await order.Booked(until);
        var before = booked.Where(b => b.Day < since).Select(b => b.Close).LastOrDefault();
        var posted = booked.Where(b => b.Day >= since).Select(b => b.Close).ToList();
        var closes = (await days.Closes([.. own.Concat(posted).Append(before).Distinct()])).ToDictionary(c => c.Number, ClosingDesk.Read);
        IReadOnlyList<CloseDocument> documents = [.. posted.Select(c => closes[c])];
        var overShort = setup.Accounts.First(a => a.Id == "over-short").Account;
        var span = Span.Of(
            since, until, closes.GetValueOrDefault(before), [.. own.Select(c => closes[c])], documents, setup.Currency, overShort,
            await Balances(setup, since, until, [.. booked.Where(b => b.Day < since).Select(b => b.Close)], documents));
        return new(span, setup, documents,
            [.. listed.Where(d => d.HasTrade && d.CloseNumber is null && d.Date >= since && d.Date <= until).Select(d => d.Date).Order()]);
    }

    private async Task<SpanBalances> Balances(Setup setup, DateOnly from, DateOnly to, IReadOnlyList<int> earlier,
        IReadOnlyList<CloseDocument> documents)
    {
        var before = await Posted(earlier, setup.Currency);
        var entries = documents.SelectMany(d => d.ToAccountingEntry().Sums).GroupBy(s => s.Account)
            .ToDictionary(g => g.Key, g => g.Sum(s => s.Amount));
        return new(
            BalanceSheet.Of(setup), before.ToImmutableDictionary(), CustomerAccount.Of(setup).Select(a => a.Account).ToImmutableHashSet(),
            await Items(from.AddDays(-1), setup.Currency), await Items(to, setup.Currency),
            await Banks(setup, to, a => before.GetValueOrDefault(a) + entries.GetValueOrDefault(a)));
    }

    /// <summary>What the entries of these closes posted, by account.</summary>
    private async Task<Dictionary<string, Money>> Posted(IReadOnlyList<int> closes, Currency currency)
    {
        var numbers = string.Join(',', closes);
        var sums = await db.Database.SqlQuery<PostedSum>(
            $"""
            SELECT json_extract(b.value, '$.Account') AS Account, json_extract(b.value, '$.Amount') AS Amount
            FROM Closes c, json_each(c.Content, '$.Books') b WHERE c.Number IN (SELECT value FROM json_each('[' || {numbers} || ']'))
            """).ToListAsync();
        return sums.GroupBy(s => s.Account, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.Sum(s => Read(s.Amount, currency)), StringComparer.Ordinal);
    }

    /// <summary>Customers' items by the closes booked up to a day; what came without a number is one item.</summary>
    private async Task<ImmutableArray<ClosedMoneyItem>> Items(DateOnly to, Currency currency) =>
    [
        .. (await customers.Booked(to)).Where(i => !i.Left.IsZero).OrderBy(i => i.Since)
            .ThenBy(i => i.Key.Reference, StringComparer.Ordinal)
            .Select(i => new ClosedMoneyItem(MoneyPlace.Customer.Written(), i.Key.Account,
                i.Key.Reference.Length == 0 ? "without a number" : string.Join(", ", new[] { i.Key.Reference, i.Name }.OfType<string>()),
                currency.Format(i.Left), i.Since)),
    ];

    private async Task<ImmutableArray<BankReconciliation>> Banks(Setup setup, DateOnly to, Func<string, Money> posted)
    {
        var heads = (await statements.Heads()).Where(s => s.To <= to).ToList();
        var ids = heads.Select(h => h.Id).ToList();
        var lines = (await db.BankLines.AsNoTracking().Where(l => ids.Contains(l.Statement)).ToListAsync())
            .ToLookup(l => l.Statement, BankDesk.ToLine);
        var inBooks = await InBooks(to);
        var numbers = heads.Select(h => h.Account).Concat(inBooks.Select(l => l.Account)).Distinct(StringComparer.Ordinal)
            .Order(StringComparer.Ordinal);
        return
        [
            .. BalanceSheet.OfBank(setup, numbers).OrderBy(g => g.Key, StringComparer.Ordinal).Select(g => BankReconciliation.Of(
                g.Key, [.. g], posted(g.Key), [.. heads.Where(h => g.Contains(h.Account)).Select(h => h with { Lines = [.. lines[h.Id]] })],
                inBooks.Where(l => g.Contains(l.Account))
                    .ToDictionary(l => l.Line.Key, l => (l.Line.Booked, l.Line.Amount), StringComparer.Ordinal))),
        ];
    }

    /// <summary>The lines that stand in the entries up to a day, each with its account at the bank.</summary>
    private async Task<IReadOnlyList<(BankLine Line, string Account)>> InBooks(DateOnly to)
    {
        var booked = (await order.Booked(to)).Select(b => b.Day).ToHashSet();
        var rows = await (
            from line in db.BankLines.AsNoTracking()
            join statement in db.BankStatements on line.Statement equals statement.Id
            where !db.StatementWithdrawals.Any(w => w.Statement == line.Statement)
            select new
            {
                Line = line,
                statement.Account,
                Later = db.BankLineDays.Where(d => d.Key == line.Key).Select(d => (DateOnly?)d.Day)
                .FirstOrDefault()
            }).ToListAsync();
        return [.. rows.Where(r => r.Later is { } day ? booked.Contains(day) : !r.Line.Waits && booked.Contains(r.Line.Day))
            .Select(r => (BankDesk.ToLine(r.Line), r.Account))];
    }

    private static Money Read(string text, Currency currency) => currency.TryParse(text, out var amount) ? amount : Money.Zero;

    private sealed record PostedSum(string Account, string Amount);
}
