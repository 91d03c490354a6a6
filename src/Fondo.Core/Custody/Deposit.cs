using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;

namespace Fondo.Core.Custody;

/// <summary>A check that lies in the safe: counted in a drawer, and in no deposit yet.</summary>
/// <param name="Day">The trading day on which it was counted.</param>
/// <param name="Place">Tells checks of one drawer apart that have the same number and amount; from 1.</param>
public sealed record HeldCheck(TradingDay Day, DrawerId Drawer, string Number, Money Amount, int Place)
{
    /// <summary>Names it in the store.</summary>
    public string Key =>
        string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{Day}|{Drawer}|{Number}|{Amount.Minor}|{Place}");
}

/// <summary>A deposit from the moment at which its bag is sealed: notes, coin and checks that left the safe for the bank.</summary>
/// <param name="Number">Of the store; from 1.</param>
/// <param name="Day">The trading day that sealed it.</param>
/// <param name="Bag">The number on the bag.</param>
/// <param name="Witness">The second person.</param>
public sealed record Deposit(
    int Number, TradingDay Day, string Bag, ImmutableArray<Pieces> Pieces, ImmutableArray<HeldCheck> Checks, PersonId By, PersonId Witness,
    DateTimeOffset At)
{
    /// <summary>Null while it lies in the safe.</summary>
    public HandOver? HandedOver { get; init; }

    /// <summary>Why the bag was opened again; null while it was not.</summary>
    public Unsealing? Unsealed { get; init; }

    public Money Cash => Pieces.Sum(p => p.Worth);

    public Money CheckAmount => Checks.Sum(c => c.Amount);

    public Money Amount => Cash + CheckAmount;

    public bool Stands => Unsealed is null;

    /// <summary>As lines of the safe and of the bank name it.</summary>
    public string Name => Number.ToString(System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>Whether this trading day leaves it sealed, and did it.</summary>
    public bool IsSealedBy(TradingDay day) => Day == day && Unsealed?.Day != day;
}

/// <summary>Where a sealed bag went.</summary>
/// <param name="To">Who took it: a carrier, the bank's counter, a person.</param>
/// <param name="Seal">The number of the seal; empty where there is none.</param>
public sealed record HandOver(string To, string Seal, PersonId By, DateTimeOffset At);

/// <summary>A sealed bag that was opened again before it left: its contents are back in the safe.</summary>
/// <param name="Day">The trading day on which it was.</param>
public sealed record Unsealing(TradingDay Day, string Reason, PersonId By, DateTimeOffset At);
