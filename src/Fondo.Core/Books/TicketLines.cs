using System.Globalization;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Books;

/// <summary>What a ticket that counts does to the books: what was sold, its tax and fees to the credit side, what was taken for it to the
/// debit side. Adds up to nothing.</summary>
internal static class TicketLines
{
    public static IEnumerable<BookLine> Of(Ticket ticket, Uses uses, Setup setup)
    {
        var (register, source, sum) = (ticket.Register, ticket.Id.Value, Money.Zero);
        var (lines, taxes) = (Money.Zero, Money.Zero);
        foreach (var line in ticket.Lines)
        {
            var posted = Layaway.Posted(line, setup.Policy.Layaway);
            yield return Line(uses[posted.Use], -posted.Amount, line.Article.Name) with { Reference = line.Reference, Name = ticket.Note };
            if (!posted.Tax.IsZero)
            {
                yield return Line(uses["tax"], -posted.Tax,
                    string.Create(CultureInfo.InvariantCulture, $"tax {line.Article.TaxRate * 100:0.####} %"));
            }

            if (line.Cost is { IsZero: false } cost && posted.HasCost)
            {
                // A second pair beside the sale: also nothing in sum.
                yield return Line(uses["cost"], cost, line.Article.Name);
                yield return Line(uses["inventory"], -cost, line.Article.Name);
            }

            (lines, taxes) = (lines + line.Amount, taxes + line.Tax);
        }

        foreach (var (account, amount, what) in new[]
        {
            (uses["goods"], lines - ticket.Subtotal, BookItem.GoodsWithoutLine), (uses["tax"], taxes - ticket.Tax, BookItem.TaxWithoutLine),
            (uses["discount"], ticket.Discount - ticket.CashDiscount, BookItem.Discounts),
            (uses["discount"], ticket.CashDiscount, BookItem.CashDiscounts),
            (uses["fee"], -ticket.Fee, BookItem.CardFees), (uses["rounding"], -ticket.Rounding, BookItem.CashRounding),
        }.Where(l => !l.Item2.IsZero))
        {
            yield return Line(account, amount, what);
        }

        foreach (var tender in ticket.Tenders.Where(t => t.Counts))
        {
            yield return Line(uses[tender.Type], tender.Expected, setup.NameOf(tender.Type)) with
            {
                Reference = tender.Reference,
                Name = tender.Name ?? ticket.Note
            };
            if (!tender.Cashback.IsZero)
            {
                yield return Line(uses[TenderId.Cash], -tender.Cashback, BookItem.CashBack);
            }

            if (!tender.Tip.IsZero)
            {
                yield return Line(uses["tip"], -tender.Tip, BookItem.Tips);
            }
        }

        // A ticket whose own figures do not add up (the check totals-differ), or that gave change on a tender that gives none, is off by so
        // much.
        if (!sum.IsZero)
        {
            yield return Line(uses["over-short"], -sum, BookItem.OutOfBalance);
        }

        BookLine Line(string account, Money amount, string what)
        {
            sum += amount;
            return new(account, amount, what, register, source);
        }
    }
}
