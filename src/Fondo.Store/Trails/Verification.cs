using System.Data.Common;
using System.Globalization;
using Fondo.Core.Closing;
using Fondo.Store.Days;
using Fondo.Store.Keeping;
using Fondo.Store.Model;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace Fondo.Store.Trails;

/// <summary>What a verification found.</summary>
/// <param name="Break">The first thing that is not as it was written; null where everything is.</param>
/// <param name="Head">The hash of the trail's last line.</param>
public sealed record Verified(string? Break, long Lines, long Records, int Closes, string Head);

/// <summary>Walks the trail and everything that it refers to, and works the closed days out again: whatever was changed, removed, put in or
/// moved is named.</summary>
public sealed class Verification(StoreContext db, DayStore days)
{
    private long _lines, _records;
    private string _head = "";

    /// <param name="head">A hash that the trail must hold, as a close document, a backup or a mail carries it; null: none is asked
    /// for.</param>
    /// <param name="kept">Hashes that lie outside the database, as <see cref="KeptHeads"/> finds them.</param>
    public async Task<Verified> Run(string? head = null, IReadOnlyList<(string Of, string Head)>? kept = null)
    {
        // One look at the database as it is now; it holds up nobody who writes.
        await db.Database.OpenConnectionAsync();
        await using var look = ((SqliteConnection)db.Database.GetDbConnection()).BeginTransaction(deferred: true);
        await db.Database.UseTransactionAsync(look);
        var closes = await days.Closes();
        var heads = closes.Select(c => (Of: $"the close document number {c.Number}", Head: HeadOf(c))).Where(h => h.Head is not null)
            .Append((Of: "the hash that you gave", Head: head)).Concat((kept ?? []).Select(k => (Of: k.Of, Head: (string?)k.Head)))
            .Where(h => h.Head is not null).DistinctBy(h => h.Head).ToDictionary(h => h.Head!, h => h.Of);
        var broken = await Walk(heads);
        if (broken is null && heads.FirstOrDefault() is { Value: { } who } missing)
        {
            broken =
                $"The audit trail has no line with the hash {missing.Key[..Math.Min(12, missing.Key.Length)]}…, as in {who}. Its end was "
                    + "removed, or this is a different trail.";
        }

        if (broken is null && CloseChain.FirstBroken(closes) is { } number)
        {
            broken = $"The chain of closes breaks at number {number}.";
        }

        return new(broken ?? await IndexCheck.FirstBroken(db) ?? await CustomerCheck.FirstBroken(db, closes) ?? await Closed()
            ?? await Attachments.FirstBroken(db, new SqliteConnectionStringBuilder(db.Database.GetConnectionString()).DataSource), _lines,
            _records, closes.Count, _head);
    }

    private static string? HeadOf(FrozenClose close)
    {
        try
        {
            return ClosingDesk.Read(close).Trail?.Hash;
        }
        catch (System.Text.Json.JsonException)
        {
            return null; // the chain of closes names it
        }
    }

    /// <summary>Line by line; takes out of <paramref name="heads"/> those that it comes by.</summary>
    private async Task<string?> Walk(Dictionary<string, string> heads)
    {
        var rows = (await TrailTables.Rows(db)).ToDictionary(a => a.Of, a => a.Content);
        var (states, hasStates) = (new Dictionary<string, (string Content, long Line)>(), false);
        await using var records = new RecordReader(db);
        await using var lines =
            await Read(db, "SELECT Number, At, By, Machine, Act, \"On\", Says, Of, Content, Previous, Hash FROM Trail ORDER BY Number");
        var previous = "";
        while (await lines.ReadAsync())
        {
            var number = lines.GetInt64(0);
            if (number != _lines + 1)
            {
                return $"Line {_lines + 1} of the trail is gone: line {number} follows line {_lines}.";
            }

            var (of, content, hash) = (lines.GetString(7), lines.GetString(8), lines.GetString(10));
            if (lines.GetString(9) != previous
                || hash != TrailWriter.HashOf(number, lines.GetInt64(1), lines.GetString(2), lines.GetString(3), lines.GetString(4),
                    lines.GetString(5), lines.GetString(6), of, content, previous))
            {
                return $"Line {number} of the trail was changed, or is not the one that was written there: {lines.GetString(4)} by "
                    + $"{lines.GetString(2)} on {lines.GetString(5)}.";
            }

            if (of.StartsWith("Records:", StringComparison.Ordinal))
            {
                if (await records.Check(of[8..], content) is { } wrong)
                {
                    return $"{wrong} Line {number} of the trail wrote it.";
                }
            }
            else if (RowState.IsState(of))
            {
                states[of] = (content, number);
            }
            else if (of.Length > 0)
            {
                if (!rows.Remove(of, out var there))
                {
                    return $"{of} is gone: line {number} of the trail wrote it.";
                }

                if (there != content)
                {
                    return $"{of} was changed: it is not what line {number} of the trail wrote.";
                }
            }

            hasStates |= lines.GetString(5) == TrailBeginning.States;
            (_lines, previous) = (number, hash);
            heads.Remove(hash);
        }

        (_head, _records) = (previous, records.Number);
        return rows.Keys.Order(StringComparer.Ordinal).FirstOrDefault() is { } beside
            ? $"{beside} has no entry in the audit trail: it was added outside Fondo."
            : await records.Rest() ?? (hasStates ? await Changed(states) : null);
    }

    /// <summary>A row that may change, and stands otherwise than its last line says.</summary>
    private async Task<string?> Changed(Dictionary<string, (string Content, long Line)> states)
    {
        foreach (var state in await TrailTables.States(db))
        {
            if (!states.Remove(state.Of, out var last))
            {
                return $"{state.Row} has no entry in the audit trail: it was added or changed outside Fondo.";
            }

            if (last.Content != state.Content)
            {
                return $"{state.Row} was changed: it is not as line {last.Line} of the trail left it.";
            }
        }

        return states.OrderBy(s => s.Value.Line)
            .Select(s =>
                $"{s.Key[RowState.Prefix.Length..]} is missing or was set back: line {s.Value.Line} of the audit trail says otherwise.")
            .FirstOrDefault();
    }

    /// <summary>Every closed day, from its records.</summary>
    private async Task<string?> Closed()
    {
        foreach (var date in await db.StandingCloses.AsNoTracking().OrderBy(c => c.Number).Select(c => c.Day).ToListAsync())
        {
            try
            {
                if (await days.Afresh(date) is var view && view.Otherwise is [var first, ..])
                {
                    return $"{date:yyyy-MM-dd} was closed as number {view.Close!.Number}, but its records differ: {first}.";
                }
            }
            catch (UnreadableDayException e)
            {
                return $"{date:yyyy-MM-dd} was closed, and can no longer be read: {e.Records[0].Key}: {e.Records[0].Why}.";
            }
        }

        return null;
    }

    private static async Task<DbDataReader> Read(StoreContext db, string text)
    {
        var command = db.Database.GetDbConnection().CreateCommand();
        command.Transaction = db.Database.CurrentTransaction!.GetDbTransaction();
        command.CommandText = text;
        return await command.ExecuteReaderAsync();
    }

    /// <summary>Reads the records beside the trail, once, in the order of their numbers.</summary>
    private sealed class RecordReader(StoreContext db) : IAsyncDisposable
    {
        private const string Select =
            "SELECT Id, Day, Kind, Key, Version, Json, File, Line, TakenAt, TakenBy, Reason FROM Records WHERE NOT EXISTS (SELECT 1 FROM "
                + "OpenIntakes AS o WHERE Records.Id BETWEEN o.First AND o.Last)";

        private readonly List<(long First, long Last)> _owed = [];
        private DbDataReader? _reader;
        private bool _isAtRecord, _isAtOther;
        private long _next = 1;

        public long Number { get; private set; }

        public async ValueTask DisposeAsync()
        {
            if (_reader is not null)
            {
                await _reader.DisposeAsync();
            }
        }

        /// <summary>Checks the records of a line. Those of a file that was written in steps have earlier numbers than lines before it: they
        /// are owed until then.</summary>
        public async Task<string?> Check(string range, string content)
        {
            var ends = range.Split('-');
            var (first, last) = (long.Parse(ends[0], CultureInfo.InvariantCulture), long.Parse(ends[1], CultureInfo.InvariantCulture));
            if (_owed.RemoveAll(o => o == (first, last)) == 0)
            {
                if (first < _next)
                {
                    return $"Records {first} to {last} are written twice.";
                }

                if (first > _next)
                {
                    _owed.Add((_next, first - 1));
                    await Seek(first);
                }

                _next = last + 1;
                return await Read(_reader, first, last, content);
            }

            await using var own = await Verification.Read(db, $"{Select} AND Id BETWEEN {first} AND {last} ORDER BY Id");
            _isAtOther = await own.ReadAsync();
            return await Read(own, first, last, content);
        }

        public async Task<string?> Rest()
        {
            // What is owed still was never published, and goes; what stands there all the same was put in.
            var beside = _owed.Select(o => $"Id BETWEEN {o.First} AND {o.Last}").Append($"Id >= {_next}");
            await using var rest = await Verification.Read(db, $"{Select} AND ({string.Join(" OR ", beside)}) ORDER BY Id LIMIT 1");
            return await rest.ReadAsync()
                ? $"Record {rest.GetInt64(0)} ({rest.GetString(2)} {rest.GetString(3)} of {rest.GetString(1)}) has no entry in the audit "
                    + "trail: it was added outside Fondo."
                : null;
        }

        private async Task Seek(long first)
        {
            if (_reader is not null)
            {
                await _reader.DisposeAsync();
            }

            _reader = await Verification.Read(db, $"{Select} AND Id >= {first} ORDER BY Id");
            _isAtRecord = await _reader.ReadAsync();
        }

        private async Task<string?> Read(DbDataReader? reader, long first, long last, string content)
        {
            if (reader is null)
            {
                await Seek(first);
                reader = _reader!;
            }

            var (written, expected, isMain) = (new RecordsWritten(), first, reader == _reader);
            while ((isMain ? _isAtRecord : _isAtOther) && reader.GetInt64(0) is var id && id <= last)
            {
                if (id != expected)
                {
                    return $"Record {expected} is gone.";
                }

                written.Add(id, reader.GetString(1), reader.GetString(2), reader.GetString(3), reader.GetInt32(4), reader.GetString(5),
                    Text(reader, 6), reader.GetInt32(7), reader.GetInt64(8), reader.GetString(9), Text(reader, 10));
                (expected, Number) = (expected + 1, Number + 1);
                var more = await reader.ReadAsync();
                (_isAtRecord, _isAtOther) = isMain ? (more, _isAtOther) : (_isAtRecord, more);
            }

            return expected <= last ? $"Record {expected} is gone."
                : written.Content != content
                    ? $"{(first == last ? $"Record {first} was" : $"One of the records {first} to {last} was")} changed."
                : null;
        }

        private static string? Text(DbDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetString(column);
    }
}
