using Fondo.Core.Days;

namespace Fondo.Core.Leads;

/// <summary>Tenders by an amount of theirs; those of one amount stay in their order.</summary>
internal sealed class ByAmount
{
    private readonly TakenTender[] _tenders;
    private readonly Func<TakenTender, Money> _amount;

    public ByAmount(ReadOnlySpan<TakenTender> inOrder, Func<TakenTender, Money> amount)
    {
        (_tenders, _amount) = (new TakenTender[inOrder.Length], amount);
        var sorted = new Place[inOrder.Length];
        for (var i = 0; i < sorted.Length; i++)
        {
            sorted[i] = new(amount(inOrder[i]), i);
        }

        Array.Sort(sorted);
        for (var i = 0; i < sorted.Length; i++)
        {
            _tenders[i] = inOrder[sorted[i].Number];
        }
    }

    public IReadOnlyList<TakenTender> this[Money amount] =>
        new ArraySegment<TakenTender>(_tenders, Below(amount), Below(amount + new Money(1)) - Below(amount));

    /// <summary>How many are of a smaller amount.</summary>
    public int Below(Money amount)
    {
        var (low, high) = (0, _tenders.Length);
        while (low < high)
        {
            var middle = (low + high) / 2;
            (low, high) = _amount(_tenders[middle]) < amount ? (middle + 1, high) : (low, middle);
        }

        return low;
    }

    private readonly record struct Place(Money Amount, int Number) : IComparable<Place>
    {
        public int CompareTo(Place other) =>
            Amount.CompareTo(other.Amount) is var amount and not 0 ? amount : Number.CompareTo(other.Number);
    }
}
