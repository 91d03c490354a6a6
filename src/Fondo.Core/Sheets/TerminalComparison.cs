using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;

namespace Fondo.Core.Sheets;

/// <summary>Number and amount of sales and of refunds; amounts positive on both.</summary>
public readonly record struct CardTotals(int Sales, Money SalesAmount, int Refunds, Money RefundsAmount)
{
    public int Number => Sales + Refunds;

    public Money Net => SalesAmount - RefundsAmount;

    public static CardTotals operator +(CardTotals a, CardTotals b) =>
        new(a.Sales + b.Sales, a.SalesAmount + b.SalesAmount, a.Refunds + b.Refunds, a.RefundsAmount + b.RefundsAmount);

    /// <param name="signed">As the journal signs it: refunds negative.</param>
    public static CardTotals One(Money signed) => signed.Sign < 0 ? new(0, Money.Zero, 1, -signed) : new(1, signed, 0, Money.Zero);
}

/// <summary>One brand, or kind of benefit, as the journal has it and as the terminal does.</summary>
public readonly record struct BrandLine(string Brand, CardTotals Journal, CardTotals Terminal)
{
    public bool Agrees => Journal == Terminal;
}

/// <summary>What a terminal holds beside what the journal holds of it, by brand, in number and amount (rules §1: equal amounts with
/// different counts do not agree).</summary>
/// <param name="Brands">By name.</param>
public sealed record TerminalComparison(TerminalId Terminal, ImmutableArray<BrandLine> Brands)
{
    public CardTotals Journal => Brands.Aggregate(default(CardTotals), (sum, b) => sum + b.Journal);

    public CardTotals Held => Brands.Aggregate(default(CardTotals), (sum, b) => sum + b.Terminal);

    public bool Agrees => Brands.All(b => b.Agrees);

    /// <param name="tenders">Of this terminal.</param>
    /// <param name="rows">What it holds, or has settled.</param>
    public static TerminalComparison Of(TerminalId terminal, IEnumerable<TakenTender> tenders, IEnumerable<BatchRow> rows)
    {
        var journal = tenders.GroupBy(t => BrandOf(t.Tender)).ToDictionary(g => g.Key, g => Sum(g.Select(t => t.Tender.Amount)));
        var held = rows.GroupBy(BrandOf).ToDictionary(g => g.Key, g => Sum(g.Select(r => r.Signed)));
        return new(terminal, [.. journal.Keys.Union(held.Keys).Order(StringComparer.Ordinal)
            .Select(b => new BrandLine(b, journal.GetValueOrDefault(b), held.GetValueOrDefault(b)))]);
    }

    /// <summary>The batch-proved tenders of today that no settled row and no printed total proves, by terminal: what should still lie
    /// there.</summary>
    public static ILookup<TerminalId, TakenTender> Unsettled(Reconciliation result)
    {
        var day = result.Day;
        var paired = result.Matches.SelectMany(m => m.Journal).Where(j => j.CarriedFrom is null).Select(j => j.Tender!.Value.Key)
            .ToHashSet();
        var printed = new PrintedTotals(day);
        return OnTerminals(day).Where(t => !paired.Contains(t.Key) && !printed.Proves(t.Tender))
            .ToLookup(t => t.Tender.Card!.Terminal!.Value);
    }

    /// <summary>Every batch whose close is known, beside the tenders of the time that it covers: since the close before.</summary>
    public static IReadOnlyDictionary<(TerminalId Terminal, string Batch), TerminalComparison> OfBatches(Reconciliation result)
    {
        var (rows, tenders) = ((result.Day.Rows ?? []).ToLookup(r => (r.Key.Terminal, r.Key.Batch)),
            OnTerminals(result.Day).ToLookup(t => t.Tender.Card!.Terminal!.Value));
        var compared = new Dictionary<(TerminalId, string), TerminalComparison>();
        foreach (var terminal in result.Day.Totals.GroupBy(t => t.Terminal))
        {
            var before = DateTimeOffset.MinValue;
            foreach (var total in terminal.OrderBy(t => t.Closed))
            {
                var from = before;
                compared[(total.Terminal, total.Batch)] = Of(total.Terminal,
                    tenders[total.Terminal].Where(t => t.Ticket.At > from && t.Ticket.At <= total.Closed),
                    rows[(total.Terminal, total.Batch)]);
                before = total.Closed;
            }
        }

        return compared;
    }

    /// <summary>A brand as both sides name it: benefits by their kind, an unnamed brand as such.</summary>
    public static string BrandOf(BatchRow row) => row.Benefit switch
    {
        Benefit.Food => "food benefits",
        Benefit.Cash => "cash benefits",
        _ => Plain(row.Card.Brand),
    };

    public static string BrandOf(Tender tender) =>
        tender.Type == TenderId.EbtFood ? "food benefits" : tender.Type == TenderId.EbtCash ? "cash benefits" : Plain(tender.Card?.Brand);

    /// <summary>The batch-proved tenders of today of which the journal says where they were run.</summary>
    private static IEnumerable<TakenTender> OnTerminals(Day day)
    {
        var batch = day.Setup.Tenders.Where(t => t.Proof == ProofKind.Batch).Select(t => t.Id).ToHashSet();
        return Standing.Tenders(day, new(day)).Where(t => t.Tender.Card?.Terminal is not null && batch.Contains(t.Tender.Type));
    }

    private static CardTotals Sum(IEnumerable<Money> signed) =>
        signed.Aggregate(default(CardTotals), (sum, amount) => sum + CardTotals.One(amount));

    private static string Plain(string? brand) => string.IsNullOrWhiteSpace(brand) ? "no brand" : brand.ToLowerInvariant();
}
