namespace Fondo.Core.Books;

/// <summary>What a day does to customers' items, and how these stood before.</summary>
/// <param name="Accounts">The accounts on which they stand.</param>
/// <param name="Movements">By its tickets.</param>
/// <param name="Before">How each item that it moves stood before; what is not in it stood at nothing.</param>
/// <param name="Balances">How the accounts stood before; what is not in it stood at nothing.</param>
public sealed record CustomerDay(
    ImmutableArray<CustomerAccount> Accounts, ImmutableArray<CustomerMovement> Movements, ImmutableDictionary<CustomerKey, Money> Before,
    ImmutableDictionary<string, Money> Balances)
{
    public static readonly CustomerDay Nothing =
        new([], [], ImmutableDictionary<CustomerKey, Money>.Empty, ImmutableDictionary<string, Money>.Empty);

    /// <summary>What earlier days did that are not closed yet; it is in <see cref="Before"/> too.</summary>
    public ImmutableArray<CustomerMovement> Unclosed { get; init; } = [];

    /// <summary>Whether an account's items are what customers owe.</summary>
    public bool IsOwedToStore(string account) => Accounts.Any(a => a.Account == account && a.IsOwedToStore);

    /// <summary>What is left of each item that the day moves when it ends. Debits are positive.</summary>
    public IReadOnlyDictionary<CustomerKey, Money> Left() =>
        Movements.GroupBy(m => m.Key).ToDictionary(g => g.Key, g => Before.GetValueOrDefault(g.Key) + g.Sum(m => m.Amount));

    /// <summary>What was paid on account.</summary>
    public IEnumerable<CustomerMovement> PaidOnAccount => Movements.Where(m => m.Amount.Sign < 0 && IsOwedToStore(m.Key.Account));

    /// <summary>The items that the day moved past nothing, each with how far: more paid than was owed, more used than was loaded.</summary>
    public IEnumerable<(CustomerKey Key, Money By)> PastNothing =>
        Movements.Where(m => m.Key.Reference.Length > 0).GroupBy(m => m.Key)
            .Select(g => (g.Key, Moved: g.Sum(m => m.Amount)))
            .Select(i => (i.Key, Side: IsOwedToStore(i.Key.Account) ? 1 : -1, i.Moved, Left: Before.GetValueOrDefault(i.Key) + i.Moved))
            .Where(i => i.Left.Sign * i.Side < 0 && i.Moved.Sign * i.Side < 0).Select(i => (i.Key, i.Left.Abs()));
}
