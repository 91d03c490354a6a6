using Fondo.Core.Amounts;
using Fondo.Core.Cash;
using Fondo.Core.Cells;
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
using Fondo.Files.Text;

namespace Fondo.Store;

/// <summary>What people write as a reason is kept; a full card number must never be.</summary>
internal static class Reasons
{
    public static string? Objection(string? reason) =>
        CardNumbers.Contains(reason) ? "The reason holds a full card number. It was not saved; write the last four digits at most." : null;
}
