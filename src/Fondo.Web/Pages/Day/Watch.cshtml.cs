using Fondo.Core.Amounts;
using Fondo.Core.Checks;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Store.Days;
using Fondo.Store.Intake;
using Fondo.Web.Hosting;
using Fondo.Web.Settling;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.Extensions.Caching.Memory;

namespace Fondo.Web.Pages.Day;

/// <summary>The day while it happens: a reading at any moment, and what came up.</summary>
[Authorize(Policies.Read)]
public sealed class WatchModel(DayStore days, Numbering numbering, Waiting waiting, TerminalReadings terminals, Sightings sightings,
    IMemoryCache said, TimeProvider clock) : DayPage(days)
{
    /// <summary>One drawer, or an online register, as it is now.</summary>
    /// <param name="Drop">How much to take to the safe; null when there is no need.</param>
    public sealed record Row(string Name, string? Drawer, string Who, int Tickets, Money Taken, Money? Level, string Last, Money? Drop,
        bool IsOpen);

    public sealed record Item(string What, string Amount, string Meta, string Href);

    private const int MostNews = 14;

    private static readonly TimeSpan _moment = TimeSpan.FromSeconds(2);

    protected override string Place => "watch";

    public Reading Reading => View.Overview.Reading;

    public IReadOnlyList<Row> Rows { get; private set; } = [];

    public IReadOnlyList<Item> News { get; private set; } = [];

    /// <summary>The connected terminals that hold something, or of which the journal does.</summary>
    public IReadOnlyList<TerminalReading> Terminals { get; private set; } = [];

    /// <summary>What the page has seen: while it is the same, there is nothing new to show.</summary>
    public string Seen { get; private set; } = "";

    public string Headline =>
        !Rows.Any(r => r.IsOpen && r.Drawer is not null) ? $"All drawers are closed; {Say.Count(Reading.Total.Number, "ticket")} in all."
        : Rows.Count(r => r.Drop is not null) is > 0 and var due ? due == 1
            ? "One drawer should make a drop."
            : $"{due} drawers should make a drop." : "Nothing is due at the drawers.";

    public IEnumerable<(string Title, IEnumerable<ReadingLine> Lines, string What)> Readings =>
    [
        ("Tender", Named(Reading.Tenders, k => Setup.NameOf(new TenderId(k))), "Tenders"),
        ("Brand", Reading.Brands, "Tenders"),
        ("Cashier", Named(Reading.Cashiers, k => k.Length == 0 ? "no cashier" : Setup.NameOf(new PersonId(k))), "Tickets"),
        ("Calendar day", Named(Reading.CalendarDays, k => k == Setup.TradingDay.ToString() ? $"{k}, this trading day" : k), "Tickets"),
    ];

    public async Task OnGet() => await Load();

    /// <summary>The page as it is now; nothing while it is as it was.</summary>
    public async Task<IActionResult> OnGetNow(string? seen)
    {
        Seen = await Sight();
        if (seen == Seen)
        {
            return StatusCode(StatusCodes.Status204NoContent);
        }

        await Load();
        return Partial("_Watch", this);
    }

    private async Task<string> Sight() => $"{View.Revision}.{await waiting.Count()}";

    private async Task Load()
    {
        Seen = await Sight();
        await sightings.Note(View, null, MySelf, "the watch");
        Rows = View.Known.Once("the watch’s rows", () => Setup.Registers.SelectMany(RowsOf).ToArray());
        Terminals = await Asked();
        News = [
            .. await Opened(),
            .. Unsettled(),
            .. await Missing(),
            .. await Aside(),
            .. Holds(),
            .. Otherwise(),
            .. View.Known.Once("the watch’s findings", () => Findings().ToArray())
        ];
    }

    /// <summary>Terminals are asked once for all who watch, and again a moment later.</summary>
    private async Task<IReadOnlyList<TerminalReading>> Asked()
    {
        var key = (nameof(WatchModel), Date, View.Revision);
        if (said.TryGetValue(key, out IReadOnlyList<TerminalReading>? there))
        {
            return there!;
        }

        IReadOnlyList<TerminalReading> asked =
            [.. (await terminals.Of(View)).Where(t => t.Place.IsConnected && !t.Comparison.Brands.IsEmpty)];
        return asked.Any(t => t.IsAwaited) ? asked : said.Set(key, asked, _moment);
    }

    private IEnumerable<Row> RowsOf(Register register)
    {
        if (register.Kind == RegisterKind.Online)
        {
            var tickets = View.Day.Journal.Where(e => e.Register == register.Id).ToList();
            var counted = tickets.OfType<Ticket>().ToList();
            yield return new(register.Name, null, "", counted.Count, counted.Sum(t => t.Total), null, Last(tickets), null,
                counted.Count > 0);
            yield break;
        }

        foreach (var drawer in View.Overview.Drawers.Where(d => d.Session.Register == register.Id))
        {
            var own = drawer.Steps.Select(s => s.Event).ToList();
            var open = drawer.Session.Until is null;
            yield return new(
                register.Name, drawer.Session.Drawer.Value, Say.Person(drawer.Session.Cashier, Setup),
                own.OfType<Ticket>().Count(), own.OfType<Ticket>().Sum(t => t.Total),
                drawer.Level, Last(own), drawer.DropDue(register, Setup.Currency), open);
        }
    }

    private string Last(IReadOnlyCollection<JournalEvent> events) => events.Count == 0 ? "" : Say.Time(events.Max(e => e.At), Setup);

    private static IEnumerable<ReadingLine> Named(IEnumerable<ReadingLine> lines, Func<string, string> name) =>
        lines.Select(l => l with { Key = name(l.Key) });

    /// <summary>The latest first; holds that are open are told by themselves.</summary>
    private IEnumerable<Item> Findings()
    {
        var findings = View.Reconciliation.TicketFindings.Where(f => f.Code != FindingCode.HoldLeftOpen).ToLookup(f => f.Ticket);
        return View.Day.Journal.Where(e => findings.Contains(e.Id)).OrderByDescending(e => e.At).Take(MostNews)
            .SelectMany(e => findings[e.Id].Select(f =>
            new Item($"{Setup.NameOf(e.Register)}: {f.Code.Words()}.", Amount(f.Amount), Say.Time(e.At, Setup),
                $"/{Setup.TradingDay}/ticket/{f.Ticket}")));
    }

    private async Task<IEnumerable<Item>> Opened() =>
        (await View.Once("floats that differ", () => Task.FromResult(View.Floats.Differences().ToArray()))).Select(d =>
        new Item(Say.Float(d, Setup), Signed(d.Off), $"drawer {d.Session.Drawer}", $"/{Setup.TradingDay}/open"));

    private IEnumerable<Item> Otherwise() =>
        View.Overview.Disagreements[^Math.Min(MostNews, View.Overview.Disagreements.Length)..].Reverse().Select(d =>
        new Item($"{d.Event.Id}: {Say.Disagreement(d, Setup)}.", d.Tender is { } tender ? Amount(tender.Amount) : "",
            Say.Time(d.Event.At, Setup), $"/{Setup.TradingDay}/ticket/{d.Event.Id}"));

    private IEnumerable<Item> Unsettled() =>
        MissedSettlement.In(View.Overview, clock.GetUtcNow()).Select(m => new Item(
        Say.Of(m, Setup), m.Number > 0 ? Amount(m.Amount) : "", Setup.NameOf(m.Register), $"/{Setup.TradingDay}/settle"));

    private IEnumerable<Item> Holds() => View.Overview.OpenHolds.Take(MostNews).Select(h =>
        new Item($"{Setup.NameOf(h.Register)} has a ticket on hold.", Amount(h.Total), $"since {Say.Time(h.At, Setup)}",
            $"/{Setup.TradingDay}/ticket/{h.Id}"));

    private async Task<IEnumerable<Item>> Missing() =>
        (await View.Once("missing numbers", () => numbering.Missing(Date))).Take(MostNews).Select(m => new Item(
        $"{Setup.NameOf(new RegisterId(m.Register))}: {(m.Count == 1 ? $"{m.FirstId} has" : $"{m.FirstId} to {m.LastId} have")} not come "
            + "in.", "", Say.Count((int)Math.Min(m.Count, int.MaxValue), "number"), $"/{Setup.TradingDay}/take-in"));

    private async Task<IEnumerable<Item>> Aside() => (await waiting.All()).Take(MostNews)
        .Select(a => new Item($"{a.Key} waits for a person: {a.Why}.", "", Say.Time(a.At, Setup), $"/{Setup.TradingDay}/take-in"));
}
