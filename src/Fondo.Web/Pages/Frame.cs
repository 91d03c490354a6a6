using Fondo.Core.Cells;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Web.Text;

namespace Fondo.Web.Pages;

/// <summary>One knot of the evening's thread: a place of work, and in three words what is left there.</summary>
/// <param name="Key">The key that goes there.</param>
internal sealed record Knot(string Name, string Says, string Href, string Key, bool Done, bool Here);

/// <summary>What stands around every page of a day.</summary>
internal sealed record Frame(string Store, DateOnly Date, TimeZoneInfo TimeZone, int? CloseNumber, IReadOnlyList<Knot> Knots)
{
    /// <summary>What the records of a closed day say otherwise than what was frozen; empty on all days but those with which something is
    /// wrong.</summary>
    public IReadOnlyList<string> Otherwise { get; init; } = [];

    /// <summary>What stands before the decimals of an amount in this store.</summary>
    public char DecimalMark { get; init; } = Core.Amounts.Currency.Point;

    public static Frame Of(DayView view, string place, Person me)
    {
        var day = view.Setup.TradingDay;
        var tickets = view.Overview.Tickets;
        var counted = CellSums.ClosingCounts(view.Day);
        var waiting = view.Overview.Sessions.Count(s => !counted.ContainsKey(s.Drawer));
        var unresolved = view.Bridges.Values.Count(b => b.IsUnresolved);
        var gates = view.Gates;
        var green = gates.Count(g => g.IsGreen);
        var unsettled = view.Known.Held.Count;
        var open = view.Overview.Sessions.Count(s => s.Until is null);
        List<Knot> knots =
        [
            new("Open", view.Overview.Sessions.IsEmpty ? "no drawer yet" : Say.Count(view.Overview.Sessions.Length, "drawer"),
                $"/{day}/open", "s", !view.Overview.Sessions.IsEmpty, place == "open"),
            new("Import", Say.Count(tickets, "ticket"), $"/{day}/take-in", "t", tickets > 0, place == "take-in"),
            new("Watch", view.Overview.Sessions.IsEmpty ? "no drawer yet"
                : open == 0 ? "all drawers closed"
                : $"{Say.Count(open, "drawer")} open", $"/{day}/watch", "w", tickets > 0 && open == 0, place == "watch"),
            new("Count", view.Overview.Sessions.IsEmpty ? "no drawer yet"
                : waiting == 0 ? "all counted"
                : $"{Say.Count(waiting, "drawer")} {(waiting == 1 ? "waits" : "wait")}", $"/{day}/count", "c", waiting == 0,
                place == "count"),
            new("Settle", !view.HasSales ? "no sales yet"
                : unsettled == 0 ? "all settled"
                : $"{Say.Count(unsettled, "terminal")} {(unsettled == 1 ? "waits" : "wait")}", $"/{day}/settle", "e",
                tickets > 0 && unsettled == 0, place == "settle"),
            new("Resolve", !view.HasSales && unresolved == 0 ? "no sales yet"
                : unresolved == 0 ? "nothing is off"
                : $"{Say.Count(unresolved, "cell")} off", $"/{day}/board", "b", unresolved == 0, place == "resolve"),
            new("Safe", SafeSays(view), $"/{day}/safe", "z",
                view.Money.Custody.Count is not null && view.Money.Cells.All(c => !view.Bridges[c.Key].IsUnresolved), place == "safe"),
            new("Close", view.IsClosed ? $"closed, no. {view.Close!.Number}" : $"{green} of {gates.Count} gates", $"/{day}/close", "k",
                view.IsClosed, place == "close"),
        ];
        return new(
            view.Setup.Store, day.Date, view.Setup.TimeZone, view.Close?.Number,
            !me.May(Right.Read) ? [.. knots.Where(k => k.Name is "Open" or "Count")]
            : !me.May(Right.Count) ? [.. knots.Where(k => k.Name is "Watch" or "Settle" or "Resolve" or "Safe" or "Close")]
            : knots)
        {
            Otherwise = view.Otherwise,
            DecimalMark = view.Setup.Currency.DecimalMark,
        };
    }

    private static string SafeSays(DayView view) =>
        view.Money.Cells.Count(c => view.Bridges[c.Key].IsUnresolved) is > 0 and var off ? $"{Say.Count(off, "place")} off"
        : view.Money.Custody.Count is null ? "not counted"
        : "as it should be";
}
