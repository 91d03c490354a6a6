namespace Fondo.Core.Books;

/// <summary>What a day does to customers' items, and how these stood before.</summary>
/// <param name="Accounts">The accounts on which they stand.</param>
/// <param name="Movements">By its tickets.</param>
/// <param name="Before">How each item that it moves stood before; what is not in it stood at nothing.</param>
/// <param name="Balances">How the accounts stood before; what is not in it stood at nothing.</param>
public sealed record CustomerDay(
    ImmutableArray<CustomerAccount> Accounts, ImmutableArray<CustomerMovement> Movements, ImmutableDictionary<CustomerKey, Money> Before, ImmutableDictionary<string, Money> Balances)
{
    public static readonly CustomerDay Nothing = new([], [], ImmutableDictionary<CustomerKey, Money>.Empty, ImmutableDictionary<string, Money>.Empty);

    /// <summary>What earlier days did that are not closed yet; it is in <see cref="Before"/> too.</summary>
    public ImmutableArray<CustomerMovement> Unclosed { get; init; } = [];

    /// <summary>Whether an account's items are what customers owe.</summary>
    public bool IsOwedToStore(string account) => Accounts.Any(a => a.Account == account && a.IsOwedToStore);

    /// <summary>What is left of an item when the day ends. Debits are positive.</summary>
    public Money Left(CustomerKey key) => Before.GetValueOrDefault(key) + Movements.Where(m => m.Key == key).Sum(m => m.Amount);

    /// <summary>What was paid on account.</summary>
    public IEnumerable<CustomerMovement> PaidOnAccount => Movements.Where(m => m.Amount.Sign < 0 && IsOwedToStore(m.Key.Account));

    /// <summary>The items that the day moved past nothing, each with how far: more paid than was owed, more used than was loaded.</summary>
    public IEnumerable<(CustomerKey Key, Money By)> PastNothing =>
        Movements.Where(m => m.Key.Reference.Length > 0).GroupBy(m => m.Key)
            .Select(g => (g.Key, Left: IsOwedToStore(g.Key.Account) ? Left(g.Key) : -Left(g.Key), Moved: IsOwedToStore(g.Key.Account) ? g.Sum(m => m.Amount) : -g.Sum(m => m.Amount)))
            .Where(i => i.Left.Sign < 0 && i.Moved.Sign < 0).Select(i => (i.Key, -i.Left));
}
