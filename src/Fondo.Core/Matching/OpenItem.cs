namespace Fondo.Core.Matching;

/// <summary>Where an open item stands.</summary>
public enum OpenIn
{
    Journal,
    Batch,
}

/// <summary>A tender that was not found settled, or a settled row that no tender explains.</summary>
public sealed record OpenItem(OpenIn Side, Item Item, Cause Cause)
{
    /// <summary>What it does to its cell: a row is over, a tender short.</summary>
    public Money Effect => Side == OpenIn.Batch ? Item.Amount : -Item.Amount;
}
