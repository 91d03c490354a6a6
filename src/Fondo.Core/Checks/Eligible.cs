using System.Runtime.InteropServices;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;

namespace Fondo.Core.Checks;

/// <summary>Eligible for food benefits on one ticket, and the tax that falls away (rules §3). Signed as the ticket is.</summary>
/// <param name="Amount">E: the eligible lines after their share of the ticket-level discount.</param>
/// <param name="TaxRecorded">The tax recorded on them.</param>
/// <param name="TaxDue">What may be charged on them once the benefits have paid their part.</param>
/// <param name="TaxedLines">How many of them have a tax rate.</param>
public readonly record struct Eligible(Money Amount, Money TaxRecorded, Money TaxDue, int TaxedLines)
{
    private const int OnStack = 32;

    /// <param name="paid">F: what food benefits paid; what exceeds the eligible amount relieves nothing.</param>
    public static Eligible Of(Ticket ticket, Money paid, BenefitTax relief)
    {
        var (amount, recorded, due, taxed) = (Money.Zero, Money.Zero, Money.Zero, 0);
        foreach (var line in Lines(ticket, paid, relief))
        {
            (amount, recorded, due) = (amount + line.Net, recorded + line.TaxRecorded, due + line.TaxDue);
            taxed += line.Line.Article.TaxRate == 0 ? 0 : 1;
        }

        return new(amount, recorded, due, taxed);
    }

    /// <summary>The same line by line: what each eligible line is worth, what benefits pay of it, and its tax.</summary>
    public static ImmutableArray<EligibleLine> Lines(Ticket ticket, Money paid, BenefitTax relief)
    {
        var lines = Unpaid(ticket);
        var sum = Money.Zero;
        foreach (var line in lines)
        {
            sum += line.Net;
        }

        if (Smaller(paid, sum) is { IsZero: false } covered)
        {
            if (relief == BenefitTax.ProRata)
            {
                InProportion(lines, covered, ticket.Direction);
            }
            else
            {
                HighestTaxFirst(lines, covered);
            }
        }

        return ImmutableCollectionsMarshal.AsImmutableArray(lines);
    }

    /// <summary>The eligible lines, each less its share of the ticket-level discount (largest remainder over all lines).</summary>
    private static EligibleLine[] Unpaid(Ticket ticket)
    {
        var discounts = ImmutableArray<Money>.Empty;
        if (!ticket.Discount.IsZero)
        {
            var sizes = new long[ticket.Lines.Length];
            for (var i = 0; i < sizes.Length; i++)
            {
                sizes[i] = Size(ticket.Lines[i].Amount, ticket.Direction);
            }

            discounts = sizes.Any(s => s > 0) ? Shares.Of(ticket.Discount, sizes) : discounts;
        }

        var eligible = 0;
        foreach (var line in ticket.Lines)
        {
            eligible += line.Article.BenefitEligible ? 1 : 0;
        }

        var (unpaid, next) = (new EligibleLine[eligible], 0);
        for (var i = 0; i < ticket.Lines.Length; i++)
        {
            if (ticket.Lines[i] is { Article.BenefitEligible: true } line)
            {
                unpaid[next++] = new(line, line.Amount - (discounts.IsEmpty ? Money.Zero : discounts[i]), Money.Zero);
            }
        }

        return unpaid;
    }

    private static void InProportion(EligibleLine[] lines, Money paid, int direction)
    {
        var (sizes, all) = (new long[lines.Length], 0L);
        for (var i = 0; i < lines.Length; i++)
        {
            all += sizes[i] = Size(lines[i].Net, direction);
        }

        if (all == 0)
        {
            return;
        }

        var shares = Shares.Of(paid, sizes);
        for (var i = 0; i < lines.Length; i++)
        {
            lines[i] = lines[i] with { Covered = shares[i] };
        }
    }

    private static void HighestTaxFirst(EligibleLine[] lines, Money paid)
    {
        Span<Rated> order = lines.Length <= OnStack ? stackalloc Rated[lines.Length] : new Rated[lines.Length];
        for (var i = 0; i < lines.Length; i++)
        {
            order[i] = new(lines[i].Line.Article.TaxRate, i);
        }

        order.Sort();
        foreach (var (_, place) in order)
        {
            var covered = Smaller(paid, lines[place].Net);
            lines[place] = lines[place] with { Covered = covered };
            paid -= covered;
        }
    }

    /// <summary>The highest rate first, of equal ones the earlier line.</summary>
    private readonly record struct Rated(decimal TaxRate, int Place) : IComparable<Rated>
    {
        public int CompareTo(Rated other) => other.TaxRate.CompareTo(TaxRate) is var rate and not 0 ? rate : Place.CompareTo(other.Place);
    }

    /// <summary>The weight of a line; a line against the ticket's direction bears no share.</summary>
    private static long Size(Money amount, int direction) => Math.Max(0, amount.Minor * direction);

    /// <summary>The one nearer to nothing; nothing where the two point to different sides.</summary>
    private static Money Smaller(Money a, Money b) => a.Sign != b.Sign ? Money.Zero : a.Abs() < b.Abs() ? a : b;
}

/// <summary>A line that food benefits may pay for.</summary>
/// <param name="Net">After its share of the ticket-level discount.</param>
/// <param name="Covered">What food benefits pay of it.</param>
public readonly record struct EligibleLine(TicketLine Line, Money Net, Money Covered)
{
    public Money TaxRecorded => Line.Tax;

    /// <summary>On what benefits leave, rounded by itself.</summary>
    public Money TaxDue => (Net - Covered).Times(Line.Article.TaxRate);
}
