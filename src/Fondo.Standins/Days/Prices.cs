namespace Fondo.Standins.Days;

/// <summary>How the amounts of a generated day are spread.</summary>
public enum Prices
{
    /// <summary>The demo store's goods.</summary>
    Mixed,

    /// <summary>Four prices and no tax, so that many tickets are alike.</summary>
    Few,

    /// <summary>Any price up to sixty.</summary>
    Any,
}
