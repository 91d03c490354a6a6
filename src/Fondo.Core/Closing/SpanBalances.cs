namespace Fondo.Core.Closing;

/// <summary>What is known of the accounts on which something stays, besides what the closes of a span say.</summary>
/// <param name="Kept">The accounts on which something stays.</param>
/// <param name="Before">What all entries before the span posted, by account.</param>
/// <param name="CustomerAccounts">The accounts on which customers' items stand.</param>
/// <param name="CustomersBefore">Customers' items when the span begins.</param>
/// <param name="Customers">Customers' items when it ends.</param>
/// <param name="Banks">Each account at the bank against its statements.</param>
public sealed record SpanBalances(
    ImmutableHashSet<string> Kept, ImmutableDictionary<string, Money> Before, ImmutableHashSet<string> CustomerAccounts,
    ImmutableArray<ClosedMoneyItem> CustomersBefore, ImmutableArray<ClosedMoneyItem> Customers, ImmutableArray<BankReconciliation> Banks)
{
    public bool IsKept(string account) => Kept.Contains(account);

    /// <summary>Whether its items are followed one by one, whatever is there now.</summary>
    public bool IsFollowed(string account) => CustomerAccounts.Contains(account);
}
