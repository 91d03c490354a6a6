using System.Data.Common;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Fondo.Store.Model;

/// <summary>Write-ahead log, and every commit on the disk before it is answered: money is not to be lost with the power.</summary>
public sealed class SqlitePragmas : DbConnectionInterceptor
{
    /// <summary>20 MB of pages for each connection.</summary>
    public const string Cache = "PRAGMA cache_size=-20000;";

    private const string Reading = "PRAGMA busy_timeout=5000; PRAGMA temp_store=MEMORY; " + Cache,
        Writing = "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; " + Reading;

    public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData eventData)
    {
        using var command = connection.CreateCommand();
        command.CommandText = PragmasOf(connection);
        command.ExecuteNonQuery();
    }

    public override async Task ConnectionOpenedAsync(DbConnection connection, ConnectionEndEventData eventData,
        CancellationToken cancellationToken = default)
    {
        await using var command = connection.CreateCommand();
        command.CommandText = PragmasOf(connection);
        await command.ExecuteNonQueryAsync(cancellationToken);
    }

    /// <summary>Who only looks changes nothing, not even how the database is written.</summary>
    private static string PragmasOf(DbConnection connection) =>
        new SqliteConnectionStringBuilder(connection.ConnectionString).Mode == SqliteOpenMode.ReadOnly ? Reading : Writing;
}
