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
using Microsoft.Data.Sqlite;

namespace Fondo.Store;

/// <summary>Tells by an exception that the disk has no room left for the database.</summary>
public static class DiskFull
{
    /// <summary>SQLITE_FULL.</summary>
    private const int Code = 13;

    public static bool Is(Exception? e) => e is not null && (e is SqliteException { SqliteErrorCode: Code } || Is(e.InnerException));
}
