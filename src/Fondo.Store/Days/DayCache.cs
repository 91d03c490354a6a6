using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Diagnostics;
using Fondo.Core.Banking;
using Fondo.Core.Days;
using Fondo.Core.Journal;
using Fondo.Core.Leads;
using Fondo.Core.Matching;
using Fondo.Core.Reconciling;
using Fondo.Core.Sheets;

namespace Fondo.Store.Days;

/// <summary>A reconciliation that is kept, a pure function of its revision, and how long it took to work out.</summary>
public sealed record KnownDay(int Revision, Overview Overview, TimeSpan Took)
{
    private readonly Lazy<Task<LeadsFound>> _leads = new(() => Task.Run(() => LeadFinder.Of(Overview.Result)));

    /// <summary>What the day leaves with its processors: worked out once.</summary>
    public ImmutableArray<Funding> Settled => _settled.Value;

    private readonly Lazy<ImmutableArray<Funding>> _settled = new(() => Funding.Of(Overview.Result));

    /// <summary>What may have happened: worked out once, when the first asks, and shared by all.</summary>
    public Task<LeadsFound> Leads => _leads.Value;

    private readonly ConcurrentDictionary<object, Lazy<object>> _once = [];

    /// <summary>What a page works out of this reconciliation alone: once, by whoever asks first, for all.</summary>
    /// <param name="what">Names it.</param>
    public T Once<T>(object what, Func<T> make)
        where T : notnull => (T)_once.GetOrAdd(what, _ => new(() => make())).Value;

    /// <summary>The tenders that no row proves yet, by their terminal.</summary>
    public ILookup<TerminalId, TakenTender> Unsettled => Once(nameof(Unsettled), () => TerminalComparison.Unsettled(Overview.Result));

    /// <summary>The matches that touch each cell.</summary>
    public ILookup<CellKey, Match> MatchesByCell => Once(nameof(MatchesByCell), () =>
        Overview.Result.Matches.SelectMany(m => m.Journal[0].Cell == m.Rows[0].Cell ? [(m.Journal[0].Cell, m)] : new[] { (m.Journal[0].Cell, m), (m.Rows[0].Cell, m) }).ToLookup(p => p.Item1, p => p.Item2));

    /// <param name="began">The time stamp at which the work on it began.</param>
    public static KnownDay Of(int revision, Day day, long began)
    {
        return new(revision, Overview.Of(Reconciliation.Of(day)), Stopwatch.GetElapsedTime(began));
    }
}

/// <summary>Of what a view of a day is made: while all of it is the same, so is the view.</summary>
/// <param name="Said">As <see cref="Model.Commits"/> counts.</param>
/// <param name="Earlier">The revisions of the days before, together: floats come from there.</param>
/// <param name="Close">The number of the close that stands, and what it says: should that ever be another, it is shown.</param>
public sealed record DayStamp(KnownDay Known, long Said, long Earlier, int? Close, string? Content)
{
    public bool Equals(DayStamp? other) => other is not null && ReferenceEquals(Known, other.Known) && (Said, Earlier, Close, Content) == (other.Said, other.Earlier, other.Close, other.Content);

    public override int GetHashCode() => HashCode.Combine(Said, Earlier, Close);
}

/// <summary>Days as they were worked out last, under their date: as many as a budget has room for, those that nobody asked for longest go first.</summary>
/// <param name="most">How many records, events and settled rows together, the kept days may have: with all that follows from them a record takes about 1.6 KB.</param>
public sealed class DayCache(long most)
{
    /// <summary>About 600 MB.</summary>
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

        public long Size => Least + (Known is { } known ? known.Overview.Result.Day.Journal.Length + (known.Overview.Result.Day.Rows?.Length ?? 0) : 0);
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
