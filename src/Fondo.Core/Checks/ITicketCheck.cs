using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

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
