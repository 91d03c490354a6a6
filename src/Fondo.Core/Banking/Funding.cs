using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;

namespace Fondo.Core.Banking;

/// <summary>What comes from the processor for one tender.</summary>
public readonly record struct FundedTender(TenderId Tender, Money Amount);

/// <summary>What a processor owes for what was settled on one trading day.</summary>
/// <param name="Tenders">What was settled, refunds taken off.</param>
/// <param name="Number">How many items.</param>
/// <param name="Fee">What it keeps, by the set-up.</param>
/// <param name="Due">The date on which the money is usually there.</param>
public sealed record Funding(string Processor, TradingDay Day, ImmutableArray<FundedTender> Tenders, int Number, Money Fee, bool IsNet,
    DateOnly Due)
{
    public string Key => $"{Processor} {Day}";

    public Money Gross => Tenders.Sum(t => t.Amount);

    /// <summary>What is still owed after a part was paid: tender by tender, in their order.</summary>
    public Funding After(Money part)
    {
        var left = ImmutableArray.CreateBuilder<FundedTender>();
        foreach (var tender in Tenders)
        {
            var paid = new Money(Math.Clamp(part.Minor, 0, Math.Max(0, tender.Amount.Minor)));
            part -= paid;
            left.Add(tender with { Amount = tender.Amount - paid });
        }

        return this with { Tenders = left.ToImmutable() };
    }

    /// <summary>What should stand on the bank's line.</summary>
    public Money Expected => IsNet ? Gross - Fee : Gross;

    /// <summary>What a reconciled day leaves with its processors: what proves its settled tenders, whatever registers say.</summary>
    public static ImmutableArray<Funding> Of(Reconciliation result)
    {
        var (day, setup) = (result.Day, result.Day.Setup);
        var places = new RowPlaces(setup);
        var items = (day.Rows ?? []).Select(r => (places.CellOf(r).Tender, Brand: (string?)r.Card.Brand, Amount: r.Signed, Number: 1))
            .ToLookup(i => i.Tender);
        var cells = result.Cells.Where(c => c.Proof is not null).ToLookup(c => c.Key.OfTender);
        return
        [
            .. from processor in setup.Processors
               let own = processor.Tenders.Select(t => (Tender: t, Amount: cells[t].Sum(c => c.Proof!.Value),
                   Number: cells[t].Sum(c => c.ProofCount ?? 0))).Where(t => t.Number > 0 || !t.Amount.IsZero).ToList()
               where own.Count > 0
               // What a terminal only printed has no brand: it bears the fee of all others.
               let rows = processor.Tenders.SelectMany(t => items[t]).ToList()
               let printed = (Amount: own.Sum(t => t.Amount) - rows.Sum(r => r.Amount), Number: own.Sum(t => t.Number) - rows.Count)
               let fee = rows.GroupBy(r => r.Brand, StringComparer.OrdinalIgnoreCase)
                   .Sum(g => FeeOn(processor.FeeOf(g.Key), g.Where(r => r.Amount.Sign > 0).Sum(r => r.Amount), g.Count()))
                   + FeeOn(processor.FeeOf(null), printed.Amount, printed.Number)
               select new Funding(processor.Id, setup.TradingDay, [.. own.Select(t => new FundedTender(t.Tender, t.Amount))],
                   own.Sum(t => t.Number), fee, processor.IsNet, BankDays.After(setup.TradingDay.Date, processor.Days, setup)),
        ];
    }

    private static Money FeeOn(CardFee? fee, Money sold, int number) =>
        fee is null ? Money.Zero : sold.Times(fee.Rate) + (fee.PerItem * number);
}

/// <summary>Days on which a bank books: Monday to Friday, less the holidays of the set-up.</summary>
public static class BankDays
{
    public static DateOnly After(DateOnly date, int days, SetUp.Setup? setup = null)
    {
        for (var left = days; left > 0;)
        {
            date = date.AddDays(1);
            left -= date.DayOfWeek is DayOfWeek.Saturday or DayOfWeek.Sunday || setup?.BankHolidays.Contains(date) == true ? 0 : 1;
        }

        return date;
    }
}
