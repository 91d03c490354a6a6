using System.Collections.Immutable;
using Fondo.Core.Amounts;
using Fondo.Core.Books;
using Fondo.Core.Closing;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Treasury;

/// <summary>What customers owe and are owed, from the closes that are booked.</summary>
public sealed class CustomerBook(StoreContext db, CloseOrder order)
{
    /// <param name="close">The number of the day's own close; null while it is open.</param>
    /// <param name="openBefore">The day before, where that one is open still.</param>
    internal async Task<CustomerDay> Of(KnownDay known, int? close, CustomerDay? openBefore)
    {
        var setup = known.Overview.Result.Day.Setup;
        var date = setup.TradingDay.Date;
        var movements = known.CustomerMovements;
        var unclosed = openBefore is null ? [] : openBefore.Unclosed.AddRange(openBefore.Movements);
        var keys = movements.Select(m => m.Key).Where(k => k.Reference.Length > 0).ToHashSet();
        var before = keys.ToDictionary(k => k, k => unclosed.Where(m => m.Key == k).Sum(m => m.Amount));
        if (keys.Count > 0)
        {
            var weights = await order.Weights(date.AddDays(-1), date);
            var references = keys.Select(k => k.Reference).ToHashSet();
            foreach (var row in await db.CustomerMovements.AsNoTracking().Where(m => references.Contains(m.Reference)).ToListAsync())
            {
                if (before.ContainsKey(row.Key))
                {
                    before[row.Key] += new Money(row.Amount * weights.GetValueOrDefault(row.Close));
                }
            }
        }

        return new(CustomerAccount.Of(setup), movements, before.ToImmutableDictionary(), await Balances(date, close, setup.Currency))
        {
            Unclosed = unclosed
        };
    }

    /// <summary>Within the transaction that closes the day.</summary>
    internal void Write(CloseDocument document, DateOnly day) => db.CustomerMovements.AddRange(RowsOf(document, day));

    /// <summary>The rows of a close document, in its order.</summary>
    internal static IEnumerable<CustomerMovementRow> RowsOf(CloseDocument document, DateOnly day)
    {
        var currency = document.CurrencyOf();
        return document.Customers.Select(c => new CustomerMovementRow
        {
            Close = document.Number,
            Day = day,
            Account = c.Account,
            Reference = c.Reference,
            Name = c.Name,
            What = c.What,
            Amount = currency.TryParse(c.Amount, out var amount) ? amount.Minor : 0,
            Ticket = c.Ticket,
        });
    }

    /// <summary>What the booked closes did up to a day, in their order.</summary>
    /// <param name="key">Of one item alone; null: of all.</param>
    internal async Task<IEnumerable<CustomerStep>> Booked(DateOnly to, CustomerKey? key)
    {
        var weights = await order.Weights(to, to);
        var which = key is { } one
            ? db.CustomerMovements.Where(m => m.Account == one.Account && m.Reference == one.Reference)
            : db.CustomerMovements;
        return (await which.AsNoTracking().Where(m => m.Day <= to).OrderBy(m => m.Day).ThenBy(m => m.Number).ToListAsync())
            .Select(m => new CustomerStep(m.Day, new(m.Key, m.Name, m.What, new(m.Amount * weights.GetValueOrDefault(m.Close)), m.Ticket)))
            .Where(s => !s.Movement.Amount.IsZero);
    }

    /// <summary>How the accounts stood before a day, as the close before says; nothing where there is none, or it says nothing of
    /// them.</summary>
    private async Task<ImmutableDictionary<string, Money>> Balances(DateOnly date, int? close, Currency currency)
    {
        var accounts = await order.Before(date, close) is { } last
            && await order.Document(last) is { CustomerAccounts: { IsDefault: false } known } ? known : [];
        return accounts.ToImmutableDictionary(a => a.Account, a => currency.TryParse(a.Balance, out var balance) ? balance : Money.Zero);
    }
}
