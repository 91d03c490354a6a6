using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;

namespace Fondo.Core.Books;

/// <summary>An invoice, a layaway, a gift card or a store credit: its number on its account.</summary>
/// <param name="Reference">Empty for all that came without a number.</param>
public readonly record struct CustomerKey(string Account, string Reference);

/// <summary>What one ticket does to a customer's item.</summary>
/// <param name="Name">Whom the ticket names; null where it names nobody.</param>
/// <param name="What">The line or the tender that does it.</param>
/// <param name="Amount">Debits are positive, credits negative.</param>
/// <param name="Source">The ticket; empty for what entries and differences leave on the account.</param>
public sealed record CustomerMovement(CustomerKey Key, string? Name, string What, Money Amount, string Source)
{
    /// <summary>What the tickets of a day that count do to customers' items, in the order of the journal.</summary>
    public static ImmutableArray<CustomerMovement> Of(Reconciliation result)
    {
        var (day, standing) = (result.Day, new Standing(result.Day));
        var (uses, accounts) =
            (new Uses(day.Setup), CustomerAccount.Of(day.Setup).Select(a => a.Account).ToHashSet(StringComparer.Ordinal));
        return
        [
            .. day.Journal.OfType<Ticket>().Where(t => MayMove(t) && standing.Stands(t)).SelectMany(t => TicketLines.Of(t, uses, day.Setup))
                .Where(l => accounts.Contains(l.Account) && !l.Amount.IsZero)
                .Select(l => new CustomerMovement(new(l.Account, l.Reference?.Trim() ?? ""), l.Name, l.What, l.Amount, l.Source)),
        ];

        bool MayMove(Ticket ticket) =>
            ticket.Lines.Any(l => l.Article.Account is not null) || ticket.Tenders.Any(t => t.Counts && accounts.Contains(uses[t.Type]));
    }

    /// <summary>What stands on customers' accounts by the entry of a day and by none of its tickets: differences, and what entries
    /// moved.</summary>
    /// <param name="corrections">What of the entry belongs to other days.</param>
    public static ImmutableArray<CustomerMovement> Rest(ImmutableArray<CustomerAccount> accounts, IEnumerable<CustomerMovement> moved,
        AccountingEntry entry, IEnumerable<(string Account, Money Amount)> corrections)
    {
        var (byTicket, others) = (moved.ToLookup(m => m.Key.Account, m => m.Amount), corrections.ToLookup(c => c.Account, c => c.Amount));
        return
        [
            .. accounts.Select(a => (a.Account,
                Amount: entry.Sums.Where(s => s.Account == a.Account)
                    .Sum(s => s.Amount) - byTicket[a.Account].Sum(m => m) - others[a.Account].Sum(m => m)))
                .Where(r => !r.Amount.IsZero).Select(r => new CustomerMovement(new(r.Account, ""), null, "differences and entries",
                    r.Amount, "")),
        ];
    }
}
