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

/// <summary>Reconciliations under their day and revision.</summary>
public sealed class DayCache
{
    private const int MostDays = 6;

    private readonly ConcurrentDictionary<DateOnly, KnownDay> _known = [];

    private readonly ConcurrentDictionary<DateOnly, (DayStamp Stamp, DayView View)> _seen = [];

    private readonly ConcurrentDictionary<DateOnly, DayAssembly> _assemblies = [];

    private readonly ConcurrentDictionary<DateOnly, int> _wanted = [];

    /// <summary>Where a day is put together; of the latest days only, so that old ones do not stay in memory.</summary>
    public DayAssembly Assembly(DateOnly day)
    {
        if (_assemblies.Count >= MostDays && !_assemblies.ContainsKey(day))
        {
            _assemblies.TryRemove(_assemblies.Keys.Min(), out _);
        }

        return _assemblies.GetOrAdd(day, _ => new());
    }

    /// <summary>Records came in under earlier numbers than were read: the day is put together afresh.</summary>
    public void ForgetAssembly(DateOnly day) => _assemblies.TryRemove(day, out _);

    /// <summary>What was worked out last, of this revision or of an earlier one.</summary>
    public KnownDay? Find(DateOnly day) => _known.GetValueOrDefault(day);

    public void Keep(DateOnly day, KnownDay known)
    {
        if (_known.Count >= MostDays && !_known.ContainsKey(day))
        {
            var oldest = _known.Keys.Min();
            _known.TryRemove(oldest, out _);
            _seen.TryRemove(oldest, out _);
        }

        _known[day] = known;
    }

    /// <summary>The view of a day that was made last.</summary>
    public (DayStamp Stamp, DayView View)? Seen(DateOnly day) => _seen.TryGetValue(day, out var seen) ? seen : null;

    public void See(DateOnly day, DayStamp stamp, DayView view)
    {
        if (_known.ContainsKey(day))
        {
            _seen[day] = (stamp, view);
        }
    }

    /// <summary>A person changed the day: nobody is shown it as it was before this revision any more.</summary>
    public void Want(DateOnly day, int revision) => _wanted.AddOrUpdate(day, revision, (_, before) => Math.Max(before, revision));

    public int Wanted(DateOnly day) => _wanted.GetValueOrDefault(day);
}
