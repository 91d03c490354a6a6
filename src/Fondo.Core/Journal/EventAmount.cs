using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Journal;

/// <summary>What an event comes to.</summary>
public static class EventAmount
{
    /// <summary>A ticket's or hold's total, a movement's amount, the float of an opening; null where there is none.</summary>
    public static Money? Of(JournalEvent e) => e switch
    {
        Ticket t => t.Total,
        CashMovement m => m.Amount,
        SessionOpen o => o.Float,
        Hold h => h.Total,
        _ => null,
    };
}
