using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Closing;

/// <summary>The gates of a day, in their order (rules §12).</summary>
public enum GateId
{
    Sessions,
    Counts,
    Holds,
    Batches,
    Cells,
    Approvals,
}
