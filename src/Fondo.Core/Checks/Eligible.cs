using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Checks;

/// <summary>What food benefits may pay for on one ticket, and the tax that falls away (rules §3). Signed as the ticket is.</summary>
/// <param name="Amount">E: the eligible lines after their share of the ticket-level discount.</param>
/// <param name="TaxRecorded">The tax recorded on them.</param>
/// <param name="TaxDue">What may be charged on them once the benefits have paid their part.</param>
/// <param name="TaxedLines">How many of them have a tax rate.</param>
public readonly record struct Eligible(Money Amount, Money TaxRecorded, Money TaxDue, int TaxedLines)
{
    /// <param name="paid">F: what food benefits paid; what exceeds the eligible amount relieves nothing.</param>
    public static Eligible Of(Ticket ticket, Money paid, BenefitTax relief)
    {
        var lines = Lines(ticket, paid, relief);
        return new(lines.Sum(l => l.Net), lines.Sum(l => l.TaxRecorded), lines.Sum(l => l.TaxDue), lines.Count(l => l.Line.Article.TaxRate != 0));
    }

    /// <summary>The same line by line: what each eligible line is worth, what benefits pay of it, and its tax.</summary>
    public static ImmutableArray<EligibleLine> Lines(Ticket ticket, Money paid, BenefitTax relief)
    {
        var nets = Nets(ticket);
        var places = Enumerable.Range(0, nets.Length).Where(i => ticket.Lines[i].Article.BenefitEligible).ToArray();
        var covered = Cover(ticket, nets, places, Smaller(paid, places.Sum(i => nets[i])), relief);
        return [.. places.Select(i => new EligibleLine(ticket.Lines[i], nets[i], covered[i], (nets[i] - covered[i]).Times(ticket.Lines[i].Article.TaxRate)))];
    }

    /// <summary>The amount of each line less its share of the ticket-level discount (largest remainder over the lines).</summary>
    private static Money[] Nets(Ticket ticket)
    {
        var nets = ticket.Lines.Select(l => l.Amount).ToArray();
        if (!ticket.Discount.IsZero && Sizes(ticket, nets) is var sizes && sizes.Any(s => s > 0))
        {
            var shares = Shares.Of(ticket.Discount, sizes);
            for (var i = 0; i < nets.Length; i++)
            {
                nets[i] -= shares[i];
            }
        }

        return nets;
    }

    /// <summary>How much of each line the benefits pay.</summary>
    private static Money[] Cover(Ticket ticket, Money[] nets, int[] places, Money paid, BenefitTax relief)
    {
        var covered = new Money[nets.Length];
        if (paid.IsZero)
        {
            return covered;
        }

        if (relief == BenefitTax.ProRata)
        {
            var sizes = Sizes(ticket, nets);
            if (places.All(i => sizes[i] == 0))
            {
                return covered;
            }

            var shares = Shares.Of(paid, [.. places.Select(i => sizes[i])]);
            for (var n = 0; n < places.Length; n++)
            {
                covered[places[n]] = shares[n];
            }

            return covered;
        }

        foreach (var i in places.OrderByDescending(i => ticket.Lines[i].Article.TaxRate))
        {
            covered[i] = Smaller(paid, nets[i]);
            paid -= covered[i];
        }

        return covered;
    }

    /// <summary>The sizes of the lines; a line against the ticket's direction bears no share.</summary>
    private static long[] Sizes(Ticket ticket, Money[] amounts) =>
        [.. amounts.Select(a => Math.Max(0, ticket.Kind == EventKind.Refund ? -a.Minor : a.Minor))];

    /// <summary>The one nearer to nothing; nothing where the two point to different sides.</summary>
    private static Money Smaller(Money a, Money b) => a.Sign != b.Sign ? Money.Zero : a.Abs() < b.Abs() ? a : b;
}

/// <summary>A line that food benefits may pay for.</summary>
/// <param name="Net">After its share of the ticket-level discount.</param>
/// <param name="Covered">What food benefits pay of it.</param>
/// <param name="TaxDue">On what they leave, rounded by itself.</param>
public readonly record struct EligibleLine(TicketLine Line, Money Net, Money Covered, Money TaxDue)
{
    public Money TaxRecorded => Line.Tax;
}
