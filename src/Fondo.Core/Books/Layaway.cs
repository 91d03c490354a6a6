using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Books;

/// <summary>What a line of a ticket is to the books: as it stands, unless it is a payment on a layaway that moves its part of goods and tax
/// (rules §13).</summary>
internal static class Layaway
{
    private const string Use = "layaway";

    /// <summary>Rates are known to a thousandth of a millionth.</summary>
    private const long Whole = 1_000_000_000;

    /// <param name="HasCost">Whether the goods left the inventory with it.</param>
    public readonly record struct Posting(string Use, Money Amount, Money Tax, bool HasCost);

    public static Posting Posted(TicketLine line, LayawayPosting layaway)
    {
        var use = line.Article.Account ?? "goods";
        if (use != Use)
        {
            return new(use, line.Amount, line.Tax, true);
        }

        if (layaway == LayawayPosting.Deposit)
        {
            return new(use, line.Amount, line.Tax, false);
        }

        // Where the line charges tax of its own, its amount is the goods alone; else what was paid holds both.
        var parts = line.Tax.IsZero ? Shares.Of(line.Amount, [Whole, (long)(line.Article.TaxRate * Whole)]) : [line.Amount, line.Tax];
        return new("goods", parts[0], parts[1], true);
    }
}
