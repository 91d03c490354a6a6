using Fondo.Core.Banking;
using Fondo.Core.Books;

namespace Fondo.Core.Closing;

/// <summary>What one ticket of a closed day did to a customer's item.</summary>
/// <param name="Reference">The number of the item; empty where it came without one.</param>
/// <param name="Amount">Debits are positive, credits negative.</param>
/// <param name="Left">What was left of the item when the day ended; null for what came without a number.</param>
public sealed record ClosedCustomerMovement(string Account, string Reference, string? Name, string What, string Amount, string? Left,
    string Ticket)
{
    /// <summary>Whether a customer paid something of what they owe.</summary>
    public bool IsPayment { get; init; }

    /// <summary>The day's movements by ticket, and behind them what differences and entries leave on the accounts.</summary>
    public static ImmutableArray<ClosedCustomerMovement> Of(CustomerDay day, AccountingEntry entry, MoneyDay? money,
        Func<Money, string> text)
    {
        var left = day.Left();
        var corrections = (money?.Corrections ?? []).SelectMany(c => c.Sums).Select(s => (s.Account, s.Amount));
        return
        [
            .. day.Movements.Concat(CustomerMovement.Rest(day.Accounts, day.Movements, entry, corrections))
                .Select(m => new ClosedCustomerMovement(m.Key.Account, m.Key.Reference, m.Name, m.What, text(m.Amount),
                    m.Key.Reference.Length == 0 ? null : text(left[m.Key]), m.Source)
                    {
                        IsPayment = m.Source.Length > 0 && m.Amount.Sign < 0 && day.IsOwedToStore(m.Key.Account)
                    }),
        ];
    }
}

/// <summary>How an account of customers stands when a day is closed.</summary>
/// <param name="Balance">Debits are positive, credits negative.</param>
public sealed record ClosedCustomerAccount(string Account, string Balance)
{
    public static ImmutableArray<ClosedCustomerAccount> Of(CustomerDay day, AccountingEntry entry, Func<Money, string> text)
    {
        var moved = entry.Sums.ToLookup(s => s.Account, s => s.Amount);
        return [.. day.Accounts.Select(a => a.Account).Union(day.Balances.Keys)
            .Select(a => new ClosedCustomerAccount(a, text(day.Balances.GetValueOrDefault(a) + moved[a].Sum(m => m))))];
    }
}
