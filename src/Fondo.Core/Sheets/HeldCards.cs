using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Matching;

namespace Fondo.Core.Sheets;

/// <summary>The cards that no batch has, by the journal: a terminal waits to be settled while it holds one, however many batches it had
/// (rules §5).</summary>
public static class HeldCards
{
    /// <summary>Of a terminal that has settled those taken after its last batch closed: what an earlier batch should have had is missing
    /// from that one. What printed totals stand for is held by none.</summary>
    public static ILookup<TerminalId, TakenTender> Of(Overview overview)
    {
        var result = overview.Result;
        if (result.Day.Rows is null)
        {
            return TerminalComparison.Unsettled(result);
        }

        var printed = new PrintedTotals(result.Day);
        return result.OpenItems.Where(o => o.Side == OpenIn.Journal && o.Item is { CarriedFrom: null, Terminal: not null })
            .Where(o => !overview.SettledTerminals.Contains(o.Item.Terminal!.Value) || o.Cause is Cause.AfterCutoff or Cause.BatchAbsent)
            .Select(o => o.Item.Tender!.Value).Where(t => !printed.Proves(t.Tender)).ToLookup(t => t.Tender.Card!.Terminal!.Value);
    }
}
