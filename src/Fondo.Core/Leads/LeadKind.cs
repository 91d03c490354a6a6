using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Leads;

/// <summary>What a lead says (rules §6).</summary>
public enum LeadKind
{
    TenderSwap,
    WrongTerminal,
    OtherDrawer,
    MissingFromBatch,
    AfterCutoff,
    BatchAbsent,
    NotInJournal,
    ChargedTwice,
    VoidNotSent,
    ReversalNotSent,
    DeclinedButSettled,
    EarlierDay,
    AmountKeyed,
    Direction,
    DropNotRecorded,
    DropDiffers,
    FloatDiffers,
    CountSlip,
    UnvoidedTicket,
    ChangeSlip,
    TicketFinding,
    Subset,
}
