using Fondo.Core.Amounts;
using Fondo.Core.Cells;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Store.SetUp;
using Fondo.Web.Hosting;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>Registers and drawer sessions by tenders: what proves, what is off, what waits, and where to look first.</summary>
[Authorize(Policies.Read)]
public sealed class BoardModel(DayStore days, SetupBook book, Sightings sightings, TimeProvider clock) : DayPage(days)
{
    private const int DenseFrom = 13;

    protected override string Place => "resolve";

    /// <param name="Name">Null on the further drawer sessions of a register.</param>
    public sealed record Row(string? Name, string Who, string Hours, RegisterId? Register, DrawerId? Drawer, bool First, IReadOnlyList<Bridge?> Cells);

    public sealed record Advice(string Sentence, string Meta, Bridge? Bridge, string Href);

    public IReadOnlyList<TenderKind> Columns { get; private set; } = [];

    public IReadOnlyList<(string Name, int Span)> Groups { get; private set; } = [];

    public IReadOnlyList<Row> Rows { get; private set; } = [];

    public IReadOnlyList<Money> Totals { get; private set; } = [];

    public IReadOnlyList<Advice> First { get; private set; } = [];

    public int Off { get; private set; }

    public int Waiting { get; private set; }

    public bool IsDense => Rows.Count >= DenseFrom;

    /// <summary>Controls that were loosened lately and hold on this day: what, by whom, approved by whom.</summary>
    public IReadOnlyList<string> Loosened { get; private set; } = [];

    public async Task<IActionResult> OnGet()
    {
        if (View.Otherwise.Count > 0)
        {
            // Its records no longer say what was frozen: what was frozen is shown.
            return Redirect($"/{Setup.TradingDay}/close/document");
        }

        await Sight();
        var used = View.Reconciliation.Cells.Select(c => c.Key.Tender).ToHashSet();
        Columns = [.. Setup.Tenders.Where(t => used.Contains(t.Id)).OrderBy(t => t.Proof)];
        Groups = [.. Columns.GroupBy(c => c.Proof).Select(g => (g.Key switch { ProofKind.Count => "counted", ProofKind.Batch => "settled", _ => "books" }, g.Count()))];
        Rows = [.. Setup.Registers.SelectMany(RowsOf), .. RowWithoutRegister()];
        Totals = [.. Columns.Select(c => View.Bridges.Values.Where(b => b.Cell.Key.Tender == c.Id && b.IsUnresolved).Sum(b => b.Left ?? Money.Zero))];
        Off = View.Bridges.Values.Count(b => b.IsUnresolved);
        Waiting = View.Reconciliation.Cells.Count(c => c.State == CellState.Waiting);
        First = [.. Unresolved(), .. Uncounted()];
        Loosened = [.. (await book.Loosened(Date)).SelectMany(s => s.Loosens!.Split('\n').Select(what =>
            $"Looser since {s.From.ToString("d MMM", System.Globalization.CultureInfo.InvariantCulture)}: {what}; by {Setup.NameOf(new PersonId(s.By))}, approved by {Setup.NameOf(new PersonId(s.Approval!.By))}."))];
        return Page();
    }

    /// <summary>A count that is off shows here by how much, before its recount.</summary>
    private Task Sight() => sightings.Note(
        View, View.Overview.Sessions.Where(s => View.CountsOf(s.Drawer).Count == 1).Select(s => s.Drawer), MySelf, "the board");

    /// <summary>How much money can still be put right with the processors, by the moment until which it can; what is past its time first.</summary>
    public IReadOnlyList<(string Until, int Number, Money Amount)> Clock
    {
        get
        {
            var now = clock.GetUtcNow();
            return
            [
                .. AtRisk.In(View.Reconciliation).Where(r => r.Open.Item.CarriedFrom is not null || !View.Bridges.TryGetValue(r.Open.Item.Cell, out var bridge) || bridge.IsUnresolved)
                    .GroupBy(r => r.IsOver(now) ? "past its time" : $"until {Say.Moment(r.Until, Setup)}, {Say.TimeLeft(r.Until - now)}").Select(g => (g.Key, g.Count(), g.Sum(r => r.Amount))).Take(3),
            ];
        }
    }

    public string Href(CellKey key) => CellModel.Href(Setup.TradingDay, key);

    private IEnumerable<Row> RowsOf(Register register)
    {
        var sessions = View.Overview.Sessions.Where(s => s.Register == register.Id).ToList();
        if (sessions.Count == 0)
        {
            if (View.Reconciliation.Cells.Any(c => c.Key.Register == register.Id))
            {
                yield return new(register.Name, "", "", register.Id, null, true, CellsOf(register.Id, null, true));
            }

            yield break;
        }

        for (var i = 0; i < sessions.Count; i++)
        {
            yield return new(i == 0 ? register.Name : null, Say.FirstName(Setup.NameOf(sessions[i].Cashier)), Hours(sessions[i]), register.Id, sessions[i].Drawer, i == 0, CellsOf(register.Id, sessions[i].Drawer, i == 0));
        }
    }

    private IEnumerable<Row> RowWithoutRegister() =>
        View.Reconciliation.Cells.Any(c => c.Key.Register is null) ? [new("No register", "terminal stood nowhere", "", null, null, true, CellsOf(null, null, true))] : [];

    private List<Bridge?> CellsOf(RegisterId? register, DrawerId? drawer, bool first) =>
        [.. Columns.Select(c => c.Proof == ProofKind.Count ? Find(new(register, drawer, c.Id)) : first ? Find(new(register, null, c.Id)) : null)];

    private Bridge? Find(CellKey key) => View.Bridges.GetValueOrDefault(key);

    private string Hours(DrawerSession session) =>
        $"{Say.Time(session.From, Setup)} to {(session.Until is { } until ? Say.Time(until, Setup) : "now")}";

    private IEnumerable<Advice> Unresolved() =>
        View.Bridges.Values.Where(b => b.IsUnresolved).OrderByDescending(b => b.Left!.Value.Abs()).ThenBy(b => b.Cell.Key).Select(b => new Advice(
            $"{Setup.NameOf(b.Cell.Key.Register)} {Setup.NameOf(b.Cell.Key.Tender).ToLowerInvariant()} {Trouble(b)}.", Meta(b), b, Href(b.Cell.Key)));

    private static string Trouble(Bridge bridge) =>
        (bridge.Left!.Value.IsZero ? "agrees in amount, not in number" : $"is {Say.Side(bridge.Left.Value)}") + (bridge.AwaitsApproval ? ", an entry waits for approval" : "");

    private string Meta(Bridge bridge)
    {
        var key = bridge.Cell.Key;
        var pairs = View.Reconciliation.Matches.Where(m => m.Journal[0].Cell == key || m.Rows[0].Cell == key).ToList();
        var open = View.Reconciliation.OpenItems.Count(o => o.Item.CarriedFrom is null && o.Item.Cell == key);
        var (strays, apart) = (pairs.Count(m => m.Journal[0].Cell != m.Rows[0].Cell), pairs.Count(m => !m.Difference.IsZero));
        var earlier = pairs.Count(m => m.Journal[0].CarriedFrom is null != m.Rows[0].CarriedFrom is null);
        var parts = new[]
        {
            (open, Say.Count(open, "open item")), (strays, $"{Say.Count(strays, "pair")} with another cell"), (apart, $"{Say.Count(apart, "pair")} whose amounts differ"),
            (earlier, $"{Say.Count(earlier, "pair")} with an earlier day"),
        }.Where(p => p.Item1 > 0).Select(p => p.Item2).ToList();
        return parts.Count > 0 ? string.Join(", ", parts) : key.Drawer is { } drawer ? "counted by " + Say.FirstName(Setup.NameOf(View.CountsOf(drawer)[^1].By)) : "no open items";
    }

    private IEnumerable<Advice> Uncounted()
    {
        var counted = CellSums.ClosingCounts(View.Day);
        return View.Overview.Sessions.Where(s => !counted.ContainsKey(s.Drawer))
            .Select(s => new Advice($"{Setup.NameOf(s.Register)} waits for its count.", $"drawer {s.Drawer}, {Setup.NameOf(s.Cashier)}", null, $"/{Setup.TradingDay}/count/{s.Drawer}"));
    }
}
