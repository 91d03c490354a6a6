using System.Security.Cryptography;
using System.Text;
using Fondo.Core.Days;
using Fondo.Core.Evidence;
using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.Settling;
using Fondo.Web.Hosting;
using Fondo.Web.Settling;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Fondo.Web.Pages.Day;

/// <summary>The evening's settlement in one place: what each terminal holds beside what the journal holds of it, and the sending.</summary>
[Authorize(Policies.Read)]
public sealed class SettleModel(DayStore days, TerminalReadings readings, SettlementDesk desk, PrintedDesk printed, Settler settler,
    SettlementWatch watch, TimeProvider clock) : DayPage(days)
{
    /// <summary>A batch of today, and how it compares with the journal of its time.</summary>
    public sealed record Closed(BatchTotal Total, TerminalComparison Comparison, bool IsOurs);

    /// <summary>One terminal of the evening.</summary>
    public sealed record Line(TerminalReading Reading, string Register, IReadOnlyList<Closed> Batches, Settlement? Settlement,
        IReadOnlyList<PrintedLine> Printed, MissedSettlement? Missed)
    {
        /// <summary>One item that stands on one side alone, or with another amount.</summary>
        public sealed record Difference(string What, string Amount, string When, string Href);

        public TerminalId Terminal => Reading.Terminal;

        public bool IsConnected => Reading.Place.IsConnected;

        /// <summary>Whether anything waits for a batch.</summary>
        public bool Holds => Reading.Comparison.Journal.Number + Reading.Held.Count > 0;

        public bool IsUnderWay => Settlement is { IsDone: false };

        public bool CanSettle => IsConnected && Reading.Objection is null && !IsUnderWay && Reading.Held.Count > 0;

        /// <summary>What it holds, as the page shows it and sends it back: what has changed since is not settled unseen.</summary>
        public string Shown => $"{Terminal}/{Reading.Held.Count}/{Reading.Comparison.Held.Net.Minor}";
    }

    protected override string Place => "settle";

    /// <summary>What is sent cannot be called back: what stands here is as it is now.</summary>
    protected override bool MayLag => false;

    public IReadOnlyList<Line> Lines { get; private set; } = [];

    /// <summary>Made with the page: each terminal is told once, however often it is sent.</summary>
    public Guid Form { get; } = Guid.NewGuid();

    public DateTimeOffset MadeAt { get; private set; }

    public IReadOnlyList<string> Objections { get; private set; } = [];

    public IReadOnlyList<Objection> TotalsObjections { get; private set; } = [];

    /// <summary>The terminal whose printed totals were typed, and what was typed.</summary>
    public (string Terminal, IReadOnlyList<TypedTotals> Lines)? TypedFor { get; private set; }

    public SettlementWatch Alarms => watch;

    public bool MayAct => MySelf.May(Right.Supervise) && !View.IsClosed;

    public IEnumerable<Line> Agreeing => Lines.Where(l => l.CanSettle && l.Reading.Agrees);

    public IEnumerable<Line> Differing => Lines.Where(l => l.CanSettle && !l.Reading.Agrees);

    /// <summary>What stands behind the differences, terminal by terminal, with what may have happened.</summary>
    public IReadOnlyDictionary<TerminalId, (IReadOnlyList<Line.Difference> Rows,
        IReadOnlyList<string> Leads)> Explained
    { get; private set; } =
            new Dictionary<TerminalId, (IReadOnlyList<Line.Difference>, IReadOnlyList<string>)>();

    public string Headline
    {
        get
        {
            var (waiting, differ) =
                (Lines.Count(l => l.Holds && !l.IsUnderWay), Lines.Count(l => l.IsConnected && l.Holds && !l.Reading.Agrees));
            var first = Lines.Count(l => l.Holds && !l.IsUnderWay && !View.Overview.SettledTerminals.Contains(l.Terminal));
            return Lines.Any(l => l.Settlement?.State == SettlementState.Unknown) ? "Waiting for a settlement’s answer."
                : waiting == 0 ? View.Overview.SettledTerminals.Count == 0 ? "No cards to settle yet." : "Everything is settled."
                : first == 0
                    ? $"Every terminal has settled; {(waiting == 1 ? "one has" : $"{waiting} have")} more "
                        + $"since{(differ == 0 ? "." : differ == 1 ? ", and one does not agree." : $", and {differ} do not agree.")}"
                : $"{(waiting == 1 ? "One terminal waits" : $"{waiting} terminals wait")} to be "
                    + $"settled{(differ == 0 ? "." : differ == 1 ? "; one does not agree." : $"; {differ} do not agree.")}";
        }
    }

    public async Task OnGet() => await Load();

    /// <param name="which">One terminal; <c>agreeing</c> or <c>all</c>.</param>
    /// <param name="made">When the page was made: what was settled since is not settled again.</param>
    /// <param name="shown">What the terminals held when they were looked at.</param>
    [Does(ActKind.Settle)]
    public async Task<IActionResult> OnPost(Guid form, string which, DateTimeOffset made, string[] shown)
    {
        await Load();
        var chosen = which switch
        {
            "agreeing" => Agreeing,
            "all" => Lines.Where(l => l.CanSettle),
            _ => Lines.Where(l => l.Terminal.Value == which)
        };
        var (sent, objections) = (0, new List<string>());
        foreach (var line in chosen.ToList())
        {
            if (line.Settlement is { IsDone: true } since && since.At >= made && since.Key != KeyOf(form, line.Terminal))
            {
                objections.Add(
                    $"{line.Terminal} was settled at {Say.Time(since.At, Setup)} by {Setup.NameOf(since.By)}, after you opened this page. "
                        + "Nothing was sent. Look at it first.");
            }
            else if (!line.CanSettle && !line.IsUnderWay && line.Settlement?.Key != KeyOf(form, line.Terminal))
            {
                var why = line.Reading.Objection ?? (line.IsConnected ? "it holds nothing to settle." : "it is not connected.");
                objections.Add($"{line.Terminal}: {why} Nothing was sent.");
            }
            else if (line.CanSettle && line.Settlement?.Key != KeyOf(form, line.Terminal) && !shown.Contains(line.Shown))
            {
                objections.Add(
                    $"{line.Terminal} holds {Say.Count(line.Reading.Held.Count, "card")} for {Amount(line.Reading.Comparison.Held.Net)} "
                        + "now. That is not what this page showed when you pressed. Nothing was sent. Look at it and settle again.");
            }
            else if (await settler.Settle(Date, line.Terminal.Value, KeyOf(form, line.Terminal), MySelf,
                CancellationToken.None) is { } objection)
            {
                objections.Add(objection);
            }
            else
            {
                sent++;
            }
        }

        if (objections.Count == 0)
        {
            Notice = sent == 0 ? "There was nothing to settle." : null;
            return Redirect($"/{Setup.TradingDay}/settle");
        }

        Objections = objections;
        await Reload();
        await Load();
        return Page();
    }

    /// <summary>Asks the processor now what became of what it has not answered.</summary>
    [Does(ActKind.Settle)]
    public async Task<IActionResult> OnPostAsk()
    {
        foreach (var open in (await desk.Open()).Where(o => o.State == SettlementState.Unknown))
        {
            await settler.AskNow(open.Key);
        }

        return Redirect($"/{Setup.TradingDay}/settle");
    }

    /// <summary>Takes over what a terminal that is not connected printed.</summary>
    [Does(ActKind.TypePrintedTotals)]
    public async Task<IActionResult> OnPostPrinted(string terminal)
    {
        var form = Request.Form;
        string Field(string name, int i) => i < form[name].Count ? PiecesSheet.Short(form[name][i]) : "";
        List<TypedTotals> typed = [.. Enumerable.Range(0, Math.Min(form["brand"].Count, 40))
            .Select(i => new TypedTotals(Field("brand", i), Field("sales", i), Field("salesAmount", i), Field("refunds", i),
                Field("refundsAmount", i)))];
        TotalsObjections = (await printed.Keep(Date, terminal, typed, MySelf)).Objections;
        if (TotalsObjections.Count == 0)
        {
            Notice = $"The totals of {terminal} count until its rows come.";
            return Redirect($"/{Setup.TradingDay}/settle");
        }

        await Load();
        TypedFor = (terminal, typed);
        return Page();
    }

    /// <summary>The lines to type into: the brands that the journal has, and what was printed before.</summary>
    public IReadOnlyList<TypedTotals> TotalsOf(Line line) =>
        TypedFor is { } typed && typed.Terminal == line.Terminal.Value ? [.. typed.Lines, new("", "", "", "", "")]
        : line.Printed.Count > 0 ? [
            .. line.Printed.Select(p => new TypedTotals(
                p.Benefit switch { Benefit.Food => PrintedDesk.FoodBenefits, Benefit.Cash => PrintedDesk.CashBenefits, _ => p.Brand ?? "" },
                $"{p.SalesCount}", Setup.Currency.Format(p.SalesAmount), $"{p.RefundsCount}", Setup.Currency.Format(p.RefundsAmount))),
            new("", "", "", "", "")
        ]
        : [.. line.Reading.Comparison.Brands.Select(b => new TypedTotals(b.Brand, "", "", "", "")), new("", "", "", "", "")];

    private async Task Load()
    {
        MadeAt = clock.GetUtcNow();
        var all = await readings.Of(View, HttpContext.RequestAborted);
        var settlements = (await desk.Of(Date)).ToLookup(s => s.Terminal);
        var missed = MissedSettlement.In(View.Overview, clock.GetUtcNow(), () => View.Known.Unsettled).ToDictionary(m => m.Terminal);
        var lines = new PrintedTotals(View.Day).Lines.ToLookup(l => l.Terminal);
        var compared = TerminalComparison.OfBatches(View.Reconciliation);
        var totals = View.Day.Totals.OrderBy(t => t.Closed).ToLookup(t => t.Terminal);
        Lines =
        [
            .. all.Select(r => new Line(
                r, Setup.NameOf(r.Place.Register),
                [.. totals[r.Terminal].Select(t =>
                    new Closed(t, compared[(t.Terminal, t.Batch)], settlements[t.Terminal.Value].Any(s => s.Batch == t.Batch)))],
                settlements[r.Terminal.Value].FirstOrDefault(), [.. lines[r.Terminal]], missed.GetValueOrDefault(r.Terminal))),
        ];
        Explained = Explain();
    }

    private Dictionary<TerminalId, (IReadOnlyList<Line.Difference>, IReadOnlyList<string>)> Explain()
    {
        var differing = Lines.Where(l => l.IsConnected && l.Reading.Objection is null && l.Holds && !l.Reading.Agrees).ToList();
        if (differing.Count == 0)
        {
            return [];
        }

        var then = new IfSettled(View.Day, Lines.SelectMany(l => l.Reading.Held));
        return differing.ToDictionary(l => l.Terminal, l => (
            (IReadOnlyList<Line.Difference>)[.. then.Of(l.Terminal).Select(b => DifferenceOf(b, l.Terminal))],
            (IReadOnlyList<string>)[.. then.LeadsOf(l.Reading.Place).Select(lead => lead.SaysBeforeSettling(Setup))]));
    }

    private Line.Difference DifferenceOf(Behind behind, TerminalId terminal)
    {
        var (item, card) = (behind.Item, behind.Item.Card);
        var what = behind switch
        {
            { Cause: { } cause } => Say.BeforeSettling(cause),
            { Other: { } other } when other.Amount != item.Amount =>
                $"Recorded with {Amount(item.Amount)}, run with {Amount(other.Amount)}",
            _ => $"Recorded on {item.Terminal}, run on {terminal}",
        };
        return new(
            $"{what}. {(card.Brand is { } brand ? brand + " " : "")}{(card.LastFour is { } last ? $"ending {last}" : "")}".Trim(),
            Amount(item.Amount), Say.Time(item.At, Setup),
            item.Tender is { } tender ? $"/{Setup.TradingDay}/ticket/{tender.Ticket.Id}" : "");
    }

    /// <summary>One key for a page and a terminal.</summary>
    private static Guid KeyOf(Guid form, TerminalId terminal) =>
        new(SHA256.HashData(Encoding.UTF8.GetBytes($"{form:N}/{terminal}")).AsSpan(0, 16));
}
