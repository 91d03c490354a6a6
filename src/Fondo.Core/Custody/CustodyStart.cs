using Fondo.Core.SetUp;

namespace Fondo.Core.Custody;

/// <summary>A bag of an earlier day that nobody has opened yet.</summary>
/// <param name="Amount">As it was recorded.</param>
public sealed record HeldBag(string Name, TradingDay Day, Money Amount);

/// <summary>Where the store's money lay when a trading day ended, so that the next one begins with it.</summary>
/// <param name="Loose">Cash in the safe outside of sealed bags; null where nobody ever counted it.</param>
/// <param name="Bags">Bags of drops that nobody opened.</param>
/// <param name="Checks">Checks in the safe.</param>
public sealed record CustodyStart(Money? Loose, ImmutableArray<HeldBag> Bags, ImmutableArray<HeldCheck> Checks)
{
    /// <summary>Nothing is known of the days before.</summary>
    public static readonly CustodyStart Unknown = new(null, [], []);

    /// <summary>The loose cash piece by piece; empty where only its amount is known.</summary>
    public ImmutableArray<Proof.Pieces> Pieces { get; init; } = [];

    /// <summary>While nobody has counted the safe yet: what went into it and out of it since Fondo watches.</summary>
    public Money Moved { get; init; }
}

/// <summary>What was done at the safe on a day beside counting.</summary>
/// <param name="Deposits">Those sealed on the day, and those of earlier days that were opened again on it.</param>
public sealed record CustodyActs(ImmutableArray<SafeMovement> Movements, ImmutableArray<Deposit> Deposits)
{
    /// <summary>Change that was ordered on the day.</summary>
    public ImmutableArray<OpenOrder> Orders { get; init; } = [];

    public static readonly CustodyActs None = new([], []);
}
