using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;

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
