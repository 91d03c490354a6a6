using Fondo.Files.Reading;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace Fondo.Store.Intake;

/// <summary>Appends records in one prepared statement, within the context's transaction: ten times as fast as one by one.</summary>
internal sealed class RecordWriter(StoreContext db)
{
    public async Task Append(DateOnly day, IEnumerable<RawRecord> records, string by, DateTimeOffset at, string? reason = null)
    {
        await using var command = db.Database.GetDbConnection().CreateCommand();
        command.Transaction = db.Database.CurrentTransaction!.GetDbTransaction();
        command.CommandText = "INSERT INTO Records (Day, Kind, Key, Json, TakenAt, TakenBy, Reason) VALUES ($day, $kind, $key, $json, $at, $by, $reason)";
        object Parameter(string name, object? value)
        {
            var parameter = command.CreateParameter();
            parameter.ParameterName = name;
            parameter.Value = value ?? DBNull.Value;
            command.Parameters.Add(parameter);
            return parameter;
        }

        Parameter("$day", day.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture));
        var kind = (System.Data.Common.DbParameter)Parameter("$kind", 0);
        var key = (System.Data.Common.DbParameter)Parameter("$key", "");
        var json = (System.Data.Common.DbParameter)Parameter("$json", "");
        Parameter("$at", at.UtcTicks);
        Parameter("$by", by);
        Parameter("$reason", reason);
        foreach (var record in records)
        {
            kind.Value = (int)record.Kind;
            key.Value = record.Key;
            json.Value = record.Json;
            await command.ExecuteNonQueryAsync();
        }
    }
}
