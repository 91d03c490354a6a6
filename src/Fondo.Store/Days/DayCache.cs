using System.Collections.Concurrent;

namespace Fondo.Store.Days;

/// <summary>Days as they were worked out last, under their date: as many as a budget has room for, those that nobody asked for longest go
/// first.</summary>
/// <param name="most">How many records, events and settled rows together, the kept days may have: with all that follows from them.</param>
public sealed class DayCache(long most)
{
    /// <summary>With the server itself about 1 GB, by measurement.</summary>
    public const long UsualMost = 400_000;

    /// <summary>What the least day takes, counted as records.</summary>
    private const int Least = 200;

    private readonly Lock _one = new();
    private readonly Dictionary<DateOnly, Kept> _kept = [];
    private readonly ConcurrentDictionary<DateOnly, int> _wanted = [];
    private long _uses;

    public DayCache()
        : this(UsualMost)
    {
    }

    private sealed class Kept
    {
        public KnownDay? Known;
        public DayAssembly? Assembly;
        public (DayStamp Stamp, DayView View)? Seen;
        public long Used;

        public long Size =>
            Least + (Known is { } known ? known.Overview.Result.Day.Journal.Length + (known.Overview.Result.Day.Rows?.Length ?? 0) : 0);
    }

    /// <summary>How many days are kept, and how many records they have.</summary>
    public (int Days, long Records) Holds
    {
        get
        {
            lock (_one)
            {
                return (_kept.Count, _kept.Values.Sum(k => k.Size));
            }
        }
    }

    /// <summary>Where a day is put together.</summary>
    public DayAssembly Assembly(DateOnly day)
    {
        lock (_one)
        {
            return Of(day).Assembly ??= new();
        }
    }

    /// <summary>Records came in under earlier numbers than were read: the day is put together afresh.</summary>
    public void ForgetAssembly(DateOnly day)
    {
        lock (_one)
        {
            if (_kept.TryGetValue(day, out var kept))
            {
                kept.Assembly = null;
            }
        }
    }

    /// <summary>What was worked out last, of this revision or of an earlier one.</summary>
    public KnownDay? Find(DateOnly day)
    {
        lock (_one)
        {
            return _kept.ContainsKey(day) ? Of(day).Known : null;
        }
    }

    public void Keep(DateOnly day, KnownDay known)
    {
        lock (_one)
        {
            Of(day).Known = known;
            var size = _kept.Values.Sum(k => k.Size);
            foreach (var (other, kept) in _kept.Where(k => k.Key != day).OrderBy(k => k.Value.Used).ToList())
            {
                if (size <= most)
                {
                    break;
                }

                size -= kept.Size;
                _kept.Remove(other);
            }
        }
    }

    /// <summary>The view of a day that was made last.</summary>
    public (DayStamp Stamp, DayView View)? Seen(DateOnly day)
    {
        lock (_one)
        {
            return _kept.GetValueOrDefault(day)?.Seen;
        }
    }

    public void See(DateOnly day, DayStamp stamp, DayView view)
    {
        lock (_one)
        {
            if (_kept.TryGetValue(day, out var kept))
            {
                kept.Seen = (stamp, view);
            }
        }
    }

    /// <summary>A person changed the day: nobody is shown it as it was before this revision any more.</summary>
    public void Want(DateOnly day, int revision) => _wanted.AddOrUpdate(day, revision, (_, before) => Math.Max(before, revision));

    public int Wanted(DateOnly day) => _wanted.GetValueOrDefault(day);

    private Kept Of(DateOnly day)
    {
        var kept = _kept.TryGetValue(day, out var there) ? there : _kept[day] = new();
        kept.Used = ++_uses;
        return kept;
    }
}
