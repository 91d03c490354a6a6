using Fondo.Core.Journal;

namespace Fondo.Core.Books;

/// <summary>One amount on one account of the store's books, and what it comes from (rules §13).</summary>
/// <param name="Account">As the set-up names it.</param>
/// <param name="Amount">Debits are positive, credits negative.</param>
/// <param name="What">What it is made of: an article, a tender, a tax rate, a cause.</param>
/// <param name="Source">The ticket, the movement, the cell or the entry.</param>
public readonly record struct BookLine(string Account, Money Amount, string What, RegisterId? Register, string Source)
{
    /// <summary>The invoice, account, gift card or layaway that it belongs to; null where none is named.</summary>
    public string? Reference { get; init; }

    /// <summary>Whom the ticket names: on its tender, else in its note.</summary>
    public string? Name { get; init; }
}
