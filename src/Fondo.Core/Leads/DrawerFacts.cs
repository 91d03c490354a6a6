using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Proof;

namespace Fondo.Core.Leads;

/// <summary>What is known of a drawer that is off, laid out so that every question about one amount is answered at once.</summary>
internal sealed class DrawerFacts
{
    /// <summary>How far around an amount one looks for how many tickets there are of about that.</summary>
    private const int Around = 250;

    private readonly ByAmount _salesByNet;
    private readonly Dictionary<Money, int> _pieces;

    /// <param name="count">The closing count that stands; null where there is none.</param>
    /// <param name="taken">Its cash and check tenders.</param>
    public DrawerFacts(Count? count, ImmutableArray<TakenTender> taken)
    {
        (Count, Taken) = (count, taken);
        _pieces = (count?.Pieces ?? []).GroupBy(p => p.Denomination).ToDictionary(g => g.Key, g => g.Sum(p => p.Number));
        var inOrder = taken.Zip(taken.Skip(1)).All(t => t.First.Key.CompareTo(t.Second.Key) <= 0)
            ? taken.AsSpan()
            : taken.Sort((a, b) => a.Key.CompareTo(b.Key)).AsSpan();
        var cash = Of(inOrder, t => t.Tender.Type == TenderId.Cash);
        _salesByNet = new(Of(cash, t => !t.Ticket.IsRefund), t => t.Tender.Net);
        (CashByNet, CashByAmount, ByExpected) =
            (new(cash, t => t.Tender.Net), new(cash, t => t.Tender.Amount), new(inOrder, t => t.Tender.Expected));
    }

    public Count? Count { get; }

    public ImmutableArray<TakenTender> Taken { get; }

    /// <summary>Its cash tenders by what they paid, each in the order of keys.</summary>
    public ByAmount CashByNet { get; }

    /// <summary>The same by what was handed over.</summary>
    public ByAmount CashByAmount { get; }

    /// <summary>The same by what should be there of them, checks included.</summary>
    public ByAmount ByExpected { get; }

    /// <summary>How many pieces of a denomination were counted.</summary>
    public int Number(Money denomination) => _pieces.GetValueOrDefault(denomination);

    public IEnumerable<Pieces> Rows => _pieces.Select(p => new Pieces(p.Key, p.Value)).OrderByDescending(p => p.Denomination);

    /// <summary>How many cash sales one would expect of any one cent near this amount, had it nothing to do with them: by how many lie
    /// around it.</summary>
    public double TicketsExpectedAt(Money amount) =>
        (_salesByNet.Below(amount + new Money(Around + 1)) - _salesByNet.Below(amount - new Money(Around))) / (2.0 * Around);

    private static TakenTender[] Of(ReadOnlySpan<TakenTender> tenders, Func<TakenTender, bool> which)
    {
        var found = new List<TakenTender>(tenders.Length);
        foreach (var tender in tenders)
        {
            if (which(tender))
            {
                found.Add(tender);
            }
        }

        return found.ToArray();
    }
}
