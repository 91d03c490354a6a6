using Fondo.Core.Journal;

namespace Fondo.Core.Proof;

/// <summary>A settled line's natural key: terminal, batch and sequence number.</summary>
/// <remarks>In the order of the batch: 9 comes before 10.</remarks>
public readonly record struct BatchKey(TerminalId Terminal, string Batch, Code Sequence) : IComparable<BatchKey>
{
    public int CompareTo(BatchKey other) =>
        string.CompareOrdinal(Terminal.Value, other.Terminal.Value) is var t and not 0 ? t
        : string.CompareOrdinal(Batch, other.Batch) is var b and not 0 ? b
        : Sequence.Length != other.Sequence.Length ? Sequence.Length.CompareTo(other.Sequence.Length)
        : Sequence.CompareTo(other.Sequence);

    public override int GetHashCode() => QuickHash.Of(Terminal.Value, Batch, Sequence.GetHashCode());

    public override string ToString() => $"{Terminal.Value}/{Batch}/{Sequence}";
}

public enum Direction
{
    Sale,
    Refund,
}

public enum Benefit
{
    /// <summary>Not a benefit; files leave the field empty.</summary>
    None,
    Food,
    Cash,
}

/// <summary>One settled card or benefit transaction.</summary>
/// <param name="Amount">Positive on both directions, tip and cash back included.</param>
public sealed record BatchRow(BatchKey Key, DateTimeOffset At, Direction Direction, Money Amount, Money Tip, Money Cashback, CardSlip Card,
    Benefit Benefit)
{
    /// <summary>The amount as the journal signs it: refunds negative.</summary>
    public Money Signed => Direction == Direction.Refund ? -Amount : Amount;
}

/// <summary>What the host says it settled in one batch.</summary>
public sealed record BatchTotal(TerminalId Terminal, string Batch, DateTimeOffset Closed, int SalesCount, Money SalesAmount,
    int RefundsCount, Money RefundsAmount);

/// <summary>One line of the store's own gift-card, store-credit or house-account books.</summary>
public sealed record LedgerRow(TenderId Tender, string Sequence, DateTimeOffset At, RegisterId Register, Direction Direction, Money Amount,
    string? Reference)
{
    public Money Signed => Direction == Direction.Refund ? -Amount : Amount;
}
