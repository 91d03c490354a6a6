using System.Globalization;
using System.Security.Cryptography;
using Fondo.Store.Model;

namespace Fondo.Store.Trails;

/// <summary>Records that were appended one behind the other, as one act of the trail: the hash goes over all of them, in the order of their
/// numbers.</summary>
internal sealed class RecordsWritten
{
    private readonly IncrementalHash _hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private readonly SortedSet<string> _days = new(StringComparer.Ordinal);
    private long _first, _last;
    private string? _by;

    /// <summary>Null while nothing was appended.</summary>
    public Act? Act => _by is null ? null : new(
        TrailAct.Records, _by, _days.Count == 1 ? _days.Min! : $"{_days.Min} to {_days.Max}", $"{_last - _first + 1} records",
        $"Records:{_first}-{_last}", Convert.ToHexStringLower(_hash.GetCurrentHash()));

    public void Add(RecordRow r) =>
        Add(r.Id, r.Day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), r.Kind.Written(), r.Key, r.Version, r.Json, r.File, r.Line,
            r.TakenAt.UtcTicks, r.TakenBy, r.Reason);

    public void Add(long id, string day, string kind, string key, int version, string json, string? file, int line, long takenAt,
        string takenBy, string? reason)
    {
        if (_by is null)
        {
            (_first, _by) = (id, takenBy);
        }

        _last = id;
        _days.Add(day);
        Hashing.Add(_hash, id, day, kind, key, version, json, file, line, takenAt, takenBy, reason);
    }

    public void Clear()
    {
        _hash.GetHashAndReset();
        _days.Clear();
        _by = null;
    }

    /// <summary>The same over records as they stand in the database.</summary>
    public string Content => Convert.ToHexStringLower(_hash.GetCurrentHash());
}
