using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Custody;

/// <summary>Change that was ordered from the bank: ordered, paid, delivered, closed (rules §9). What is paid and not delivered is money on
/// its way.</summary>
/// <param name="Number">Of the store; from 1.</param>
/// <param name="Pieces">What was ordered; empty where that is not known.</param>
public sealed record OpenOrder(int Number, TradingDay Day, ImmutableArray<Pieces> Pieces, Money Paid, Money Delivered, PersonId By)
{
    public Money Ordered => Pieces.Sum(p => p.Worth);

    /// <summary>What is still to be paid for it.</summary>
    public Money ToPay => Ordered - Paid;

    public Money OnItsWay => Paid - Delivered;

    /// <summary>Whether nothing is to come, and nothing to pay.</summary>
    public bool IsDone => ToPay.IsZero && OnItsWay.IsZero;

    /// <summary>The orders after what a day did: those that are done or were closed are left out.</summary>
    /// <param name="before">Those that were open, and those of the day.</param>
    /// <param name="debited">What the bank debited for an order.</param>
    public static ImmutableArray<OpenOrder> After(IEnumerable<OpenOrder> before, IReadOnlyCollection<SafeMovement> movements,
        Func<int, Money> debited)
    {
        var own = movements.Where(m => m.Order is not null).ToLookup(m => m.Order!.Value);
        return
        [
            .. before.Where(o => own[o.Number].All(m => m.Kind != SafeMovementKind.OrderClosed))
                .Select(o => o with
                {
                    Paid = o.Paid + debited(o.Number) + own[o.Number].Where(m => m.Kind == SafeMovementKind.ChangeGiven).Sum(m => m.Amount),
                    Delivered = o.Delivered + own[o.Number].Where(m => m.Kind == SafeMovementKind.ChangeBought).Sum(m => m.Amount),
                })
                .Where(o => !o.IsDone).OrderBy(o => o.Number),
        ];
    }
}
