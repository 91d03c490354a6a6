using Fondo.Core.Custody;

namespace Fondo.Core.Banking;

/// <summary>Brings what an earlier day changed into what a later one begins with: item by item, what the new revision says less what the
/// old one said (rules §12).</summary>
public static class Corrected
{
    /// <param name="start">What the day begins with.</param>
    /// <param name="before">What the corrected day had handed on.</param>
    /// <param name="after">What it should have handed on.</param>
    public static MoneyStart With(this MoneyStart start, MoneyStart before, MoneyStart after) => start with
    {
        Custody = Of(start.Custody, before.Custody, after.Custody),
        Bank = Of(start.Bank, before.Bank, after.Bank),
        Orders = Items(start.Orders, before.Orders, after.Orders, o => o.Number, o => o.OnItsWay,
            (o, amount) => o with { Delivered = o.Paid - amount }),
        Claims = Items(start.Claims, before.Claims, after.Claims, c => c.Id, c => c.Amount, (c, amount) => c with { Amount = amount }),
    };

    private static CustodyStart Of(CustodyStart start, CustodyStart before, CustodyStart after)
    {
        var loose = (after.Loose ?? after.Moved) - (before.Loose ?? before.Moved);
        return new(
            start.Loose is { } known ? known + loose : null,
            Items(start.Bags, before.Bags, after.Bags, b => b.Name, b => b.Amount, (b, amount) => b with { Amount = amount }),
            Items(start.Checks, before.Checks, after.Checks, c => c.Key, c => c.Amount, (c, amount) => c with { Amount = amount }))
        {
            Pieces = loose.IsZero ? start.Pieces : [],
            Moved = start.Loose is null ? start.Moved + loose : start.Moved,
        };
    }

    private static BankStart Of(BankStart start, BankStart before, BankStart after) => new(
        Items(start.Deposits, before.Deposits, after.Deposits, d => d.Deposit.Number, d => d.Outstanding,
            (d, amount) => d with { Credited = d.Deposit.Amount - amount }),
        Fundings(start.Fundings, before.Fundings, after.Fundings),
        Items(start.Fees, before.Fees, after.Fees, f => f.Processor, f => f.Amount, (f, amount) => f with { Amount = amount }));

    private static ImmutableArray<Funding> Fundings(ImmutableArray<Funding> start, ImmutableArray<Funding> before,
        ImmutableArray<Funding> after)
    {
        var (there, was, becomes) = (start.ToDictionary(f => f.Key), before.ToDictionary(f => f.Key), after.ToDictionary(f => f.Key));
        var result = new List<Funding>();
        foreach (var key in there.Keys.Union(was.Keys).Union(becomes.Keys))
        {
            var (here, old, now) = (there.GetValueOrDefault(key), was.GetValueOrDefault(key), becomes.GetValueOrDefault(key));
            var tenders = Items(here?.Tenders ?? [], old?.Tenders ?? [], now?.Tenders ?? [], t => t.Tender, t => t.Amount,
                (t, amount) => t with { Amount = amount });
            var known = here ?? now ?? old!;
            var funding = known with
            {
                Tenders = tenders,
                Number = (here?.Number ?? 0) + (now?.Number ?? 0) - (old?.Number ?? 0),
                Fee = (here?.Fee ?? Money.Zero) + (now?.Fee ?? Money.Zero) - (old?.Fee ?? Money.Zero),
            };
            if (!funding.Gross.IsZero || !funding.Fee.IsZero || !tenders.IsEmpty)
            {
                result.Add(funding);
            }
        }

        return [.. result.OrderBy(f => f.Day).ThenBy(f => f.Processor, StringComparer.Ordinal)];
    }

    /// <summary>Amounts by key; what comes to nothing is left out, what is there no more and is corrected stands there with the correction
    /// alone.</summary>
    private static ImmutableArray<T> Items<T, TKey>(
        ImmutableArray<T> start, ImmutableArray<T> before, ImmutableArray<T> after, Func<T, TKey> keyOf, Func<T, Money> amountOf,
        Func<T, Money, T> withAmount)
        where TKey : notnull
    {
        var (was, becomes) = (before.ToDictionary(keyOf), after.ToDictionary(keyOf));
        Money Change(TKey key) => (becomes.TryGetValue(key, out var now) ? amountOf(now) : Money.Zero) - (was.TryGetValue(key, out var old)
            ? amountOf(old)
            : Money.Zero);
        var there = start.Select(keyOf).ToHashSet();
        return
        [
            .. start.Concat(after.Concat(before).DistinctBy(keyOf).Where(i => !there.Contains(keyOf(i)) && !Change(keyOf(i)).IsZero)
                .Select(i => withAmount(i, Money.Zero)))
                .Select(i => withAmount(i, amountOf(i) + Change(keyOf(i)))).Where(i => !amountOf(i).IsZero),
        ];
    }
}
