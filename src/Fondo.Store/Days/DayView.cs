using System.Collections.Frozen;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;

namespace Fondo.Store.Days;

/// <summary>Everything a screen needs to know of one day, as of one moment.</summary>
/// <param name="Revision">Another one says that the day's reconciliation is another.</param>
/// <param name="Close">How the day was frozen; null while it is open.</param>
public sealed record DayView(
    int Revision,
    Reconciliation Reconciliation,
    IReadOnlyList<Entry> Entries,
    IReadOnlyList<Excuse> Excuses,
    FrozenClose? Close)
{
    private FrozenDictionary<CellKey, Bridge>? _bridges;
    private IReadOnlyList<Gate>? _gates;

    public Day Day => Reconciliation.Day;

    public Setup Setup => Day.Setup;

    public bool IsClosed => Close is not null;

    public FrozenDictionary<CellKey, Bridge> Bridges =>
        _bridges ??= Reconciliation.Cells.ToFrozenDictionary(c => c.Key, c => Bridge.Of(c, Entries, Setup.ToleranceOf(c.Key.Tender)));

    public IReadOnlyList<Gate> Gates => _gates ??= Core.Closing.Gates.Of(Reconciliation, Entries, Excuses);

    public Entry? Find(Guid id) => Entries.FirstOrDefault(e => e.Id == id);

    /// <summary>The closing counts of a drawer, attempt by attempt.</summary>
    public IReadOnlyList<Core.Proof.Count> CountsOf(DrawerId drawer) =>
        [.. Day.Counts.Where(c => c.Kind == Core.Proof.CountKind.Closing && c.Drawer == drawer).OrderBy(c => c.Attempt)];
}
