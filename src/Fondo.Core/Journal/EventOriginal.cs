namespace Fondo.Core.Journal;

/// <summary>What an event refers to.</summary>
public static class EventOriginal
{
    /// <summary>The ticket that a refund or void names, the hold that a recall takes up; null where there is none.</summary>
    public static EventId? Of(JournalEvent e) => e switch
    {
        Ticket t => t.Original,
        VoidEvent v => v.Original,
        Recall r => r.Original,
        _ => null,
    };
}
