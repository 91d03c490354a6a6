using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Checks;
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

namespace Fondo.Core.Cells;

/// <summary>What an entry explains of one cell's variance.</summary>
/// <param name="Amount">Signed like the variance: −300.00 explains 300.00 short.</param>
public readonly record struct Posting(CellKey Cell, Money Amount);
