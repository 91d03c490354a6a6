using Fondo.Core.Closing;
using Fondo.Core.SetUp;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.Treasury;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Trails;

/// <summary>Holds what one looks customers up by against the close documents, of which it is a copy.</summary>
internal static class CustomerCheck
{
    /// <summary>The first close whose customers stand otherwise in the list; null where all fit.</summary>
    public static async Task<string?> FirstBroken(StoreContext db, IReadOnlyList<FrozenClose> closes)
    {
        var listed = (await db.CustomerMovements.AsNoTracking().OrderBy(m => m.Number).ToListAsync()).ToLookup(m => m.Close);
        var known = closes.Select(c => c.Number).ToHashSet();
        if (listed.FirstOrDefault(g => !known.Contains(g.Key)) is { Key: var stray })
        {
            return $"The list of customers names the close number {stray}, which does not exist.";
        }

        foreach (var close in closes)
        {
            var document = ClosingDesk.Read(close);
            var expected = document.Customers.IsDefault || !TradingDay.TryParse(document.TradingDay, out var day)
                ? []
                : CustomerBook.RowsOf(document, day.Date).Select(Content);
            if (!listed[close.Number].Select(Content).SequenceEqual(expected))
            {
                return $"The list of customers differs from the close document number {close.Number}.";
            }
        }

        return null;
    }

    private static (DateOnly, string, string, string?, string, long, string) Content(CustomerMovementRow row) =>
        (row.Day, row.Account, row.Reference, row.Name, row.What, row.Amount, row.Ticket);
}
