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

/// <summary>The kinds of event of a journal.</summary>
public enum EventKind
{
    Sale,
    Refund,
    Void,
    Hold,
    Recall,
    Open,
    Close,
    Drop,
    Loan,
    PaidIn,
    PaidOut,
    NoSale,
}
