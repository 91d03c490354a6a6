using Fondo.Core.Journal;

namespace Fondo.Core.Proof;

public enum CountKind
{
    Opening,
    Closing,
    Spot,
    Drop,
    Safe,

    /// <summary>What was left in a drawer for its register's next session: the float.</summary>
    Kept,
}

/// <summary>One count of cash (and, for a drawer, of checks and stubs). Of the closing counts of a drawer the highest attempt
/// stands.</summary>
/// <param name="Drawer">For all but bags and the safe.</param>
/// <param name="Bag">For a drop opened at the safe.</param>
/// <param name="Pieces">Number of pieces by denomination.</param>
/// <param name="Stubs">Amounts by tender for paper that is not counted one by one: coupons, vouchers.</param>
public sealed record Count(
    string Id,
    CountKind Kind,
    DrawerId? Drawer,
    string? Bag,
    PersonId? By,
    PersonId? Witness,
    DateTimeOffset At,
    int Attempt,
    ImmutableArray<Pieces> Pieces,
    ImmutableArray<CountedCheck> Checks,
    ImmutableArray<CountedStub> Stubs)
{
    public Money Cash => Pieces.Sum(p => p.Worth);

    /// <summary>Whether whoever counted had not seen what should be there (rules §8).</summary>
    public bool IsBlind { get; init; } = true;

    /// <summary>How each row was counted, largest first; empty where nobody wrote it down.</summary>
    public ImmutableArray<CountedRow> How { get; init; } = [];

    public bool Equals(Count? other) =>
        other is not null && Id == other.Id && Kind == other.Kind && Drawer == other.Drawer && Bag == other.Bag && By == other.By
        && Witness == other.Witness && At == other.At && Attempt == other.Attempt && IsBlind == other.IsBlind
        && Pieces.SequenceEqual(other.Pieces) && Checks.SequenceEqual(other.Checks) && Stubs.SequenceEqual(other.Stubs)
            && How.SequenceEqual(other.How);

    public override int GetHashCode() => StringComparer.Ordinal.GetHashCode(Id);
}

/// <summary>So many pieces of one denomination.</summary>
public readonly record struct Pieces(Money Denomination, int Number)
{
    public Money Worth => Denomination * Number;
}

/// <param name="Routing">The number that names the bank, where it was typed.</param>
public readonly record struct CountedCheck(string Number, Money Amount, string? Routing = null);

public readonly record struct CountedStub(TenderId Tender, Money Amount);
