using Fondo.Core.Days;
using Fondo.Core.SetUp;

namespace Fondo.Core.Matching;

/// <summary>Until when an open card item can be put right: processors give a short time from settlement on (rules §5).</summary>
/// <remarks>Counted from the close of the batch that should have held it: the first one of its terminal that closed at or after the sale,
/// on the item's own day; without one, from the hour
/// at which that terminal was to settle. For a settled row, from the close of its own batch. What is carried keeps the deadline that it
/// had.</remarks>
public static class TimeLeft
{
    public static DateTimeOffset Until(OpenItem open, Day day) => Until(open.Item, day);

    /// <summary>The same of an item that is paired, and yet to be put right.</summary>
    public static DateTimeOffset Until(Item item, Day day)
    {
        if (item.CarriedFrom is { } from)
        {
            return Carried(item, day) ?? (item.Row?.At ?? ToSettle(item, day.Setup, from)) + day.Setup.Policy.DisputeTime;
        }

        var closed = item.Row is { } row
            ? day.Totals.FirstOrDefault(t => t.Terminal == row.Key.Terminal && t.Batch == row.Key.Batch)?.Closed ?? row.At
            : day.Totals.Where(t => t.Terminal == item.Terminal && t.Closed >= item.At).Min(t => (DateTimeOffset?)t.Closed)
                ?? ToSettle(item, day.Setup, day.Setup.TradingDay);
        return closed + day.Setup.Policy.DisputeTime;
    }

    private static DateTimeOffset? Carried(Item item, Day day) => item.Row is null
        ? day.Carried.Journal.FirstOrDefault(c => c.Ticket.KeyOf(c.Place).ToString() == item.Key)?.RightUntil
        : day.Carried.Rows.FirstOrDefault(c => c.Row.Key == item.Row.Key)?.RightUntil;

    /// <summary>When the item's terminal was to settle on that day; at the day's end where nothing says so. Never before the
    /// sale.</summary>
    private static DateTimeOffset ToSettle(Item item, Setup setup, TradingDay day)
    {
        var at = setup.Terminals.FirstOrDefault(t => t.Terminal == item.Terminal && t.Holds(item.At))?.SettlesAt ?? setup.Policy.SettledBy;
        var due = at is { } time ? setup.At(day.Date, time) : setup.Begins(day.Date.AddDays(1));
        return due > item.At ? due : item.At;
    }
}
