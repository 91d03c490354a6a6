using System.Collections.Concurrent;
using Fondo.Core.Days;

namespace Fondo.Store.Days;

/// <summary>Reconciliations under their day and revision. A reconciliation is a pure function of its revision, so none here is ever stale.</summary>
public sealed class DayCache
{
    private const int MostDays = 6;

    private readonly ConcurrentDictionary<DateOnly, (int Revision, Reconciliation Result)> _known = [];

    private readonly ConcurrentDictionary<DateOnly, DayAssembly> _assemblies = [];

    /// <summary>Where a day is put together; of the latest days only, so that old ones do not stay in memory.</summary>
    public DayAssembly Assembly(DateOnly day)
    {
        if (_assemblies.Count >= MostDays && !_assemblies.ContainsKey(day))
        {
            _assemblies.TryRemove(_assemblies.Keys.Min(), out _);
        }

        return _assemblies.GetOrAdd(day, _ => new());
    }

    public Reconciliation? Find(DateOnly day, int revision) =>
        _known.TryGetValue(day, out var known) && known.Revision == revision ? known.Result : null;

    public void Keep(DateOnly day, int revision, Reconciliation result)
    {
        if (_known.Count >= MostDays && !_known.ContainsKey(day))
        {
            _known.TryRemove(_known.Keys.Min(), out _);
        }

        _known[day] = (revision, result);
    }
}
