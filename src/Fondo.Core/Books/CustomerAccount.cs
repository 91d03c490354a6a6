using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Books;

/// <summary>What a customer has with the store.</summary>
public enum CustomerItemKind
{
    /// <summary>A sale on account, which the customer owes.</summary>
    Invoice,

    GiftCard,

    StoreCredit,

    /// <summary>Goods that are paid in parts and not handed out yet.</summary>
    Layaway,
}

/// <summary>An account of the store's books on which customers' items stand.</summary>
/// <param name="Account">As the set-up names it.</param>
public sealed record CustomerAccount(string Account, CustomerItemKind Kind)
{
    /// <summary>Whether its items are what customers owe; else they are what the store owes.</summary>
    public bool IsOwedToStore => Kind == CustomerItemKind.Invoice;

    /// <summary>The accounts of a set-up, in the order of their kinds. Where kinds share an account, the first names it.</summary>
    public static ImmutableArray<CustomerAccount> Of(Setup setup)
    {
        var uses = new Uses(setup);
        var ledgers = setup.Tenders.Where(t => t.Proof == ProofKind.Ledger).Select(t => new CustomerAccount(t.Account, KindOf(t.Id)));
        var lines = new CustomerAccount[]
        {
            new(uses["account-payment"], CustomerItemKind.Invoice),
            new(uses["gift-card-load"], CustomerItemKind.GiftCard)
        };
        var layaway = setup.Policy.Layaway == LayawayPosting.Deposit
            ? [new(uses["layaway"], CustomerItemKind.Layaway)]
            : Array.Empty<CustomerAccount>();
        return [.. lines.Concat(ledgers).Concat(layaway).OrderBy(a => a.Kind).DistinctBy(a => a.Account)];
    }

    private static CustomerItemKind KindOf(TenderId tender) =>
        tender == TenderId.HouseAccount ? CustomerItemKind.Invoice
        : tender == TenderId.GiftCard ? CustomerItemKind.GiftCard
        : CustomerItemKind.StoreCredit;
}
