using System.Text;
using Fondo.Store.Model;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using SQLitePCL;

namespace Fondo.Store.Intake;

/// <summary>One row after another into a table, bound straight to SQLite: with a command and its parameters a million rows take several
/// times as long.</summary>
internal sealed class InsertStatement : IDisposable
{
    private readonly sqlite3 _connection;
    private readonly sqlite3_stmt _statement;
    private byte[] _utf8 = new byte[1024];

    /// <param name="db">With an open connection, whose transaction it is.</param>
    public InsertStatement(StoreContext db, string table, params string[] columns)
    {
        _connection = ((SqliteConnection)db.Database.GetDbConnection()).Handle!;
        Check(raw.sqlite3_prepare_v2(_connection,
            $"INSERT INTO {table} ({string.Join(", ", columns)}) VALUES ({string.Join(", ", columns.Select(_ => "?"))})", out _statement));
    }

    /// <exception cref="SqliteException">The row was refused.</exception>
    public void Run(params ReadOnlySpan<Bound> values)
    {
        for (var i = 0; i < values.Length; i++)
        {
            Check(values[i] switch
            {
                { Number: { } number } => raw.sqlite3_bind_int64(_statement, i + 1, number),
                // No bytes at all would be bound as nothing, which is something else than an empty text.
                { Text: "" } => raw.sqlite3_bind_text(_statement, i + 1, ""),
                { Text: { } text } => raw.sqlite3_bind_text(_statement, i + 1, Utf8(text)),
                _ => raw.sqlite3_bind_null(_statement, i + 1),
            });
        }

        var result = raw.sqlite3_step(_statement);
        raw.sqlite3_reset(_statement);
        Check(result);
    }

    /// <summary>A value of a column: a number, a text, or nothing.</summary>
    public readonly struct Bound
    {
        private Bound(string? text, long? number) => (Text, Number) = (text, number);

        public string? Text { get; }

        public long? Number { get; }

        public static implicit operator Bound(string? text) => new(text, null);

        public static implicit operator Bound(long? number) => new(null, number);

        public static implicit operator Bound(long number) => new(null, number);
    }

    public void Dispose() => _statement.Dispose();

    private ReadOnlySpan<byte> Utf8(string text)
    {
        if (_utf8.Length < Encoding.UTF8.GetMaxByteCount(text.Length))
        {
            _utf8 = new byte[Encoding.UTF8.GetMaxByteCount(text.Length)];
        }

        return _utf8.AsSpan(0, Encoding.UTF8.GetBytes(text, _utf8));
    }

    private void Check(int result)
    {
        if (result is not (raw.SQLITE_OK or raw.SQLITE_DONE))
        {
            SqliteException.ThrowExceptionForRC(result, _connection);
        }
    }
}
