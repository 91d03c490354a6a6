using System.Collections.Frozen;
using Fondo.Core.Cells;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Proof;
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
    private FrozenSet<string>? _names;
    private IReadOnlyList<string>? _otherwise;

    /// <summary>Another one says that the day's reconciliation is another.</summary>
    public int Revision => Known.Revision;

    public Overview Overview => Known.Overview;

    public Reconciliation Reconciliation => Overview.Result;

    /// <summary>What may have happened, for every cell that is off.</summary>
    public Task<LeadsFound> Leads => Known.Leads;

    public Day Day => Reconciliation.Day;

    public Setup Setup => Day.Setup;

    public bool IsClosed => Close is not null;

    /// <summary>What the records of a closed day say otherwise than what was frozen; empty where they say the same, or the day is open.</summary>
    public IReadOnlyList<string> Otherwise => _otherwise ??= Differences();

    public FrozenDictionary<CellKey, Bridge> Bridges =>
        _bridges ??= Reconciliation.Cells.ToFrozenDictionary(c => c.Key, c => Bridge.Of(c, Entries, Setup.ToleranceOf(c.Key.Tender)));

    public IReadOnlyList<Gate> Gates => _gates ??= Core.Closing.Gates.Of(Overview, Entries, Excuses);

    /// <summary>Everything of the day that evidence can name.</summary>
    public FrozenSet<string> Names => _names ??= NamesOf(Reconciliation).ToFrozenSet();

    /// <summary>Whether a drawer's session is over: closed at the register, or excused because it never will be.</summary>
    public bool HasEnded(DrawerSession session) => session.Until is not null || Excuses.Any(e => e.Gate == GateId.Sessions && e.Item == session.Drawer.Value);

    public Entry? Find(Guid id) => Entries.FirstOrDefault(e => e.Id == id);

    /// <summary>The counts of a drawer, attempt by attempt.</summary>
    /// <param name="kind">Closing ones, or those made while it was open.</param>
    public IReadOnlyList<Count> CountsOf(DrawerId drawer, CountKind kind = CountKind.Closing) => CountsOf(CountTarget.Of(drawer), kind);

    /// <summary>The counts of a drawer, a bag or the safe, attempt by attempt.</summary>
    public IReadOnlyList<Count> CountsOf(CountTarget target, CountKind kind) =>
        [.. Day.Counts.Where(c => c.Kind == kind && CountTarget.Of(c) == target).OrderBy(c => (c.Attempt, c.At.UtcTicks))];

    /// <summary>Whether what was counted is off by more than the tolerance.</summary>
    public bool IsOff(CountTarget target) => target switch
    {
        { Drawer: { } drawer } => Overview.Sessions.FirstOrDefault(s => s.Drawer == drawer) is { } session
            && Bridges.TryGetValue(new(session.Register, drawer, TenderId.Cash), out var cash) && cash.Cell.State == CellState.Off,
        { Bag: { } bag } => Bag.Of(Day, bag).IsOff,
        _ => false,
    };

    private IReadOnlyList<string> Differences()
    {
        if (Close is not { } close)
        {
            return [];
        }

        try
        {
            var frozen = ClosingDesk.Read(close);
            return frozen.Differences(CloseDocument.Of(close.Number, Reconciliation, [.. Entries], [.. Excuses], frozen.ClosedBy, frozen.ClosedAt, id => id.Value));
        }
        catch (System.Text.Json.JsonException)
        {
            return ["The close document itself does not read any more."];
        }
    }

    private static IEnumerable<string> NamesOf(Reconciliation result)
    {
        var day = result.Day;
        var events = day.Journal.Concat(day.Carried.Journal.Select(c => (Core.Journal.JournalEvent)c.Ticket));
        foreach (var e in events)
        {
            yield return e.Id.Value;
            for (var place = 1; e is Core.Journal.Ticket ticket && place <= ticket.Tenders.Length; place++)
            {
                yield return $"{e.Id}#{place}";
            }

            if (e is Core.Journal.CashMovement { Bag: { } bag })
            {
                yield return bag;
            }
        }

        foreach (var name in (day.Rows ?? []).Select(r => r.Key.ToString()).Concat(day.Carried.Rows.Select(r => r.Row.Key.ToString()))
            .Concat((day.Ledger ?? []).Select(l => $"{l.Tender}/{l.Sequence}")).Concat(day.Counts.Select(c => c.Id)).Concat(day.Counts.Select(c => c.Bag).OfType<string>())
            .Concat(day.Setup.Terminals.Select(t => t.Terminal.Value)).Concat(day.Journal.Select(e => e.Drawer?.Value).OfType<string>()))
        {
            yield return name;
        }
    }
}
