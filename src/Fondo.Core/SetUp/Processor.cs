using Fondo.Core.Journal;

namespace Fondo.Core.SetUp;

/// <summary>Who pays for what was settled with cards or benefits, when, and what they keep of it.</summary>
/// <param name="Reference">What stands in the bank's lines of it; empty where nothing tells.</param>
/// <param name="Tenders">The tenders that it pays for.</param>
/// <param name="Days">So many bank days after the trading day the money is usually there.</param>
/// <param name="IsNet">Whether its fee is taken off before it pays; else it is billed apart.</param>
/// <param name="Fees">By brand; the one without a brand holds for all others.</param>
public sealed record Processor(string Id, string Name, string Reference, ImmutableArray<TenderId> Tenders, int Days, bool IsNet,
    ImmutableArray<CardFee> Fees)
{
    /// <summary>What holds where the set-up names none: cards and benefits apart, no fee.</summary>
    public static readonly ImmutableArray<Processor> Standard =
    [
        new("cards", "Card processor", "", [TenderId.Credit, TenderId.Debit, TenderId.Online], 2, true, []),
        new("benefits", "Benefit host", "", [TenderId.EbtFood, TenderId.EbtCash, TenderId.Wic], 2, true, []),
    ];

    public CardFee? FeeOf(string? brand) => Fees.FirstOrDefault(f => f.Brand.Length > 0
        && string.Equals(f.Brand, brand, StringComparison.OrdinalIgnoreCase)) ?? Fees.FirstOrDefault(f => f.Brand.Length == 0);
}

/// <summary>What a processor keeps: a share of what was sold, and so much for each item; on refunds nothing comes back, and the item is
/// counted (common practice).</summary>
/// <param name="Brand">Empty: all that have no fee of their own.</param>
public sealed record CardFee(string Brand, decimal Rate, Money PerItem);
