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

/// <summary>Looks for what would explain a drawer's difference to the cent, where no record points to it by itself.</summary>
internal interface IDifferenceSearch
{
    /// <param name="drawer">A cash cell.</param>
    /// <param name="difference">Its variance, or what stronger explanations leave of it; not zero.</param>
    IEnumerable<Explanation> Search(LeadCase @case, Cell drawer, Money difference);
}
