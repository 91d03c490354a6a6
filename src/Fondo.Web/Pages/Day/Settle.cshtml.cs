using System.Collections.Immutable;
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
public sealed class SettleModel(DayStore days, TerminalReadings readings, SettlementDesk desk, PrintedDesk printed,
    SettlementOrders orders, SettlementWatch watch, RunOptions options, TimeProvider clock) : DayPage(days)
{
    /// <summary>A batch of today, and how it compares with the journal of its time.</summary>
    public sealed record Closed(BatchTotal Total, TerminalComparison Comparison, bool IsOurs);

    /// <summary>One terminal of the evening.</summary>
    public sealed record Line(TerminalReading Reading, string Register, IReadOnlyList<Closed> Batches, Settlement? Settlement,
        IReadOnlyList<PrintedLine> Printed, MissedSettlement? Missed, int HeldCards)
    {
        /// <summary>One item that stands on one side alone, or with another amount.</summary>
        public sealed record Difference(string What, string Amount, string When, string Href);

        public TerminalId Terminal => Reading.Terminal;

        public bool IsConnected => Reading.Place.IsConnected;

        /// <summary>Whether anything waits for a batch.</summary>
        public bool Holds => Reading.Comparison.Journal.Number + Reading.Held.Count > 0;

        /// <summary>Whether cards wait that no batch has, by the journal or by the terminal's own word.</summary>
        public bool Waits => HeldCards + Reading.Held.Count > 0;

        public bool IsUnderWay => Settlement is { IsDone: false };

        public bool CanSettle => IsConnected && HasSaid && !IsUnderWay && Reading.Held.Count > 0;

        /// <summary>Whether it has said what it holds.</summary>
        public bool HasSaid => IsConnected && Reading is { Objection: null, IsAwaited: false };

        /// <summary>What it holds, as the page sends it back: what has changed since is not settled unseen.</summary>
        public string Shown =>
            new SeenOnTerminal(Terminal.Value, Reading.Agrees, Reading.Held.Count, Reading.Comparison.Held.Net.Minor).Text;

        /// <summary>What may still change without anybody doing anything on this page.</summary>
        public bool IsMoving => Reading.IsAwaited || IsUnderWay;
    }

    protected override string Place => "settle";

    /// <summary>What is sent cannot be called back: what stands here is as it is now.</summary>
    protected override bool MayLag => false;

    public ImmutableArray<Line> Lines { get; private set; } = [];

    /// <summary>Made with the page: each terminal is told once, however often it is sent.</summary>
    public Guid Form { get; } = Guid.NewGuid();

    public DateTimeOffset MadeAt { get; private set; }

    /// <summary>When the page was opened: what terminals said since then stands, so that a look at how far it is asks nobody
    /// twice.</summary>
    public DateTimeOffset OpenedAt { get; private set; }

    public bool IsMoving => Lines.Any(l => l.IsMoving);

    /// <summary>The parts of the page that a look at how far it is renews; forms that somebody types into are not among them.</summary>
    public string Moving =>
        string.Join(',', Lines.Where(l => l.IsConnected).Select(l => $"#{PlaceOf(l)}").Prepend("#evening").Prepend("#settle-say"));

    public string PlaceOf(Line line) => $"settle-{Lines.IndexOf(line)}";

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
            var waits = Lines.Where(l => l.Waits && !l.IsUnderWay).ToList();
            var (waiting, differ) = (waits.Count, waits.Count(l => l.IsConnected && !l.Reading.IsAwaited && !l.Reading.Agrees));
            // What the journal knows waits on every page; what a terminal alone holds, only it can say.
            var (known, again) = (waits.Count(l => l.HeldCards > 0), waits.All(l => View.Overview.SettledTerminals.Contains(l.Terminal)));
            var sending = Lines.Count(l => l.Settlement?.State is SettlementState.Ordered or SettlementState.Sent);
            return sending > 0 ? $"Settling {Say.Count(sending, "terminal")}."
                : Lines.Any(l => l.Settlement?.State == SettlementState.Unknown) ? "Waiting for a settlement’s answer."
                : Lines.Any(l => l.Reading.IsAwaited) ? "Asking the terminals what they hold."
                : waiting == 0 ? View.Overview.SettledTerminals.Count == 0 ? "No cards to settle yet." : "Everything is settled."
                : known == 0 ? "Everything in the journal is settled. "
                    + $"{(waiting == 1 ? "One terminal holds" : $"{waiting} terminals hold")} cards that are not in it."
                : $"{(waiting == 1 ? "One terminal waits" : $"{waiting} terminals wait")} to be "
                    + $"settled{(again ? " again" : "")}"
                    + (differ == 0 ? "." : differ == 1 ? "; one does not agree." : $"; {differ} do not agree.");
        }
    }

    /// <param name="since">When the page was opened that now looks how far it is; null: it is opened now.</param>
    public async Task OnGet(DateTimeOffset? since)
    {
        OpenedAt = since ?? clock.GetUtcNow();
        await Load(since);
    }

    /// <param name="which">One terminal; <c>agreeing</c> or <c>all</c>.</param>
    /// <param name="made">When the page was made: what was settled since is not settled again.</param>
    /// <param name="shown">What the page showed of the terminals.</param>
    [Does(ActKind.Settle)]
    public async Task<IActionResult> OnPost(Guid form, string which, DateTimeOffset made, string[] shown)
    {
        var seen = shown.Select(SeenOnTerminal.Read).OfType<SeenOnTerminal>().DistinctBy(s => s.Terminal).ToList();
        var chosen = seen.Where(s => which switch { "agreeing" => s.Agrees, "all" => true, _ => s.Terminal == which }).ToList();
        var (sent, objections) = (new List<Task>(), new List<string>());
        foreach (var terminal in chosen)
        {
            if (await Order(terminal, KeyOf(form, terminal.Terminal), made, sent) is { } objection)
            {
                objections.Add(objection);
            }
        }

        await Task.WhenAny(Task.WhenAll(sent), Task.Delay(options.PageWait));
        if (objections.Count == 0)
        {
            Notice = chosen.Count == 0 ? "There was nothing to settle." : null;
            return Redirect($"/{Setup.TradingDay}/settle");
        }

        Objections = objections;
        OpenedAt = clock.GetUtcNow();
        await Reload();
        await Load();
        return Page();
    }

    /// <summary>Writes down an order, and begins to carry it out.</summary>
    /// <returns>Why nothing is sent.</returns>
    private async Task<string?> Order(SeenOnTerminal seen, Guid key, DateTimeOffset made, List<Task> sent)
    {
        if (!Setup.Terminals.Any(t => t.Terminal.Value == seen.Terminal && t.IsConnected))
        {
            return $"{seen.Terminal} is not connected. Nothing was sent.";
        }

        var isExpected = orders.Expect(key);
        var (isNew, other) = await desk.Begin(Date, seen.Terminal, key, MySelf, made);
        if (isNew)
        {
            sent.Add(orders.Send(key, seen));
            return null;
        }

        if (isExpected)
        {
            orders.Drop(key);
        }

        return other switch
        {
            null => null,
            { IsDone: false } => $"{seen.Terminal} is already settling: {other.Says} Nothing was sent.",
            _ => $"{seen.Terminal} was settled at {Say.Time(other.At, Setup)} by {Setup.NameOf(other.By)}, after you opened this page. "
                + "Nothing was sent. Look at it first.",
        };
    }

    /// <summary>Asks the processor now what became of what it has not answered.</summary>
    [Does(ActKind.Settle)]
    public async Task<IActionResult> OnPostAsk()
    {
        var asked = (await desk.Open()).Where(o => o.State == SettlementState.Unknown).Select(o => orders.AskNow(o.Key)).ToList();
        await Task.WhenAny(Task.WhenAll(asked), Task.Delay(options.PageWait));
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

        OpenedAt = clock.GetUtcNow();
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
                $"{p.SalesCount}", Setup.Currency.Typed(p.SalesAmount), $"{p.RefundsCount}", Setup.Currency.Typed(p.RefundsAmount))),
            new("", "", "", "", "")
        ]
        : [.. line.Reading.Comparison.Brands.Select(b => new TypedTotals(b.Brand, "", "", "", "")), new("", "", "", "", "")];

    /// <summary>To choose from while totals are typed.</summary>
    public IEnumerable<string> BrandsKnown => Lines.SelectMany(l => l.Reading.Comparison.Brands.Select(b => b.Brand))
        .Concat([PrintedDesk.FoodBenefits, PrintedDesk.CashBenefits]).Distinct().Order(StringComparer.Ordinal);

    private async Task Load(DateTimeOffset? since = null)
    {
        MadeAt = clock.GetUtcNow();
        var all = await readings.Of(View, since);
        var settlements = (await desk.Of(Date)).ToLookup(s => s.Terminal);
        var missed = MissedSettlement.In(View.Overview, clock.GetUtcNow()).ToDictionary(m => m.Terminal);
        var lines = new PrintedTotals(View.Day).Lines.ToLookup(l => l.Terminal);
        var compared = TerminalComparison.OfBatches(View.Reconciliation);
        var totals = View.Day.Totals.OrderBy(t => t.Closed).ToLookup(t => t.Terminal);
        Lines =
        [
            .. all.Select(r => new Line(
                r, Setup.NameOf(r.Place.Register),
                [.. totals[r.Terminal].Select(t =>
                    new Closed(t, compared[(t.Terminal, t.Batch)], settlements[t.Terminal.Value].Any(s => s.Batch == t.Batch)))],
                settlements[r.Terminal.Value].FirstOrDefault(), [.. lines[r.Terminal]], missed.GetValueOrDefault(r.Terminal),
                View.Known.Held[r.Terminal].Count())),
        ];
        Explained = Explain();
    }

    private Dictionary<TerminalId, (IReadOnlyList<Line.Difference>, IReadOnlyList<string>)> Explain()
    {
        var differing = Lines.Where(l => l.HasSaid && l.Holds && !l.Reading.Agrees).ToList();
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
    private static Guid KeyOf(Guid form, string terminal) =>
        new(SHA256.HashData(Encoding.UTF8.GetBytes($"{form:N}/{terminal}")).AsSpan(0, 16));
}
