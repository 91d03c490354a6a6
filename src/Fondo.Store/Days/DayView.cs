using System.Collections.Concurrent;
using System.Collections.Frozen;
using System.Collections.Immutable;
using System.Globalization;
using Fondo.Core.Banking;
using Fondo.Core.Books;
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
/// <param name="Money">Safe, bags, deposits, bank.</param>
/// <param name="Floats">The floats as they were left.</param>
/// <param name="Close">How the day was frozen; null while it is open.</param>
/// <param name="CarryChanges">What earlier days carry here otherwise than before, each as a sentence.</param>
public sealed record DayView(
    KnownDay Known,
    DayDecisions Decisions,
    MoneyDay Money,
    FloatsBefore Floats,
    FrozenClose? Close,
    IReadOnlyList<string> CarryChanges)
{
    private FrozenDictionary<CellKey, Bridge>? _bridges;
    private ImmutableArray<Lead>? _placeLeads;
    private MoneyDay? _ifApproved;
    private IReadOnlyList<Gate>? _gates;
    private IReadOnlyList<string>? _otherwise;

    private readonly ConcurrentDictionary<object, object> _once = [];

    private Task<LeadsFound>? _leads;

    private async Task<LeadsFound> FindLeads()
    {
        var found = Entries.Count == 0 ? await Known.Leads : Explained.Leads(Reconciliation, Entries);
        var sums = BankLeads.OfSums(Money.ClaimsBefore, TenderBridges);
        // What was carried and is worth exactly what is left comes before what else may explain it.
        return sums.IsEmpty
            ? found
            : found with
            {
                Leads = [.. sums, .. found.Leads.Select(l => sums.Any(s => s.Cell == l.Cell) ? l with { Rank = l.Rank + 1 } : l)]
            };
    }

    /// <summary>What a page reads besides, and that is the same while this view is: once, by whoever asks first, for all.</summary>
    public async Task<T> Once<T>(object what, Func<Task<T>> read)
        where T : notnull
    {
        // Two at once may both read; what failed is not kept.
        if (_once.TryGetValue(what, out var there))
        {
            return (T)there;
        }

        var made = await read();
        _once[what] = made;
        return made;
    }

    /// <summary>Another one says that the day's reconciliation is another.</summary>
    public int Revision => Known.Revision;

    public Overview Overview => Known.Overview;

    public Reconciliation Reconciliation => Overview.Result;

    public IReadOnlyList<Entry> Entries => Decisions.Entries;

    public IReadOnlyList<Excuse> Excuses => Decisions.Excuses;

    /// <summary>What may have happened, for every cell that is off and that no entry explains.</summary>
    public Task<LeadsFound> Leads => _leads ??= Entries.Count == 0 && Money.ClaimsBefore.IsEmpty ? Known.Leads : Task.Run(FindLeads);

    public Day Day => Reconciliation.Day;

    public Setup Setup => Day.Setup;

    public bool IsClosed => Close is not null;

    /// <summary>What the records of a closed day say otherwise than what was frozen; empty where they say the same, or the day is
    /// open.</summary>
    public IReadOnlyList<string> Otherwise => _otherwise ??= Differences();

    /// <summary>Tickets rung after their drawer closed: they count on the next trading day of their register (rules §1).</summary>
    public int Leaving =>
        _leaving ??= new Standing(Day) is var standing ? Day.Journal.Count(e => e is Ticket ticket && standing.IsAfterClose(ticket)) : 0;

    private int? _leaving;

    /// <summary>Whether anything was sold or settled, or waits to be proved: before that nothing can be said to be in order.</summary>
    public bool HasSales => Overview.Tickets > 0 || Reconciliation.Cells.Any(c => !c.Expected.IsZero || c.Proof is { IsZero: false });

    /// <summary>Every cell with its entries: those of registers and tenders, and those of the safe, the bags, the floats, the
    /// bank.</summary>
    public FrozenDictionary<CellKey, Bridge> Bridges =>
        _bridges ??= Reconciliation.Cells.Concat(Money.Cells)
            .ToFrozenDictionary(c => c.Key, c => Bridge.Of(c, Entries, Setup.ToleranceOf(c.Key)));

    /// <summary>What may have happened where the safe, a bag, a float or the bank is off.</summary>
    public ImmutableArray<Lead> PlaceLeads => _placeLeads ??= Money.Leads(Overview, Bridges);

    /// <summary>A cell as a person calls it, in the middle of a sentence.</summary>
    public string NameOf(CellKey key) => key is CellKey.BankLine && BankLineOf(key) is { } line
        ? $"the bank’s line of {line.Booked.ToString("d MMM", CultureInfo.InvariantCulture)}" : key.NameIn(Setup);

    /// <summary>The bank's line that a cell is about; null where it is about none of this day.</summary>
    public BankLine? BankLineOf(CellKey key) =>
        key is CellKey.BankLine { Line: var line }
            ? (_bankLines ??= Money.Bank.Lines.ToDictionary(l => l.Key, StringComparer.Ordinal)).GetValueOrDefault(line)
            : null;

    private Dictionary<string, BankLine>? _bankLines;

    /// <summary>The same at the beginning of a sentence.</summary>
    public string TitleOf(CellKey key) => NameOf(key) is { Length: > 0 } name ? char.ToUpperInvariant(name[0]) + name[1..] : "";

    /// <summary>The cells of registers and tenders alone.</summary>
    public IEnumerable<Bridge> TenderBridges => Bridges.Values.Where(b => !b.Cell.Key.IsPlace);

    /// <summary>What it does to what customers owe and are owed.</summary>
    public CustomerDay Customers { get; init; } = CustomerDay.Nothing;

    /// <summary>Earlier trading days that are still open, the first one first.</summary>
    public ImmutableArray<TradingDay> OpenBefore { get; init; } = [];

    public IReadOnlyList<Gate> Gates => _gates ??= Core.Closing.Gates.Of(Overview, Decisions, Money, OpenBefore, i => i.Says(Setup));

    /// <summary>Whether a drawer's session is over: closed at the register, or excused because it never will be.</summary>
    public bool HasEnded(DrawerSession session) =>
        session.Until is not null || Excuses.Any(e => e.Gate == GateId.Sessions && e.Item == session.Drawer.Value);

    /// <summary>The cells that somebody has to do something about, the most money first; those of which an entry only waits for a second
    /// person last.</summary>
    public IEnumerable<Bridge> Unresolved => Bridges.Values.Where(b => b.IsUnresolved).OrderBy(b => IsDecided(b))
        .ThenByDescending(b => b.Left!.Value.Abs()).ThenBy(b => b.Cell.Key);

    /// <summary>The next one after a cell that still asks for a decision: through all of them, the largest difference first, and round
    /// again. Null where no other one asks.</summary>
    /// <param name="than">Null for the first of all.</param>
    public CellKey? NextToResolve(CellKey? than)
    {
        var asks = Bridges.Values.Where(b => b.IsUnresolved && b.Cell.Key != than && !IsDecided(b)).Select(b => InTurn(b.Cell.Key)).Order()
            .ToList();
        return asks.Count == 0 ? null
            : (than is null ? [] : asks.Where(b => b.CompareTo(InTurn(than)) > 0)).Append(asks[0]).First().Key;
    }

    /// <summary>The place of a cell among those that are off: by its difference, whatever of it is explained by now.</summary>
    private (long Size, CellKey Key) InTurn(CellKey key) =>
        (Bridges.TryGetValue(key, out var bridge) ? -(bridge.Cell.Variance ?? Core.Amounts.Money.Zero).Abs().Minor : 0, key);

    /// <summary>Whether what is left would be nothing, once what waits for a second person is approved.</summary>
    public bool IsDecided(Bridge bridge) => (bridge.AwaitsApproval && bridge.Left == bridge.Pending)
        || (bridge.Cell.Key.IsPlace && ProvedIfApproved.Contains(bridge.Cell.Key));

    private HashSet<CellKey> ProvedIfApproved =>
        _provedIfApproved ??= [.. IfApproved.Cells.Where(c => c.State == CellState.Proved).Select(c => c.Key)];

    private HashSet<CellKey>? _provedIfApproved;

    /// <summary>Where the money would be, once everything that waits for a second person is approved: an entry on a drawer may make its bag
    /// right.</summary>
    private MoneyDay IfApproved => _ifApproved ??= Entries.All(e => e.Holds) ? Money : MoneyDay.Of(
        Overview, Floats, [.. Entries.Where(e => !e.IsWithdrawn(Entries)).Select(e => e with { NeedsApproval = false })], Money.Start,
        Money.Acts, Money.Bank.Lines, Money.Settled, Money.Earlier.Where(d => d.Stands), Money.Decisions);

    /// <summary>What is left to do at one register before it can be signed off.</summary>
    public IEnumerable<GateItem> LeftOf(RegisterId register) =>
        Gates.Where(g => g.Id is not GateId.Approvals).SelectMany(g => g.Left).Where(i => i.Register == register)
        .Concat(Gates.Where(g => g.Id == GateId.Approvals).SelectMany(g => g.Left)
            .Where(i => Find(Guid.Parse(i.Key))!.Postings.Any(p => p.Cell.Register == register)));

    /// <summary>The last time that a register was signed off; null while it was not.</summary>
    public SignOff? SignedOff(RegisterId register) => Decisions.SignOffs.Where(s => s.Register == register).MaxBy(s => s.At);

    /// <summary>Whether a register was signed off and is another since.</summary>
    public bool HasChangedSince(SignOff signed) => signed.Figures != SignOff.FiguresOf(signed.Register, Bridges.Values);

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
            && Bridges.TryGetValue(new CellKey.Takings(session.Register, drawer, TenderId.Cash), out var cash)
            && cash.Cell.State == CellState.Off,
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
            // What was closed before places were cells says nothing of them.
            var frozen = ClosingDesk.Read(close);
            return [.. frozen.Differences(CloseDocument.Of(close.Number, frozen.Revision, Overview, Decisions,
                frozen.Whereabouts is null ? null : Money, null, frozen.ClosedAt, new DocumentNames(Setup, id => id.Value),
                Customers)).Select(d => d.Says())];
        }
        catch (System.Text.Json.JsonException)
        {
            return ["The close document itself can no longer be read."];
        }
    }
}
