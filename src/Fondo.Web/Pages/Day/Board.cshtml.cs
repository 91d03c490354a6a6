using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>Registers and drawer sessions by tenders: what proves, what is off, what waits for whom, and where to look first.</summary>
[Authorize(Policies.Read)]
public sealed class BoardModel(DayStore days, SetupBook book, Sightings sightings, Sources sources, HeldFiles held, TimeProvider clock)
    : DayPage(days)
{
    private const int DenseFrom = 13;

    private readonly Dictionary<CellKey, DateTimeOffset> _until = [];

    protected override string Place => "resolve";

    /// <param name="Name">Null on the further drawer sessions of a register.</param>
    /// <param name="Left">What is left at the whole register; null on the further drawer sessions of a register, and where nothing
    /// is.</param>
    /// <param name="Says">The row in words.</param>
    public sealed record Row(string? Name, string Who, string Hours, RegisterId? Register, DrawerId? Drawer, bool First,
        IReadOnlyList<Bridge?> Cells, Money? Left, string Says);

    public sealed record Advice(string Sentence, string Meta, Bridge? Bridge, string Href);

    /// <summary>Something that waits, and for whom.</summary>
    /// <param name="Key">The key that leads there; null where there is none.</param>
    public sealed record Waits(string What, string Who, string Href, string? Key);

    /// <summary>Whether the registers that prove whole are shown one by one.</summary>
    [BindProperty(SupportsGet = true)]
    public bool All { get; set; }

    /// <summary>What stands first: <c>time</c>, what can be put right for the shortest time; else the most money.</summary>
    [BindProperty(SupportsGet = true)]
    public string? By { get; set; }

    public IReadOnlyList<TenderKind> Columns { get; private set; } = [];

    public IReadOnlyList<(string Name, int Span)> Groups { get; private set; } = [];

    public IReadOnlyList<Row> Rows { get; private set; } = [];

    /// <summary>How many registers prove whole and are folded into one line; 0 where they stand one by one.</summary>
    public int Folded { get; private set; }

    public IReadOnlyList<Money> Totals { get; private set; } = [];

    public IReadOnlyList<Advice> First { get; private set; } = [];

    public IReadOnlyList<Waits> WaitsFor { get; private set; } = [];

    public int Off { get; private set; }

    public int Waiting { get; private set; }

    public bool IsDense { get; private set; }

    /// <summary>Controls that were loosened lately and hold on this day: what, by whom, approved by whom.</summary>
    public IReadOnlyList<string> Loosened { get; private set; } = [];

    /// <summary>Another one says that something on the board is another.</summary>
    public string Stamp => string.Create(System.Globalization.CultureInfo.InvariantCulture,
        $"{View.Revision}.{View.Entries.Count}.{View.Entries.Count(e => e.Holds)}.{View.Money.Acts.Deposits.Length}."
            + $"{View.Money.Acts.Movements.Length}.{View.Money.Bank.Lines.Length}.{View.Decisions.Answers.Length}.{View.Excuses.Count}");

    /// <param name="seen">The stamp of a board that follows: nothing is sent where it is the same.</param>
    public async Task<IActionResult> OnGet(string? seen)
    {
        if (View.Otherwise.Count > 0)
        {
            // Its records no longer say what was frozen: what was frozen is shown.
            return Redirect($"/{Setup.TradingDay}/close/document");
        }

        if (seen is not null && seen == Stamp)
        {
            return new StatusCodeResult(StatusCodes.Status204NoContent);
        }

        await Sight();
        foreach (var risk in AtRisk.In(View.Reconciliation).Where(r => r.Open.Item.CarriedFrom is null))
        {
            _until.TryAdd(risk.Open.Item.Cell, risk.Until);
        }

        var used = View.Reconciliation.Cells.Select(c => c.Key.OfTender).ToHashSet();
        Columns = [.. Setup.Tenders.Where(t => used.Contains(t.Id)).OrderBy(t => t.Proof)];
        Groups = [.. Columns.GroupBy(c => c.Proof)
            .Select(g => (g.Key switch { ProofKind.Count => "counted", ProofKind.Batch => "settled", _ => "books" }, g.Count()))];
        var cells = View.TenderBridges.ToLookup(b => b.Cell.Key.Register);
        IsDense = View.Overview.Sessions.Length >= DenseFrom || cells.Count >= DenseFrom;
        var whole = All || !IsDense
            ? []
            : Setup.Registers.Where(r => cells[r.Id].Any() && cells[r.Id].All(ProvesQuietly)).Select(r => r.Id).ToHashSet();
        Folded = whole.Count;
        Rows = [
            .. Setup.Registers.Where(r => !whole.Contains(r.Id)).SelectMany(r => RowsOf(r, [.. cells[r.Id]])),
            .. RowWithoutRegister(cells[null])
        ];
        Totals = [.. Columns.Select(c => View.Bridges.Values.Where(b => b.Cell.Key.OfTender == c.Id && b.IsUnresolved)
            .Sum(b => b.Left ?? Money.Zero))];
        Off = View.Bridges.Values.Count(b => b.IsUnresolved);
        Waiting = View.Reconciliation.Cells.Count(c => c.State == CellState.Waiting);
        First = [.. Unresolved(), .. Uncounted()];
        WaitsFor = [
            .. await held.Count() is > 0 and var files
                ? [new Waits($"{Say.Count(files, "upload")} not imported yet", "another person", $"/{Setup.TradingDay}/take-in#held", "k")]
                : Array.Empty<Waits>(),
            .. Waited()
        ];
        Brought = await View.Once(nameof(Brought), () => sources.Brought(Date));
        Loosened = [.. (await book.Loosened(Date)).SelectMany(s => s.Loosens!.Split('\n').Select(what =>
            $"Looser since {s.From.ToString("d MMM", System.Globalization.CultureInfo.InvariantCulture)}: {what}; by "
                + $"{Setup.NameOf(new PersonId(s.By))}, approved by {Setup.NameOf(new PersonId(s.Approval!.By))}."))];
        return Page();
    }

    /// <summary>The files that persons brought for this day: their word.</summary>
    public IReadOnlyList<(string By, string File)> Brought { get; private set; } = [];

    /// <summary>“Files brought by Odile Marchetti: batches.csv, journal.jsonl.”</summary>
    public string BroughtSays => string.Join(" ",
        Brought.GroupBy(b => b.By)
            .Select(g => $"Files brought by {Setup.NameOf(new PersonId(g.Key))}: {string.Join(", ", g.Select(b => b.File))}."));

    /// <summary>A count that is off shows here by how much, before its recount.</summary>
    private Task Sight() => sightings.Note(
        View, View.Overview.Sessions.Where(s => View.CountsOf(s.Drawer).Count == 1).Select(s => s.Drawer), MySelf, "the board");

    /// <summary>How much money can still be put right with the processors, by the moment until which it can; what is past its time
    /// first.</summary>
    public IReadOnlyList<(string Until, int Number, Money Amount)> Clock
    {
        get
        {
            var now = clock.GetUtcNow();
            return
            [
                .. AtRisk.In(View.Reconciliation)
                    .Where(r => r.Open.Item.CarriedFrom is not null || !View.Bridges.TryGetValue(r.Open.Item.Cell, out var bridge)
                        || bridge.IsUnresolved)
                    .GroupBy(r => r.IsOver(now) ? "past its time" : $"until {Say.Moment(r.Until, Setup)}, {Say.TimeLeft(r.Until - now)}")
                    .Select(g => (g.Key, g.Count(), g.Sum(r => r.Amount))).Take(3),
            ];
        }
    }

    /// <summary>So many places stand on the board; more bank lines than that are on the bank's page.</summary>
    public const int PlacesShown = 16;

    /// <summary>The safe, and every bag, float, deposit and line of the bank that is not as it should be.</summary>
    public IReadOnlyList<Bridge> PlaceRow => _placeRow ??= [.. View.Bridges.Values.Where(b => b.Cell.Key.IsPlace
        && (b.Cell.Key is CellKey.Safe || b.IsUnresolved || b.Cell.State == CellState.Off))
        .OrderBy(b => b.Cell.Key is CellKey.Safe ? 0 : 1).ThenBy(b => b.Cell.Key)];

    private IReadOnlyList<Bridge>? _placeRow;

    public string Href(CellKey key) => CellModel.Href(Setup.TradingDay, key);

    /// <summary>Nothing of it asks for anything, and everything is proved.</summary>
    private static bool ProvesQuietly(Bridge bridge) =>
        !bridge.IsUnresolved && bridge.Cell.State is CellState.Proved or CellState.JournalOnly;

    private IEnumerable<Row> RowsOf(Register register, IReadOnlyList<Bridge> own)
    {
        if (own.Count == 0)
        {
            yield break;
        }

        var unresolved = own.Where(b => b.IsUnresolved).ToList();
        var (left, says) = (unresolved.Count == 0 ? (Money?)null : unresolved.Sum(b => b.Left!.Value), InWords(register, own, unresolved));
        var sessions = View.Overview.Sessions.Where(s => s.Register == register.Id).ToList();
        if (sessions.Count == 0)
        {
            yield return new(register.Name, "", "", register.Id, null, true, CellsOf(register.Id, null, true), left, says);
            yield break;
        }

        for (var i = 0; i < sessions.Count; i++)
        {
            yield return new(i == 0 ? register.Name : null, Say.Person(sessions[i].Cashier, Setup), Hours(sessions[i]),
                register.Id, sessions[i].Drawer, i == 0, CellsOf(register.Id, sessions[i].Drawer, i == 0), i == 0 ? left : null, says);
        }
    }

    /// <summary>“Lane 2: 3 of 5 cells prove. Cash is short 300.00, credit is over 12.92. Check waits for its proof.”</summary>
    private string InWords(Register register, IReadOnlyList<Bridge> own, List<Bridge> unresolved)
    {
        var waits = own.Where(b => b.Cell.Proof is null && b.Cell.State == CellState.Waiting).ToList();
        var explained = own.Where(b => b.IsExplained).ToList();
        string Names(IEnumerable<Bridge> of) => string.Join(", ", of.Select(b => Name(b.Cell.Key)));
        return $"{register.Name}: {own.Count(ProvesQuietly)} of {own.Count} cells prove."
            + (unresolved.Count == 0
                ? ""
                : $" {Say.Capital(string.Join(", ", unresolved.Select(b => $"{Name(b.Cell.Key)} {Trouble(b)}")))}.")
            + (explained.Count == 0 ? "" : $" Explained: {Names(explained)}.")
            + (waits.Count == 0 ? "" : $" Still to be proved: {Names(waits)}.");

        string Name(CellKey key) => key is not CellKey.Takings taken ? View.NameOf(key)
            : Setup.NameOf(taken.Tender).ToLowerInvariant()
                + (key.Drawer is { } drawer && own.Count(b => b.Cell.Key.OfTender == taken.Tender) > 1 ? $" of {drawer}" : "");
    }

    private IEnumerable<Row> RowWithoutRegister(IEnumerable<Bridge> own) =>
        own.Any()
            ? [new("No register", "terminal without a register", "", null, null, true, CellsOf(null, null, true),
                own.Where(b => b.IsUnresolved).Sum(b => b.Left ?? Money.Zero), "Settled on a terminal without a register.")]
            : [];

    private List<Bridge?> CellsOf(RegisterId? register, DrawerId? drawer, bool first) =>
        [.. Columns.Select(c => c.Proof == ProofKind.Count ? Find(new CellKey.Takings(register, drawer, c.Id))
            : first ? Find(new CellKey.Takings(register, null, c.Id))
            : null)];

    private Bridge? Find(CellKey key) => View.Bridges.GetValueOrDefault(key);

    private string Hours(DrawerSession session) =>
        $"{Say.Time(session.From, Setup)} to {(session.Until is { } until ? Say.Time(until, Setup) : "now")}";

    private IEnumerable<Advice> Unresolved() =>
        (By == "time"
            ? View.Unresolved.OrderBy(b => _until.TryGetValue(b.Cell.Key, out var until) ? until : DateTimeOffset.MaxValue)
            : View.Unresolved).Select(b => new Advice(
            $"{View.TitleOf(b.Cell.Key)} {Trouble(b)}.", Meta(b), b, Href(b.Cell.Key)));

    private static string Trouble(Bridge bridge) =>
        (bridge.Left!.Value.IsZero ? "amounts match, counts don’t" : $"is {Say.Side(bridge.Left.Value)}")
            + (bridge.AwaitsApproval ? ", an entry waits for approval" : "");

    private string Meta(Bridge bridge)
    {
        var key = bridge.Cell.Key;
        var pairs = View.Overview.Unlike.Where(m => m.Journal[0].Cell == key || m.Rows[0].Cell == key).ToList();
        var open = View.Reconciliation.OpenItems.Count(o => o.Item.CarriedFrom is null && o.Item.Cell == key);
        var (strays, apart) = (pairs.Count(m => m.Journal[0].Cell != m.Rows[0].Cell), pairs.Count(m => !m.Difference.IsZero));
        var earlier = pairs.Count(m => m.Journal[0].CarriedFrom is null != m.Rows[0].CarriedFrom is null);
        var parts = new[]
        {
            (open, Say.Count(open, "open item")),
            (strays, $"{Say.Count(strays, "pair")} with another cell"),
            (apart, $"{Say.Count(apart, "pair")} whose amounts differ"),
            (earlier, $"{Say.Count(earlier, "pair")} with an earlier day"),
        }.Where(p => p.Item1 > 0).Select(p => p.Item2).ToList();
        var says = parts.Count > 0 ? string.Join(", ", parts)
            : key.Drawer is { } drawer && View.CountsOf(drawer) is [.., var last] ? "counted by " + Say.Person(last.By, Setup)
            : "no open items";
        return _until.TryGetValue(key, out var until) ? $"{says} · {Say.TimeLeft(until - clock.GetUtcNow())}" : says;
    }

    private IEnumerable<Advice> Uncounted()
    {
        var counted = CellSums.ClosingCounts(View.Day);
        return View.Overview.Sessions.Where(s => !counted.ContainsKey(s.Drawer))
            .Select(s => new Advice($"{Setup.NameOf(s.Register)} waits for its count.", $"drawer {s.Drawer}, {Setup.NameOf(s.Cashier)}",
                null, $"/{Setup.TradingDay}/count/{s.Drawer}"));
    }

    private IEnumerable<Waits> Waited()
    {
        var day = Setup.TradingDay;
        if (View.Entries.Count(e => !e.Holds && !e.IsWithdrawn(View.Entries)) is > 0 and var unsigned)
        {
            yield return new($"{Say.Count(unsigned, "entry", "entries")} to be signed", "a second person", $"/{day}/approvals", "p");
        }

        if (Gates.Unseen(View.Overview, View.Decisions.Answers).Count() is > 0 and var unseen)
        {
            yield return new($"{Say.Count(unseen, "ticket check")} to be seen", "a supervisor", $"/{day}/checks", "g");
        }

        var owners = Carrying.Owners(View.Entries);
        foreach (var hold in View.Overview.OpenHolds.Where(h => !owners.ContainsKey(h.Id.Value)))
        {
            yield return new($"{Amount(hold.Total)} on hold at {Setup.NameOf(hold.Register)} since {Say.Time(hold.At, Setup)}",
                "a supervisor", $"/{day}/carried", "h");
        }

        var now = clock.GetUtcNow();
        foreach (var carried in Carrying.Open(View.Reconciliation, View.Entries).Where(c => c.Ended is null).OrderBy(c => c.Owned?.Deadline)
            .Take(6))
        {
            yield return new($"{Amount(carried.Amount)} carried from {carried.Day}",
                carried.Owned is { } owned
                    ? $"{Setup.NameOf(owned.Owner)}, {(owned.Deadline <= now ? "over since" : "until")} {Say.Moment(owned.Deadline, Setup)}"
                    : "nobody yet", $"/{day}/carried", "h");
        }
    }
}
