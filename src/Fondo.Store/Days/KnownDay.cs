using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Diagnostics;
using Fondo.Core.Banking;
using Fondo.Core.Books;
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
    public DateOnly Date => Overview.Result.Day.Setup.TradingDay.Date;

    private readonly Lazy<Task<LeadsFound>> _leads = new(() => Task.Run(() => LeadFinder.Of(Overview.Result)));

    /// <summary>What the day leaves with its processors: worked out once.</summary>
    public ImmutableArray<Funding> Settled => _settled.Value;

    private readonly Lazy<ImmutableArray<Funding>> _settled = new(() => Funding.Of(Overview.Result));

    /// <summary>What its tickets do to customers' items.</summary>
    public ImmutableArray<CustomerMovement> CustomerMovements => _customers.Value;

    private readonly Lazy<ImmutableArray<CustomerMovement>> _customers = new(() => CustomerMovement.Of(Overview.Result));

    /// <summary>What may have happened: worked out once, when the first asks, and shared by all.</summary>
    public Task<LeadsFound> Leads => _leads.Value;

    private readonly ConcurrentDictionary<object, Lazy<object>> _once = [];

    /// <summary>What a page works out of this reconciliation alone: once, by whoever asks first, for all.</summary>
    /// <param name="what">Names it.</param>
    public T Once<T>(object what, Func<T> make)
        where T : notnull => (T)_once.GetOrAdd(what, _ => new(() => make())).Value;

    /// <summary>The cards that no batch has, by terminal.</summary>
    public ILookup<TerminalId, TakenTender> Held => Once(nameof(Held), () => HeldCards.Of(Overview));

    /// <summary>The tenders that no row proves yet, by their terminal.</summary>
    public ILookup<TerminalId, TakenTender> Unsettled => Once(nameof(Unsettled), () => TerminalComparison.Unsettled(Overview.Result));

    /// <summary>The matches that touch each cell.</summary>
    public ILookup<CellKey, Match> MatchesByCell => Once(nameof(MatchesByCell), () =>
        Overview.Result.Matches.SelectMany(m => new CellKey[] { m.Journal[0].Cell, m.Rows[0].Cell }.Distinct(),
            (m, c) => (Cell: c, Match: m))
            .ToLookup(p => p.Cell, p => p.Match));

    /// <param name="began">The time stamp at which the work on it began.</param>
    public static KnownDay Of(int revision, Day day, long began)
    {
        return new(revision, Overview.Of(Reconciliation.Of(day)), Stopwatch.GetElapsedTime(began));
    }
}
