using Fondo.Core.Amounts;
using Fondo.Core.Books;
using Fondo.Store.Days;

namespace Fondo.Store.Treasury;

/// <summary>One movement of a customer's item, on its day.</summary>
public sealed record CustomerStep(DateOnly Day, CustomerMovement Movement);

/// <summary>An item of a customer: an invoice, a layaway, a gift card or a store credit.</summary>
/// <param name="Name">Whom its first ticket names that names somebody; null where none does.</param>
/// <param name="Words">All that its tickets say of it, to look through.</param>
/// <param name="Since">The day of its first ticket.</param>
/// <param name="Last">The day of its last ticket.</param>
/// <param name="Debits">What customers owe more by, or were owed less.</param>
public sealed record CustomerItem(CustomerKey Key, string? Name, string Words, DateOnly Since, DateOnly Last, Money Debits, Money Credits)
{
    /// <summary>What is left of it. Debits are positive.</summary>
    public Money Left => Debits - Credits;

    /// <summary>The item of these movements, the first one first.</summary>
    public static CustomerItem Of(IReadOnlyList<CustomerStep> steps) => new(
        steps[0].Movement.Key, steps.Select(s => s.Movement.Name).FirstOrDefault(n => n is not null),
        string.Join(' ', steps.SelectMany(s => new[] { s.Movement.Name, s.Movement.What }).Distinct()), steps.Min(s => s.Day),
        steps.Max(s => s.Day),
        steps.Where(s => s.Movement.Amount.Sign > 0).Sum(s => s.Movement.Amount),
        -steps.Where(s => s.Movement.Amount.Sign < 0).Sum(s => s.Movement.Amount));
}

/// <summary>What customers owe and are owed, item by item: by the closes that are booked, and by the days that are open.</summary>
public sealed class CustomerList(DayStore days, CustomerBook book, CloseOrder order)
{
    /// <summary>Every item that a ticket named, settled ones among them, and for each account what came without a number.</summary>
    /// <param name="to">The last day that counts.</param>
    public async Task<IReadOnlyList<CustomerItem>> Items(DateOnly to) =>
        [.. (await Steps(to, null)).GroupBy(s => s.Movement.Key).Select(g => CustomerItem.Of([.. g]))];

    /// <summary>The same by the closes alone that are booked.</summary>
    internal async Task<IReadOnlyList<CustomerItem>> Booked(DateOnly to) =>
        [.. (await book.Booked(to, null)).GroupBy(s => s.Movement.Key).Select(g => CustomerItem.Of([.. g]))];

    /// <summary>The movements of one item, the first one first; empty where nobody knows it.</summary>
    public async Task<IReadOnlyList<CustomerStep>> Steps(CustomerKey key) => [.. await Steps(DateOnly.MaxValue, key)];

    private async Task<IEnumerable<CustomerStep>> Steps(DateOnly to, CustomerKey? key)
    {
        var booked = (await order.Booked(to)).Select(b => b.Day).ToHashSet();
        var steps = await book.Booked(to, key);
        foreach (var day in (await days.List()).Where(d => d.HasTrade && d.CloseNumber is null && d.Date <= to && !booked.Contains(d.Date))
            .OrderBy(d => d.Date))
        {
            var customers = (await days.View(day.Date))!.Customers;
            steps = steps.Concat(customers.Movements.Where(m => key is null || m.Key == key).Select(m => new CustomerStep(day.Date, m)));
        }

        return steps;
    }
}
