using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
using Fondo.Core.Checks;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Proof;
using Fondo.Core.Reconciling;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;

namespace Fondo.Core.Matching;

/// <summary>What says that tenders and rows belong together, in the order in which the rules apply (rules §5).</summary>
public enum MatchRule
{
    Reference,
    Approval,
    Proximity,
    OtherTerminal,
    AmountDiffers,
    Direction,
    Group,
}
