using Fondo.Core.Journal;

namespace Fondo.Core.Proof;

/// <summary>What is counted: a drawer, a bag opened at the safe, or the safe itself.</summary>
public sealed record CountTarget(DrawerId? Drawer, string? Bag)
{
    public static readonly CountTarget Safe = new(null, null);

    public static CountTarget Of(DrawerId drawer) => new(drawer, null);

    public static CountTarget OfBag(string bag) => new(null, bag);

    public static CountTarget Of(Count count) => count.Kind switch
    {
        CountKind.Drop => OfBag(count.Bag ?? ""),
        CountKind.Safe => Safe,
        _ => new(count.Drawer, null),
    };

    /// <summary>Whether a count of this kind can be one of it.</summary>
    public bool Fits(CountKind kind) => kind switch
    {
        CountKind.Drop => Bag is not null,
        CountKind.Safe => IsSafe,
        _ => Drawer is not null,
    };

    public bool IsSafe => Drawer is null && Bag is null;

    /// <summary>One text for each: a drawer's id, <c>bag:B-311</c>, <c>safe:</c>.</summary>
    public override string ToString() => Drawer?.Value ?? (Bag is { } bag ? $"bag:{bag}" : "safe:");
}
