namespace Fondo.Core.Journal;

/// <summary>What a line sells. The same article on another line is the same value.</summary>
/// <param name="BenefitEligible">Whether food benefits may pay for it.</param>
/// <param name="Account">Null for ordinary goods.</param>
public sealed record Article(string Sku, string Name, decimal TaxRate, bool BenefitEligible, string? Account)
{
    public override int GetHashCode() => QuickHash.Of(Sku, Name, Account);
}

/// <summary>One line of a ticket. The same article in the same number at the same price is the same value, on whatever ticket.</summary>
/// <param name="Amount">Extended, after the line's own discount, before tax.</param>
/// <param name="Tax">What was charged.</param>
/// <param name="Reference">The invoice, account, gift card or layaway that it pays, loads or opens.</param>
public sealed record TicketLine(Article Article, decimal Quantity, Money Amount, Money Tax, Money? Cost, string? Reference = null);
