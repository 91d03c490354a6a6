using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Days;

/// <summary>A tender of the day together with its ticket.</summary>
public readonly record struct TakenTender(Ticket Ticket, int Place)
{
    public Tender Tender => Ticket.Tenders[Place - 1];

    public TenderKey Key => Ticket.KeyOf(Place);
}
