using Fondo.Core.Journal;

namespace Fondo.Core.SetUp;

/// <summary>What shows that a tender is really there.</summary>
public enum ProofKind
{
    Count,
    Batch,
    Ledger,
}

/// <summary>A kind of tender that the store takes.</summary>
/// <param name="Account">Where in the store's books it is posted.</param>
public sealed record TenderKind(TenderId Id, string Name, ProofKind Proof, bool GivesChange, string Account)
{
    /// <summary>The standard catalogue, in the order in which a board shows it.</summary>
    public static readonly ImmutableArray<TenderKind> Standard =
    [
        new(TenderId.Cash, "Cash", ProofKind.Count, true, "Assets:Cash to deposit"),
        new(TenderId.Check, "Checks", ProofKind.Count, false, "Assets:Checks to deposit"),
        new(TenderId.Coupon, "Coupons", ProofKind.Count, false, "Assets:Coupons to redeem"),
        new(TenderId.Voucher, "Vouchers", ProofKind.Count, false, "Assets:Benefit clearing"),
        new(TenderId.Credit, "Credit", ProofKind.Batch, false, "Assets:Card clearing"),
        new(TenderId.Debit, "Debit", ProofKind.Batch, false, "Assets:Card clearing"),
        new(TenderId.EbtFood, "Food benefits", ProofKind.Batch, false, "Assets:Benefit clearing"),
        new(TenderId.EbtCash, "Cash benefits", ProofKind.Batch, false, "Assets:Benefit clearing"),
        new(TenderId.Wic, "WIC", ProofKind.Batch, false, "Assets:Benefit clearing"),
        new(TenderId.Online, "Online", ProofKind.Batch, false, "Assets:Card clearing"),
        new(TenderId.GiftCard, "Gift cards", ProofKind.Ledger, false, "Liabilities:Gift cards"),
        new(TenderId.StoreCredit, "Store credit", ProofKind.Ledger, false, "Liabilities:Store credit"),
        new(TenderId.HouseAccount, "Accounts", ProofKind.Ledger, false, "Assets:Customer accounts"),
    ];

    /// <summary>Whether one ticket may be paid with it more than once.</summary>
    public bool MayRepeat { get; init; } = true;

    /// <summary>By how much a cell of it may be off and still prove; null: as the store's policy says.</summary>
    public Money? Tolerance { get; init; }
}
