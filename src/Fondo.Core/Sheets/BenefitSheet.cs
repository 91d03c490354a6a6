using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;

namespace Fondo.Core.Sheets;

/// <summary>What one side of the benefits came to: recorded at the registers, and settled.</summary>
public readonly record struct BenefitTotals(int RecordedCount, Money Recorded, int SettledCount, Money Settled)
{
    public Money Variance => Settled - Recorded;
}

/// <summary>The benefits of one register (rules §3). Food and cash benefits apart, also when one card holds both.</summary>
/// <param name="Eligible">What food benefits could have paid on the tickets that they paid for.</param>
/// <param name="TaxRelieved">The tax that fell away: due on the eligible lines without benefits, less due with them.</param>
/// <param name="TaxTooMuch">Tax recorded on eligible lines above what is due.</param>
/// <param name="Cashback">Cash given back on cash benefits.</param>
public sealed record BenefitLine(RegisterId Register, BenefitTotals Food, Money Eligible, Money TaxRelieved, Money TaxTooMuch,
    BenefitTotals Cash, Money Cashback);

/// <summary>A benefit card that was used for both benefits; at most its last four digits.</summary>
public readonly record struct BothBenefits(string LastFour, Money Food, Money Cash);

/// <summary>The day's sheet of food and cash benefits.</summary>
/// <param name="Lines">One for each register with benefits on either side, in the order of the set-up.</param>
/// <param name="Cards">Cards on which both benefits were settled.</param>
public sealed record BenefitSheet(ImmutableArray<BenefitLine> Lines, ImmutableArray<BothBenefits> Cards)
{
    public static BenefitSheet Of(Reconciliation result)
    {
        var (day, standing) = (result.Day, new Standing(result.Day));
        var taken = Standing.Tenders(day, standing).Where(t => t.Tender.Type == TenderId.EbtFood || t.Tender.Type == TenderId.EbtCash)
            .ToLookup(t => t.Ticket.Register);
        var cells = result.Cells.ToDictionary(c => c.Key);
        var lines = day.Setup.Registers.Select(r => Line(r.Id, taken[r.Id], cells, day.Setup.Policy.BenefitTax)).OfType<BenefitLine>();
        return new([.. lines], Both(day));
    }

    private static BenefitLine? Line(RegisterId register, IEnumerable<TakenTender> taken, Dictionary<CellKey, Cell> cells,
        BenefitTax relief)
    {
        BenefitTotals? Totals(TenderId tender) => cells.TryGetValue(new CellKey.Takings(register, null, tender), out var cell)
            ? new(cell.ExpectedCount, cell.Expected, cell.ProofCount ?? 0, cell.Proof ?? Money.Zero) : null;
        var (food, cash) = (Totals(TenderId.EbtFood), Totals(TenderId.EbtCash));
        if (food is null && cash is null)
        {
            return null;
        }

        var (eligible, relieved, tooMuch) = (Money.Zero, Money.Zero, Money.Zero);
        foreach (var ticket in taken.Where(t => t.Tender.Type == TenderId.EbtFood).Select(t => t.Ticket).DistinctBy(t => t.Id))
        {
            var with = InTicket(ticket, FoodBenefits.Paid(ticket));
            eligible += with.Amount;
            relieved += InTicket(ticket, Money.Zero).TaxDue - with.TaxDue;
            tooMuch += with.TaxRecorded - with.TaxDue is { Sign: > 0 } over ? over : Money.Zero;
        }

        return new(register, food ?? default, eligible, relieved, tooMuch, cash ?? default,
            taken.Where(t => t.Tender.Type == TenderId.EbtCash).Sum(t => t.Tender.Cashback));

        Eligible InTicket(Ticket ticket, Money paid) => Checks.Eligible.Of(ticket, paid, relief);
    }

    private static ImmutableArray<BothBenefits> Both(Day day) =>
    [
        .. (day.Rows ?? []).Where(r => r.Benefit != Proof.Benefit.None && r.Card.LastFour is not null)
            .GroupBy(r => r.Card.LastFour!)
            .Where(g => g.Any(r => r.Benefit == Proof.Benefit.Food) && g.Any(r => r.Benefit == Proof.Benefit.Cash))
            .OrderBy(g => g.Key, StringComparer.Ordinal)
            .Select(g => new BothBenefits(g.Key, g.Where(r => r.Benefit == Proof.Benefit.Food).Sum(r => r.Signed),
                g.Where(r => r.Benefit == Proof.Benefit.Cash).Sum(r => r.Signed))),
    ];
}
