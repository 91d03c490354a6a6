using Microsoft.Data.Sqlite;

namespace Fondo.Store;

/// <summary>Tells by an exception that the disk has no room left for the database.</summary>
public static class DiskFull
{
    /// <summary>SQLITE_FULL.</summary>
    private const int Code = 13;

    public static bool Is(Exception? e) => e is not null && (e is SqliteException { SqliteErrorCode: Code } || Is(e.InnerException));
}
