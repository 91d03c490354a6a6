namespace Fondo.Core.Cash;

/// <summary>What is wrong with what was typed into a row of a count.</summary>
public abstract record RowFault
{
    private RowFault()
    {
    }

    public sealed record FewerThanNone : RowFault;

    public sealed record TooManyPieces : RowFault;

    public sealed record PacksNotWhole(Denomination Kind) : RowFault;

    public sealed record NoPacks(Denomination Kind) : RowFault;

    public sealed record NoValue(Denomination Kind) : RowFault;

    public sealed record NoMultiple(Money Value, Denomination Kind) : RowFault;

    public sealed record PiecesNotWhole : RowFault;

    public sealed record NoGrams : RowFault;

    public sealed record WeightUnknown(Denomination Kind) : RowFault;

    public sealed record LighterThanContainer(string Grams, decimal Tare) : RowFault;

    /// <summary>The scale cannot tell which.</summary>
    public sealed record OneOfTwo(string Grams, long Pieces, long Most) : RowFault;
}
