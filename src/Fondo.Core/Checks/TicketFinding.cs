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

/// <summary>Something wrong with one ticket (rules §2).</summary>
/// <param name="Code">What it is.</param>
/// <param name="Amount">Signed as in the journal: refunds negative. For fees and discounts that are missing or wrong: due less recorded.</param>
public readonly record struct TicketFinding(EventId Ticket, FindingCode Code, Money Amount);
