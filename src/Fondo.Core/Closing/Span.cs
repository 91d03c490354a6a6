using Fondo.Core.Books;
namespace Fondo.Core.Closing;

/// <summary>What came to an account in a span of days: the sum of the daily entries, to the cent.</summary>
/// <param name="Start">What stood on it when the span began, by the items that were there; null for an account that has no items.</param>
/// <param name="Items">What stands on it when the span ends, item by item.</param>
public sealed record SpanAccount(string Account, Money? Start, Money Debits, Money Credits, ImmutableArray<ClosedMoneyItem> Items,
    Money Open)
{
    /// <summary>What stands there by the entries.</summary>
    public Money End => (Start ?? Money.Zero) + Debits - Credits;

    /// <summary>What entries and items say apart; nothing for an account without items.</summary>
    public Money Apart => Start is null ? Money.Zero : End - Open;
}

public sealed record SpanAmount(string Name, Money Amount);

/// <summary>A deposit of the span, and whether the bank has credited all of it.</summary>
public sealed record SpanDeposit(int Number, string Bag, DateOnly Day, Money Amount, Money Outstanding);

/// <summary>Closed days taken together: takings, fees, differences, deposits, and every clearing account with what is still on it (rules
/// §13).</summary>
/// <param name="Days">How many closed days there are in it.</param>
/// <param name="OverShort">By cause, as the entries say.</param>
public sealed record Span(
    DateOnly From, DateOnly To, int Days, ImmutableArray<SpanAmount> Takings, ImmutableArray<SpanAmount> OverShort,
    ImmutableArray<SpanAmount> Fees, ImmutableArray<SpanDeposit> Deposits, ImmutableArray<SpanAccount> Accounts)
{
    /// <summary>Each account at the bank against its statements.</summary>
    public ImmutableArray<BankReconciliation> Banks { get; init; } = [];

    /// <summary>What tickets took, tender by tender, as the entries say it: no float, no drop and no difference is in it. Cash back and
    /// tips that cards took for others come off.</summary>
    private static ImmutableArray<SpanAmount> Taken(IReadOnlyList<CloseDocument> documents, IEnumerable<(string What, Money Amount)> sums)
    {
        var byName = sums.ToLookup(s => BookItem.Uncorrected(s.What), s => s.Amount, StringComparer.Ordinal);
        return
        [
            .. documents.SelectMany(d => d.Totals).Select(t => t.Tender).Distinct(StringComparer.Ordinal)
                .Concat([BookItem.CashBack, BookItem.Tips])
                .Select(n => new SpanAmount(n, byName[n].Sum(a => a))).Where(t => !t.Amount.IsZero),
        ];
    }

    /// <param name="before">What the last closed day before the span was posted by; null where it is the first.</param>
    /// <param name="documents">The standing closes of the span, in their order.</param>
    /// <param name="posted">The closes by which their days were posted, in their order: that of a corrected day is the one that the days
    /// behind it began with, for the correction stands in the entry of a later day (rules §12).</param>
    /// <param name="overShort">The account of what is over and short.</param>
    /// <param name="kept">What is known besides of the accounts on which something stays.</param>
    public static Span Of(
        DateOnly from, DateOnly to, CloseDocument? before, IReadOnlyList<CloseDocument> documents, IReadOnlyList<CloseDocument> posted,
        Currency currency, string overShort, SpanBalances kept)
    {
        Money Read(string text) => currency.TryParse(text, out var amount) ? amount : Money.Zero;
        static DateOnly DateOf(CloseDocument doc) =>
            DateOnly.ParseExact(doc.TradingDay, "yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
        var sums = posted.SelectMany(d => d.Books).Select(b => (b.Account, b.What, Amount: Read(b.Amount))).ToList();
        var (first, last) = (before?.Whereabouts, posted.Count == 0 ? before?.Whereabouts : posted[^1].Whereabouts);
        var (began, open) = ((first?.Items ?? []).Concat(kept.CustomersBefore).ToLookup(i => i.Account),
            (last?.Items ?? []).Concat(kept.Customers).ToLookup(i => i.Account));
        // An account whose things nobody follows one by one is made of what each day left on it.
        var byDay = posted.SelectMany(d => d.Books.Select(b => (Day: DateOf(d), b.Account, Amount: Read(b.Amount))))
            .ToLookup(b => b.Account, b => (b.Day, b.Amount));
        ImmutableArray<ClosedMoneyItem> ByDay(string account) =>
        [
            .. kept.Before.GetValueOrDefault(account) is { IsZero: false } there
                ? [new ClosedMoneyItem("", account, $"before {from:yyyy-MM-dd}", currency.Format(there), from)]
                : Array.Empty<ClosedMoneyItem>(),
            .. byDay[account].GroupBy(b => b.Day).Select(g => (Day: g.Key, Amount: g.Sum(b => b.Amount))).Where(d => !d.Amount.IsZero)
                .OrderBy(d => d.Day)
                .Select(d => new ClosedMoneyItem("", account, $"entries of {d.Day:yyyy-MM-dd}", currency.Format(d.Amount), d.Day)),
        ];
        var outstanding = (last?.OpenDeposits ?? []).ToDictionary(d => d.Number, d => Read(d.Credited));
        return new(
            from, to, documents.Count,
            Taken(documents, sums.Select(s => (s.What, s.Amount))),
            [.. sums.Where(s => s.Account == overShort).GroupBy(s => s.What, StringComparer.Ordinal)
                .Select(g => new SpanAmount(g.Key, g.Sum(s => s.Amount)))],
            [.. sums.Where(s => s.What is BookItem.ProcessorsKeep or BookItem.ProcessorsBilled).GroupBy(s => s.What)
                .Select(g => new SpanAmount(g.Key, g.Sum(s => s.Amount)))],
            [
                .. documents.SelectMany(d => (d.Whereabouts?.Sealed ?? [])
                    .Select(s => (Day: DateOf(d), Deposit: s, Amount: Read(s.Cash) + Read(s.Checks))))
                    .Select(d => new SpanDeposit(d.Deposit.Number, d.Deposit.Bag, d.Day, d.Amount,
                        outstanding.TryGetValue(d.Deposit.Number, out var credited) ? d.Amount - credited : Money.Zero)),
            ],
            [
                .. sums.Select(s => s.Account).Union(began.Select(g => g.Key)).Union(open.Select(g => g.Key))
                    .Union(kept.Before.Where(b => !b.Value.IsZero && kept.IsKept(b.Key)).Select(b => b.Key)).Order(StringComparer.Ordinal)
                    .Select(account =>
                {
                    var (own, itemsThen, itemsNow) =
                        (sums.Where(s => s.Account == account).ToList(), began[account].ToList(), open[account].ToImmutableArray());
                    var hasItems = itemsThen.Count + itemsNow.Length > 0 || kept.IsFollowed(account);
                    if (!hasItems && kept.IsKept(account))
                    {
                        itemsNow = ByDay(account);
                        return new SpanAccount(account, kept.Before.GetValueOrDefault(account), Debits(own), Credits(own), itemsNow,
                            itemsNow.Sum(i => Read(i.Amount)));
                    }

                    return new SpanAccount(
                        account, hasItems ? itemsThen.Sum(i => Read(i.Amount)) : null, Debits(own), Credits(own), itemsNow,
                        itemsNow.Sum(i => Read(i.Amount)));
                }),
            ])
        { Banks = kept.Banks };

        static Money Debits(List<(string Account, string What, Money Amount)> own) => own.Where(s => s.Amount.Sign > 0).Sum(s => s.Amount);
        static Money Credits(List<(string Account, string What, Money Amount)> own) =>
            -own.Where(s => s.Amount.Sign < 0).Sum(s => s.Amount);
    }
}
