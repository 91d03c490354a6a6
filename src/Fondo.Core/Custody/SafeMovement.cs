using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Custody;

/// <summary>What goes into the safe or comes out of it, and no register knows of.</summary>
public enum SafeMovementKind
{
    /// <summary>What the safe held on the store's first day, before any float went out of it.</summary>
    Opening,

    /// <summary>Change that the bank delivered.</summary>
    ChangeBought,

    /// <summary>Money that paid for a change order.</summary>
    ChangeGiven,

    /// <summary>A float that went out of the safe into a drawer.</summary>
    FloatIssued,

    /// <summary>Petty cash: an expense paid out of the safe.</summary>
    PettyCash,

    /// <summary>A change order is over; what was paid and never delivered is written off. Nothing moves.</summary>
    OrderClosed,
}

/// <param name="Day">The trading day on which it counts.</param>
/// <param name="Amount">Positive; of a closed order what is written off, or nothing.</param>
public sealed record SafeMovement(Guid Id, TradingDay Day, SafeMovementKind Kind, Money Amount, string Reason, PersonId By,
    DateTimeOffset At)
{
    /// <summary>The second person; null where none was needed.</summary>
    public PersonId? Witness { get; init; }

    /// <summary>The register whose drawer a float went to.</summary>
    public RegisterId? Register { get; init; }

    /// <summary>The number of the change order that it belongs to.</summary>
    public int? Order { get; init; }

    public ImmutableArray<Pieces> Pieces { get; init; } = [];

    /// <summary>What it does to the money in the safe.</summary>
    public Money Effect => Kind switch
    {
        SafeMovementKind.Opening or SafeMovementKind.ChangeBought => Amount,
        SafeMovementKind.OrderClosed => Money.Zero,
        _ => -Amount,
    };
}
