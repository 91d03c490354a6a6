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
