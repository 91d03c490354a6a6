using Fondo.Core.Journal;

namespace Fondo.Core.SetUp;

public enum RegisterKind
{
    Lane,
    Self,
    Desk,

    /// <summary>No drawer, no float, no one to open it.</summary>
    Online,
}

/// <param name="DropAbove">More cash than this should not lie in the drawer; null: as much as comes.</param>
public sealed record Register(RegisterId Id, string Name, RegisterKind Kind, Money Float, Money? DropAbove = null)
{
    /// <summary>The tenders that it takes; empty: all of them.</summary>
    public ImmutableArray<TenderId> Tenders { get; init; } = [];

    public bool Takes(TenderId tender) => Tenders.IsEmpty || Tenders.Contains(tender);
}
