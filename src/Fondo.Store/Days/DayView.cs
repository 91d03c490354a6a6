using System.Collections.Frozen;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Store.Days;

/// <summary>Everything a screen needs to know of one day, as of one moment.</summary>
/// <param name="Close">How the day was frozen; null while it is open.</param>
public sealed record DayView(
    KnownDay Known,
    IReadOnlyList<Entry> Entries,
    IReadOnlyList<Excuse> Excuses,
    FrozenClose? Close)
{
    private FrozenDictionary<CellKey, Bridge>? _bridges;
    private IReadOnlyList<Gate>? _gates;

    /// <summary>Another one says that the day's reconciliation is another.</summary>
    public int Revision => Known.Revision;

    public Overview Overview => Known.Overview;

    public Reconciliation Reconciliation => Overview.Result;

    /// <summary>What may have happened, for every cell that is off.</summary>
    public Task<LeadsFound> Leads => Known.Leads;

    public Day Day => Reconciliation.Day;

    public Setup Setup => Day.Setup;

    public bool IsClosed => Close is not null;

    public FrozenDictionary<CellKey, Bridge> Bridges =>
        _bridges ??= Reconciliation.Cells.ToFrozenDictionary(c => c.Key, c => Bridge.Of(c, Entries, Setup.ToleranceOf(c.Key.Tender)));

    public IReadOnlyList<Gate> Gates => _gates ??= Core.Closing.Gates.Of(Overview, Entries, Excuses);

    public Entry? Find(Guid id) => Entries.FirstOrDefault(e => e.Id == id);

    /// <summary>The closing counts of a drawer, attempt by attempt.</summary>
    public IReadOnlyList<Core.Proof.Count> CountsOf(DrawerId drawer) =>
        [.. Day.Counts.Where(c => c.Kind == Core.Proof.CountKind.Closing && c.Drawer == drawer).OrderBy(c => c.Attempt)];
}
