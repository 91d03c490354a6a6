using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using static Fondo.Core.Tests.MadeUp;

namespace Fondo.Core.Tests;

/// <summary>What may enter a journal, and on which day it is filed (rules §1; files, journal.jsonl).</summary>
public sealed class TheJudge
{
    private static readonly TradingDay _day = new(new(2026, 11, 21)), _next = new(new(2026, 11, 22));

    private static readonly DateTimeOffset _now = new(2026, 11, 22, 12, 0, 0, TimeSpan.FromHours(-5));

    private static readonly EventLines _lines = new(SetupText.Read(MadeUp.Setup).Setup!);

    /// <summary>What is there: events under their days, and closes.</summary>
    private sealed class There(IEnumerable<JournalEvent> events, params (TradingDay Day, DateTimeOffset At)[] closes) : IFiled
    {
        public EventId? Moved { get; init; }

        private Dictionary<EventId, JournalEvent> Events { get; } = events.ToDictionary(e => e.Id);

        public JournalEvent? Same(EventId id) => Events.GetValueOrDefault(id);

        public FiledEvent? Find(EventId id) => Events.TryGetValue(id, out var e)
            ? new FiledEvent(e.Kind, Placement.ByClock(e.At, _lines.Setup), Moved == id ? _next : null)
            : null;

        public FiledDrawer? Drawer(TradingDay day, DrawerId drawer) =>
            Events.Values.Where(e => e.Drawer == drawer && Placement.ByClock(e.At, _lines.Setup) == day).ToList() is { Count: > 0 } here
                ? new FiledDrawer(here[0].Register, here.OfType<SessionOpen>().FirstOrDefault()?.Id,
                    here.OfType<SessionOpen>().FirstOrDefault(), here.OfType<SessionClose>().Max(c => (DateTimeOffset?)c.At)) : null;

        public FiledClose? Close(TradingDay day) =>
            closes.Any(c => c.Day == day) ? new FiledClose(7, closes.First(c => c.Day == day).At) : null;
    }

    private static JournalEvent Read(string line) =>
        _lines.Read(line).Event ?? throw new InvalidOperationException(_lines.Read(line).Findings[0].ToString());

    private static JournalEvent Sale(string id, string at = "10:00", string amount = "5.00") =>
        Read(Ticket(amount, $$"""{"type":"cash","amount":"{{amount}}"}""", at, id: id));

    private static JournalEvent Of(string kind, string more = "", string at = "11:00", string id = "x", string register = "L1") =>
        Read(Event(kind, more, at, register, id));

    private static string Words(Judgement judged) => JudgementText.Of(judged.Why!);

    private static Judgement Judged(JournalEvent e, There there, RegisterId? sender = null) =>
        Judge.Of(e, Placement.ByClock(e.At, _lines.Setup), there, _now, sender);

    [Fact]
    public void What_is_new_is_taken_what_is_alike_is_known_what_is_otherwise_waits()
    {
        Assert.Equal(Verdict.Taken, Judged(Sale("a"), new([])).Verdict);
        Assert.Equal(Verdict.Known, Judged(Sale("a"), new([Sale("a")])).Verdict);
        var conflict = Judged(Sale("a", amount: "6.00"), new([Sale("a")]));
        Assert.True(conflict is { Verdict: Verdict.SetAside, IsConflict: true });
    }

    /// <summary>A key opens its own register: what it says of another is not even kept, so that it can plant nothing there.</summary>
    [Fact]
    public void What_another_register_did_is_refused_before_anything_else_is_looked_at() =>
        Assert.Equal(Verdict.Refused, Judged(Sale("a", amount: "6.00"), new([Sale("a")]), new RegisterId("L2")).Verdict);

    [Theory]
    [InlineData("sale", true)]
    [InlineData("hold", true)]
    [InlineData("drop", false)]
    [InlineData("no-sale", false)]
    [InlineData("close", false)]
    [InlineData("void", false)]
    [InlineData("recall", false)]
    [InlineData("open", false)]
    public void Only_a_ticket_or_a_hold_can_be_voided(string kind, bool may)
    {
        var original = kind == "sale"
            ? Sale("o")
            : Of(kind, kind switch
            {
                "hold" => "\"total\":\"5.00\"",
                "drop" or "open" => "\"amount\":\"5.00\"",
                "void" or "recall" => "\"original\":\"z\"",
                _ => ""
            }, "10:00", "o");
        var judged = Judged(Of("void", "\"original\":\"o\""), new([original]));
        Assert.Equal(may ? Verdict.Taken : Verdict.SetAside, judged.Verdict);
        Assert.Equal(may, judged.Why is null);
    }

    [Fact]
    public void A_void_before_its_ticket_waits_for_it()
    {
        var judged = Judged(Of("void", "\"original\":\"gone\""), new([]));
        Assert.True(judged is { Verdict: Verdict.SetAside, WaitsFor.Value: "gone" });
    }

    /// <summary>Around the end of the trading day, and after its ticket's day was closed.</summary>
    [Fact]
    public void A_void_goes_where_its_ticket_is()
    {
        var sale = Read(Ticket("5.00", """{"type":"cash","amount":"5.00"}""", id: "s")
            .Replace("2026-11-21T10:00", "2026-11-22T03:59", StringComparison.Ordinal));
        var late =
            Read(Event("void", "\"original\":\"s\"", id: "v").Replace("2026-11-21T10:00", "2026-11-22T04:01", StringComparison.Ordinal));
        Assert.Equal(_next, Placement.ByClock(late.At, _lines.Setup));
        Assert.Equal(new Judgement(Verdict.Taken, _day), Judged(late, new([sale])));
        var closed = Judged(late, new([sale], (_day, sale.At)));
        Assert.Equal((Verdict.SetAside, new JudgementReason.OriginalClosed(_day, 7)), (closed.Verdict, closed.Why));
        Assert.Contains("was counted on 2026-11-22", Words(Judged(late, new([sale]) { Moved = sale.Id })), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("21:00", "2026-11-21", true)] // rung before the day was closed, and came too late
    [InlineData("22:30", "2026-11-22", false)] // rung after it: the next day's
    public void What_comes_to_a_closed_day_goes_by_when_it_was_rung(string at, string day, bool waits)
    {
        var judged = Judged(Sale("a", at), new([], (_day, new(2026, 11, 21, 22, 0, 0, TimeSpan.FromHours(-5)))));
        Assert.Equal((waits ? Verdict.SetAside : Verdict.Taken, day), (judged.Verdict, judged.Day.ToString()));
    }

    /// <summary>The drawer session is of the closed day; what is done to its cash cannot count on another.</summary>
    [Theory]
    [InlineData("drop", "\"amount\":\"5.00\"")]
    [InlineData("close", "")]
    public void What_a_closed_days_drawer_does_later_waits(string kind, string more) =>
        Assert.Equal(Verdict.SetAside,
            Judged(Of(kind, more, "22:30"), new([Sale("s")], (_day, new(2026, 11, 21, 22, 0, 0, TimeSpan.FromHours(-5))))).Verdict);

    /// <summary>Rules §1: a sale after the close of its drawer session belongs to the next day, whenever it comes and whenever the day
    /// itself was closed.</summary>
    [Fact]
    public void A_sale_after_its_drawers_close_belongs_to_the_next_day_also_when_it_comes_after_the_days_close()
    {
        var there = new There([Of("open", "\"amount\":\"5.00\"", "08:00", "o"), Of("close", "", "20:00", "c")],
            (_day, new(2026, 11, 21, 22, 0, 0, TimeSpan.FromHours(-5))));
        var judged = Judged(Sale("late", "21:00"), there);
        Assert.Equal((Verdict.Taken, _next), (judged.Verdict, judged.Day));
        Assert.Equal(Verdict.SetAside, Judged(Sale("missing", "19:00"), there).Verdict);
    }

    [Fact]
    public void A_drawer_session_is_of_one_register_and_opened_once()
    {
        Assert.Contains("belongs to register L1, not L2",
            Words(Judged(Read(Event("no-sale", "", "12:00", "L2", "n").Replace("L2-A", "L1-A", StringComparison.Ordinal)),
                new([Sale("s")]))),
            StringComparison.Ordinal);
        // Opened on the page and at the register: the same opening where float and cashier agree, a question where they do not.
        Assert.Equal(Verdict.Known, Judged(Of("open", "\"amount\":\"5.00\""), new([Of("open", "\"amount\":\"5.00\"", id: "o")])).Verdict);
        var other = Judged(Of("open", "\"amount\":\"6.00\""), new([Of("open", "\"amount\":\"5.00\"", id: "o")]));
        Assert.Equal((Verdict.SetAside, true, "drawer L1-A was opened already, with another float; decide which opening is right"),
            (other.Verdict, other.IsConflict, Words(other)));
    }

    [Fact]
    public void A_clock_that_is_wrong_waits() =>
        Assert.Contains("in the future", Words(Judge.Of(Sale("a"), _day, new There([]), Sale("b", "08:59").At)), StringComparison.Ordinal);

    [Fact]
    public void What_takes_the_place_of_something_stays_on_its_day_and_can_still_be_voided()
    {
        var there = new FiledEvent(EventKind.Sale, _day);
        var filed = new There([]);
        Assert.Equal(Verdict.Taken, Judge.Instead(Sale("a"), there, true, filed, _day, _now).Verdict);
        Assert.Contains("cannot be",
            Words(Judge.Instead(Of("no-sale", id: "a"), there, true, filed, _day, _now)), StringComparison.Ordinal);
        Assert.Contains("its time belongs to 2026-11-22", Words(Judge.Instead(Sale("a"), there, false, filed, _next, _now)),
            StringComparison.Ordinal);
        Assert.Contains("which is closed", Words(Judge.Instead(Sale("a"), there with { MovedTo = _next }, false, filed, _day, _now)),
            StringComparison.Ordinal);
    }

    /// <summary>Rung after the close of its drawer: it counts in the first session that its register has on the next day, in whatever order
    /// all that comes.</summary>
    [Fact]
    public void A_late_ticket_counts_in_the_registers_first_session_and_waits_until_one_opens()
    {
        var late = (Ticket)Sale("late", "21:30");
        Day On(params JournalEvent[] events) =>
            new(_lines.Setup with { TradingDay = _next }, [.. events], null, [], null, [], Carried.Nothing);
        static JournalEvent Tomorrow(JournalEvent e) => e with { Head = e.Head with { At = e.At.AddDays(1) } };
        var waits = Placement.Place(On(), [late], new Dictionary<EventId, TradingDay>());
        Assert.Equal((0, "late"), (waits.Journal.Length, Assert.Single(waits.Waiting).Id.Value));

        var (morning, noon) =
            (Tomorrow(Of("open", "\"amount\":\"200.00\"", "08:00", "m")), Tomorrow(Of("open", "\"amount\":\"200.00\"", "12:00", "n")));
        morning = morning with { Head = morning.Head with { Drawer = new("L1-M") } };
        foreach (var events in new[] { new[] { morning, noon }, [noon, morning] })
        {
            var placed = Placement.Place(On(events), [late], new Dictionary<EventId, TradingDay>());
            Assert.Empty(placed.Waiting);
            Assert.Equal("L1-M", placed.Journal.OfType<Ticket>().Single().Drawer!.Value.Value);
            Assert.Equal(205_00, Cells.CellSums.Of(placed, new(placed),
                new(placed.Setup)).Single(c => c.Key.Drawer?.Value == "L1-M").Expected.Minor);
            // Its session is still from eight o'clock on.
            Assert.Equal(morning.At, DrawerSession.In(placed).Single(s => s.Drawer.Value == "L1-M").From);
        }

        // Voided, it counts nowhere.
        var voided =
            Placement.Place(On(morning), [late, Of("void", "\"original\":\"late\"", "21:40")], new Dictionary<EventId, TradingDay>());
        Assert.Equal(200_00, Cells.CellSums.Of(voided, new(voided),
            new(voided.Setup)).Single(c => c.Key.OfTender == TenderId.Cash).Expected.Minor);
    }
}
