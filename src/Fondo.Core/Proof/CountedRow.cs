namespace Fondo.Core.Proof;

/// <summary>By what means pieces were counted (rules §8).</summary>
public enum Means
{
    Piece,

    /// <summary>A roll of coins or a strap of notes.</summary>
    Pack,
    Value,
    Weight,
    Machine,
}

/// <summary>A part of a row of a count: what was said, and the pieces that it comes to.</summary>
/// <param name="Said">A number of pieces or packs, a value, grams with the tare, the reading of a machine.</param>
/// <param name="Pieces">Negative where something was taken off again.</param>
public readonly record struct CountedPart(Means By, string Said, int Pieces);

/// <summary>What a machine had counted where a hand put something else in its place.</summary>
public sealed record Overruled(string Machine, int Pieces, string Reason);

/// <summary>How one denomination of a count was counted.</summary>
/// <param name="Instead">Null where no machine was overruled.</param>
public sealed record CountedRow(Money Denomination, ImmutableArray<CountedPart> Parts, Overruled? Instead = null)
{
    public bool Equals(CountedRow? other) =>
        other is not null && Denomination == other.Denomination && Parts.SequenceEqual(other.Parts) && Instead == other.Instead;

    public override int GetHashCode() => Denomination.GetHashCode();
}
