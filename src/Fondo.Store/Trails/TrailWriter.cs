using System.Data.Common;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace Fondo.Store.Trails;

/// <summary>Appends lines to the trail. Within a transaction that no other writer can enter, so that the numbers have no gap.</summary>
internal static class TrailWriter
{
    public static async Task Append(StoreContext db, IReadOnlyList<Act> acts, RequestOrigin here, DateTimeOffset at)
    {
        var (number, previous) = await Head(db);
        await using var insert = Command(db,
            "INSERT INTO Trail (Number, At, By, Machine, Act, \"On\", Says, Of, Content, Previous, Hash) VALUES ($p0, $p1, $p2, $p3, $p4, "
                + "$p5, $p6, $p7, $p8, $p9, $p10)");
        foreach (var act in acts)
        {
            number++;
            var (by, what) = (act.By ?? here.By, act.What.Written());
            var hash = HashOf(number, at.UtcTicks, by, here.Machine, what, act.On, act.Says, act.Of, act.Content, previous);
            object[] values = [number, at.UtcTicks, by, here.Machine, what, act.On, act.Says, act.Of, act.Content, previous, hash];
            insert.Parameters.Clear();
            for (var i = 0; i < values.Length; i++)
            {
                var parameter = insert.CreateParameter();
                (parameter.ParameterName, parameter.Value) = ($"$p{i}", values[i]);
                insert.Parameters.Add(parameter);
            }

            await insert.ExecuteNonQueryAsync();
            previous = hash;
        }
    }

    /// <summary>The last line; 0 and nothing where there is none.</summary>
    public static async Task<(long Number, string Hash)> Head(StoreContext db)
    {
        await using var select = Command(db, "SELECT Number, Hash FROM Trail ORDER BY Number DESC LIMIT 1");
        await using var read = await select.ExecuteReaderAsync();
        return await read.ReadAsync() ? (read.GetInt64(0), read.GetString(1)) : (0, "");
    }

    public static string HashOf(long number, long ticks, string by, string machine, string act, string on, string says, string of,
        string content, string previous) =>
        Hashing.Of(number, ticks, by, machine, act, on, says, of, content, previous);

    private static DbCommand Command(StoreContext db, string text)
    {
        var command = db.Database.GetDbConnection().CreateCommand();
        command.Transaction = db.Database.CurrentTransaction?.GetDbTransaction()
            ?? throw new InvalidOperationException("The trail is written within a transaction.");
        command.CommandText = text;
        return command;
    }
}
