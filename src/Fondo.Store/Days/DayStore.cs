using System.Collections.Immutable;
using System.Diagnostics;
using Fondo.Core.Cells;
using Fondo.Core.Closing;
using Fondo.Core.Days;
using Fondo.Core.Entries;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Store.Model;
using Fondo.Store.Treasury;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>A day in the list of days.</summary>
/// <param name="HasTrade">Whether anything happened on it yet.</param>
public sealed record DayListing(DateOnly Date, string Store, int? CloseNumber, bool HasTrade);

/// <summary>Reads days: puts a <see cref="Day"/> together from its records and everything said about it since.</summary>
public sealed class DayStore(StoreContext db, StoredRecords records, DayCache cache, DayRefresh refresh, LateTickets late, MoneyBook money,
    CustomerBook customers, CloseOrder chain, Commits commits)
{
    public async Task<IReadOnlyList<DayListing>> List() =>
        await db.Days.OrderByDescending(d => d.Date)
            .Select(d => new DayListing(d.Date, d.Store,
                db.StandingCloses.Where(c => c.Day == d.Date).Select(c => (int?)c.Number).FirstOrDefault(), d.HasTrade))
            .ToListAsync();

    /// <summary>A day that takes longer than this to work out may be shown as it was a moment ago.</summary>
    private static readonly TimeSpan _long = TimeSpan.FromMilliseconds(60);

    /// <summary>So many parts between two looks at a day say that journals are pouring in.</summary>
    private const int ManyParts = 4;

    /// <summary>The day as it stands; null when nothing was taken in for that date. One read while nothing was written that it could be
    /// another for.</summary>
    /// <param name="mayLag">For a screen: while journals come into a large day, it may be the day of a moment ago, as long as it holds what
    /// persons did.</param>
    public async Task<DayView?> View(DateOnly date, bool mayLag = false)
    {
        // Before anything is read: what is written meanwhile makes the number another.
        var said = commits.Number;
        var found = await db.Days.AsNoTracking().Where(d => d.Date == date)
            .Select(d => new
            {
                Day = d,
                Close = db.StandingCloses.FirstOrDefault(c =>
                c.Day == d.Date),
                Earlier = db.Days.Where(e => e.Date < date).Sum(e => (long)e.Revision + 1)
            })
            .SingleOrDefaultAsync();
        if (found is null)
        {
            return null;
        }

        var known = cache.Find(date);
        if (known is null || known.Revision < found.Day.Revision)
        {
            if (mayLag && known is not null && known.Took > _long && found.Day.Revision - known.Revision >= ManyParts
                && known.Revision >= cache.Wanted(date) && found.Close is null)
            {
                refresh.Begin(date);
            }
            else
            {
                known = await Reconcile(found.Day);
                if (_keeps)
                {
                    cache.Keep(date, known);
                }
            }
        }

        // Within a transaction others do not see yet what is seen here.
        var stamp = new DayStamp(known, said, found.Earlier, found.Close?.Number, found.Close?.Content);
        if (db.Database.CurrentTransaction is not null)
        {
            return await WithDecisions(known, found.Close);
        }

        if (cache.Seen(date) is { } seen && seen.Stamp == stamp)
        {
            return seen.View;
        }

        var view = await WithDecisions(known, found.Close);
        cache.See(date, stamp, view);
        return view;
    }

    /// <summary>The day worked out from its records alone, whatever is kept of it in memory.</summary>
    /// <exception cref="UnreadableDayException">It does not read.</exception>
    public async Task<DayView> Afresh(DateOnly date)
    {
        var row = await db.Days.AsNoTracking().SingleAsync(d => d.Date == date);
        return await WithDecisions(
            WorkOut(row, await new DayAssembly().Build(records, db, late, row), Stopwatch.GetTimestamp()),
            await db.StandingCloses.AsNoTracking().SingleOrDefaultAsync(c => c.Day == date));
    }

    /// <summary>An open day with what the transaction that is under way has written; nothing of it is kept, because it may be taken
    /// back.</summary>
    /// <param name="worked">What was worked out before the transaction began, used where it is of the revision that is there.</param>
    /// <exception cref="UnreadableDayException">It does not read.</exception>
    internal async Task<DayView> Uncommitted(DateOnly date, KnownDay? worked = null)
    {
        _keeps = false;
        try
        {
            var row = await db.Days.AsNoTracking().SingleAsync(d => d.Date == date);
            var known = worked?.Revision == row.Revision ? worked : cache.Find(date);
            return await WithDecisions(known?.Revision == row.Revision ? known : await Reconcile(row), null);
        }
        finally
        {
            _keeps = true;
        }
    }

    private bool _keeps = true;

    private async Task<DayView> WithDecisions(KnownDay known, CloseRow? close)
    {
        var date = known.Overview.Result.Day.Setup.TradingDay.Date;
        var entries = await db.Entries.AsNoTracking().AsSingleQuery().Where(e => e.Day == date)
            .Include(e => e.Approval).OrderBy(e => e.At).ToListAsync();
        var excuses = await db.Excuses.AsNoTracking().Where(e => e.Day == date).ToListAsync();
        var answers = await db.Answers.AsNoTracking().Where(a => a.Day == date).OrderBy(a => a.Number).ToListAsync();
        var signed = await db.SignOffs.AsNoTracking().Where(s => s.Day == date).OrderBy(s => s.Number).ToListAsync();
        ImmutableArray<Entry> made = [.. entries.Select(ToEntry)];
        var open = close is null ? await OpenBefore(date) : null;
        var (day, floats) = await money.Of(known, made, close?.Number, open?.Money.End);
        return new(
            known,
            new(
                made,
                [.. excuses.Select(e => new Excuse(e.Gate, e.Item, e.Seen, e.Reason, new(e.By), e.At))],
                [.. answers.Select(a => new Answer(new(a.Ticket), a.Code, new(a.Amount), a.Remedy, a.Reason, new(a.By), a.At))],
                [.. signed.Select(s => new SignOff(new(s.Register), s.Figures, new(s.By), s.At))]),
            day,
            floats,
            close is { } c ? new FrozenClose(c.Number, c.Content, c.PreviousHash, c.Hash) : null,
            await db.CarryChanges.AsNoTracking().Where(c => c.Day == date).OrderBy(c => c.Number).Select(c => c.Says).ToListAsync())
        {
            Customers = await customers.Of(known, close?.Number, open?.Customers),
            OpenBefore = [.. (await chain.OpenBefore(date)).Select(d => new TradingDay(d))],
        };
    }

    /// <summary>The trading day before, while that one is open: a day may be worked on before the day before is closed.</summary>
    private async Task<DayView?> OpenBefore(DateOnly date) =>
        await db.Days.Where(d => d.HasTrade && d.Date < date).OrderByDescending(d => d.Date)
            .Select(d => new { d.Date, IsClosed = db.StandingCloses.Any(c => c.Day == d.Date) })
            .FirstOrDefaultAsync() is { IsClosed: false } before
            ? await View(before.Date) : null;

    /// <summary>Puts the day together afresh and works it out, within the transaction that is there; keeps nothing.</summary>
    /// <exception cref="UnreadableDayException">It does not read.</exception>
    internal async Task Check(DateOnly date)
    {
        var row = await db.Days.AsNoTracking().SingleAsync(d => d.Date == date);
        WorkOut(row, await new DayAssembly().Build(records, db, late, row), Stopwatch.GetTimestamp());
    }

    public async Task<IReadOnlyList<FrozenClose>> Closes() =>
        await db.Closes.OrderBy(c => c.Number).Select(c => new FrozenClose(c.Number, c.Content, c.PreviousHash, c.Hash)).ToListAsync();

    /// <summary>The closes of these numbers.</summary>
    public async Task<IReadOnlyList<FrozenClose>> Closes(IReadOnlyCollection<int> numbers) =>
        await db.Closes.Where(c => numbers.Contains(c.Number)).OrderBy(c => c.Number)
            .Select(c => new FrozenClose(c.Number, c.Content, c.PreviousHash, c.Hash)).ToListAsync();

    /// <summary>Every close that a day had, the first revision first, and why it was opened again; null on the one that stands.</summary>
    public async Task<IReadOnlyList<(FrozenClose Close, ReopeningRow? Reopened)>> Revisions(DateOnly date)
    {
        var closes = await db.Closes.AsNoTracking().Where(c => c.Day == date).OrderBy(c => c.Number).ToListAsync();
        var opened = await db.Reopenings.AsNoTracking().Where(r => r.Day == date).ToDictionaryAsync(r => r.Number);
        return [.. closes.Select(c => (new FrozenClose(c.Number, c.Content, c.PreviousHash, c.Hash), opened.GetValueOrDefault(c.Number)))];
    }

    /// <summary>Why later attempts replaced earlier counts, by count id.</summary>
    public async Task<IReadOnlyDictionary<string, string>> CountReasons(DateOnly date) =>
        await db.Records.Where(r => r.Day == date && r.Kind == RecordKind.Count && r.Reason != null)
            .ToDictionaryAsync(r => r.Key, r => r.Reason!);

    private async Task<KnownDay> Reconcile(DayRow row)
    {
        if (!_keeps)
        {
            return WorkOut(row, await new DayAssembly().Build(records, db, late, row), Stopwatch.GetTimestamp());
        }

        var assembly = cache.Assembly(row.Date);
        await assembly.Turn.WaitAsync();
        try
        {
            if (cache.Find(row.Date) is { } known && known.Revision >= row.Revision)
            {
                return known;
            }

            var began = Stopwatch.GetTimestamp();
            return WorkOut(row, await assembly.Build(records, db, late, row), began);
        }
        finally
        {
            assembly.Turn.Release();
        }
    }

    /// <summary>No record should be able to make this fail; should one all the same, it is named.</summary>
    private static KnownDay WorkOut(DayRow row, Day day, long began)
    {
        try
        {
            return KnownDay.Of(row.Revision, day, began);
        }
        catch (Exception e) when (Culprit.IsOfTheData(e))
        {
            throw new UnreadableDayException(row.Date, [Culprit.Of(day, e.Message)]);
        }
    }

    private static Entry ToEntry(EntryRow row) => new(
        row.Id,
        row.Kind,
        [.. row.Postings.OrderBy(p => p.Place).Select(p => new Posting(new CellName(p.Register, p.Drawer, p.Tender).Cell!, p.Amount))],
        row.Reason,
        new(row.By),
        row.At,
        [.. row.Evidence.Split('\n', StringSplitOptions.RemoveEmptyEntries)],
        row.Reverses,
        row.NeedsApproval,
        row.Approval is { } a ? new PersonId(a.By) : null)
    {
        Detail = DetailText.Read(row.Kind, row.Detail),
        Together = row.Together,
    };
}
