using Fondo.Core.Journal;

namespace Fondo.Core.Checks;

/// <summary>One family of ticket checks. It is made anew for each day, is shown every ticket that was not voided once, in any order,
/// and then may say what only the whole day tells.</summary>
public interface ITicketCheck
{
    /// <summary>Looks at one ticket and adds what is wrong with it.</summary>
    void Look(Ticket ticket, TicketBook book, List<TicketFinding> found);

    /// <summary>Adds what shows only when all tickets have been seen.</summary>
    void Conclude(TicketBook book, List<TicketFinding> found)
    {
    }
}
