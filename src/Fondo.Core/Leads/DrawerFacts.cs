using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Leads;

/// <summary>What is known of a drawer that is off, laid out so that every question about one amount is answered at once.</summary>
internal sealed class DrawerFacts
{
    /// <summary>How far around an amount one looks for how many tickets there are of about that.</summary>
    private const int Around = 250;

    private readonly long[] _saleNets;
    private readonly Dictionary<Money, int> _pieces;

    /// <param name="count">The closing count that stands; null where there is none.</param>
    /// <param name="taken">Its cash and check tenders.</param>
    public DrawerFacts(Count? count, ImmutableArray<TakenTender> taken)
    {
        (Count, Taken) = (count, taken);
        _saleNets = [.. taken.Where(t => t.Tender.Type == TenderId.Cash && !t.Ticket.IsRefund).Select(t => t.Tender.Net.Minor).Order()];
        _pieces = (count?.Pieces ?? []).GroupBy(p => p.Denomination).ToDictionary(g => g.Key, g => g.Sum(p => p.Number));
        var inOrder = taken.OrderBy(t => t.Key).ToArray();
        var cash = inOrder.Where(t => t.Tender.Type == TenderId.Cash).ToArray();
        (CashByNet, CashByAmount, ByExpected) = (cash.ToLookup(t => t.Tender.Net), cash.ToLookup(t => t.Tender.Amount), inOrder.ToLookup(t => t.Tender.Expected));
    }

    public Count? Count { get; }

    public ImmutableArray<TakenTender> Taken { get; }

    /// <summary>Its cash tenders by what they paid, each in the order of keys.</summary>
    public ILookup<Money, TakenTender> CashByNet { get; }

    /// <summary>The same by what was handed over.</summary>
    public ILookup<Money, TakenTender> CashByAmount { get; }

    /// <summary>The same by what should be there of them, checks included.</summary>
    public ILookup<Money, TakenTender> ByExpected { get; }

    /// <summary>How many pieces of a denomination were counted.</summary>
    public int Number(Money denomination) => _pieces.GetValueOrDefault(denomination);

    public IEnumerable<Pieces> Rows => _pieces.Select(p => new Pieces(p.Key, p.Value)).OrderByDescending(p => p.Denomination);

    /// <summary>How many cash sales one would expect of any one cent near this amount, had it nothing to do with them: by how many lie around it.</summary>
    public double TicketsExpectedAt(Money amount) => (Below(amount.Minor + Around + 1) - Below(amount.Minor - Around)) / (2.0 * Around);

    private int Below(long minor)
    {
        var (low, high) = (0, _saleNets.Length);
        while (low < high)
        {
            var middle = (low + high) / 2;
            (low, high) = _saleNets[middle] < minor ? (middle + 1, high) : (low, middle);
        }

        return low;
    }
}
