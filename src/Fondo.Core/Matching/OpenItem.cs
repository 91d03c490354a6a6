namespace Fondo.Core.Matching;

public enum Side
{
    Journal,
    Batch,
}

/// <summary>A tender that was not found settled, or a settled row that no tender explains.</summary>
/// <param name="Cause">One of the causes of rules §5.</param>
public sealed record OpenItem(Side Side, Item Item, string Cause);
