using Fondo.Core.Days;
using Fondo.Core.Proof;

namespace Fondo.Core.Matching;

/// <summary>Until when an open card item can be put right: processors give a short time from settlement on (rules §5).</summary>
public static class TimeLeft
{
    /// <summary>From the close of the batch that has the row, or should have had the tender; where no host said when that was, from the row or the sale.</summary>
    public static DateTimeOffset Until(OpenItem open, Day day) => Until(open.Item, day);

    /// <summary>The same of an item that is paired, and yet to be put right.</summary>
    public static DateTimeOffset Until(Item item, Day day) => From(item, day.Totals) + day.Setup.Policy.DisputeTime;

    private static DateTimeOffset From(Item item, ImmutableArray<BatchTotal> totals)
    {
        if (item.Row is { } row)
        {
            return totals.FirstOrDefault(t => t.Terminal == row.Key.Terminal && t.Batch == row.Key.Batch)?.Closed ?? row.At;
        }

        return totals.Where(t => t.Terminal == item.Terminal && t.Closed >= item.At).Min(t => (DateTimeOffset?)t.Closed) ?? item.At;
    }
}
