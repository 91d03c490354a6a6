using Fondo.Core.Closing;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>In which order days were closed: which close a day begins with, and which corrections are posted on it (rules §9,
/// §12).</summary>
public sealed class CloseOrder(StoreContext db, ClosedDocuments documents)
{
    /// <summary>The number of the close that a day begins with: that of the last day that was closed, however many days lie between. Null
    /// where there is none.</summary>
    /// <param name="close">The number of the day's own close; null while it is open.</param>
    public async Task<int?> Before(DateOnly date, int? close)
    {
        if (close is { } own && await db.Closes.Where(c => c.Number == own).Select(c => new { c.Follows }).SingleAsync() is var closed)
        {
            return closed.Follows switch
            {
                null => await DirectlyBefore(date, own),
                0 => null,
                { } follows => follows,
            };
        }

        return await db.Closes.Where(c => c.Day < date).OrderByDescending(c => c.Day).ThenByDescending(c => c.Number)
            .Select(c => (int?)c.Number).FirstOrDefaultAsync() is { } last ? await HandedOn(last) : null;
    }

    /// <summary>The day in whose entry the correction that a close makes stands; null while no day behind it has begun.</summary>
    public Task<DateOnly?> PostedIn(int close) =>
        db.Corrections.Where(c => c.Close == close).Select(c => (DateOnly?)c.Day).SingleOrDefaultAsync();

    /// <summary>The closes whose corrections are posted on a day, by number.</summary>
    public async Task<IReadOnlyList<int>> PostedOn(DateOnly date) =>
        await Correcting.Where(c => db.Corrections.Any(k => k.Close == c.Number && k.Day == date)).OrderBy(c => c.Number)
            .Select(c => c.Number).ToListAsync();

    /// <summary>Closes that correct what was handed on. Where their day was closed once more with no closed day behind it, it handed on
    /// itself, and nothing is left to correct.</summary>
    private IQueryable<CloseRow> Correcting =>
        db.Closes.Where(c => c.Corrects != null
            && !db.Closes.Any(later => later.Day == c.Day && later.Number > c.Number && later.Corrects == null));

    /// <summary>The close that another revision of a day corrects: what days behind it, which are closed, began with. Null where none
    /// behind it is closed.</summary>
    public async Task<int?> CorrectedBy(DateOnly date)
    {
        if (!await db.StandingCloses.AnyAsync(c => c.Day > date))
        {
            return null;
        }

        return await db.Closes.Where(c => c.Day == date).MaxAsync(c => (int?)c.Number) ?? await Before(date, null) ?? 0;
    }

    /// <summary>The closes by which days stand in the books, in the order of their days: what the days behind each began with, however
    /// often it was corrected since.</summary>
    /// <remarks>A day that is opened again is among them only where a day behind it is closed.</remarks>
    public async Task<IReadOnlyList<(DateOnly Day, int Close)>> Booked(DateOnly to)
    {
        var standing = await db.StandingCloses.Select(c => new { c.Day, c.Number }).ToListAsync();
        if (standing.Count == 0)
        {
            return [];
        }

        var (isStanding, last) = (standing.Select(c => c.Number).ToHashSet(), standing.Max(c => c.Day));
        var closes = await db.Closes.Where(c => c.Day <= to).Select(c => new { c.Day, c.Number, c.Corrects }).ToListAsync();
        var corrects = closes.ToDictionary(c => c.Number, c => c.Corrects);
        return
        [
            .. closes.GroupBy(c => c.Day).OrderBy(d => d.Key)
                .Select(d => (d.Key, d.Max(c => c.Number)))
                .Where(d => isStanding.Contains(d.Item2) || last > d.Key)
                .Select(d => (d.Key, First(d.Item2)))
                .Where(d => d.Item2 > 0),
        ];

        int First(int close) => corrects.GetValueOrDefault(close) is { } corrected ? First(corrected) : close;
    }

    /// <summary>How often the figures of each close count in the books: once where it is booked; a correction that a day posted counts for
    /// the close that it corrects.</summary>
    /// <param name="booked">The last day whose close counts.</param>
    /// <param name="posted">The last day whose posted corrections count.</param>
    public async Task<IReadOnlyDictionary<int, int>> Weights(DateOnly booked, DateOnly posted)
    {
        var weights = (await Booked(booked)).ToDictionary(b => b.Close, _ => 1);
        var corrections = await Correcting.Where(c => db.Corrections.Any(k => k.Close == c.Number && k.Day <= posted))
            .Select(c => new
            {
                c.Number,
                Corrected = db.Closes.Where(o => o.Number == c.Corrects && o.Day == c.Day)
                .Select(o => (int?)o.Number).FirstOrDefault()
            }).ToListAsync();
        foreach (var correction in corrections)
        {
            Add(correction.Number, 1);
            if (correction.Corrected is { } corrected)
            {
                Add(corrected, -1);
            }
        }

        return weights.Where(w => w.Value != 0).ToDictionary();

        void Add(int close, int times) => weights[close] = weights.GetValueOrDefault(close) + times;
    }

    /// <summary>Corrections of days before this one that no day has posted yet.</summary>
    public async Task<IReadOnlyList<int>> NotPosted(DateOnly before) =>
        await Correcting.Where(c => c.Day < before && !db.Corrections.Any(k => k.Close == c.Number)).OrderBy(c => c.Number)
            .Select(c => c.Number).ToListAsync();

    /// <summary>Earlier trading days that are still open.</summary>
    public async Task<IReadOnlyList<DateOnly>> OpenBefore(DateOnly date) =>
        await db.Days.Where(d => d.HasTrade && d.Date < date && !db.StandingCloses.Any(c => c.Day == d.Date)).OrderBy(d => d.Date)
            .Select(d => d.Date).ToListAsync();

    /// <summary>The first open trading day behind a date; null where none has begun.</summary>
    public async Task<DateOnly?> FirstOpenAfter(DateOnly date) =>
        await db.Days.Where(d => d.HasTrade && d.Date > date && !db.StandingCloses.Any(c => c.Day == d.Date)).OrderBy(d => d.Date)
            .Select(d => (DateOnly?)d.Date).FirstOrDefaultAsync();

    /// <summary>The document of a close; null where it does not read, or there is none of that number.</summary>
    public async Task<CloseDocument?> Document(int close) =>
        await db.Closes.Where(c => c.Number == close).Select(c => c.Hash).SingleOrDefaultAsync() is { } hash
            ? await documents.Of(hash, () => db.Closes.Where(c => c.Number == close).Select(c => (string?)c.Content).SingleAsync())
            : null;

    /// <summary>What the days behind a close began with: itself, or the one that it corrects.</summary>
    private async Task<int?> HandedOn(int close)
    {
        int? number = close;
        while (number is > 0 && await db.Closes.Where(c => c.Number == number).Select(c => c.Corrects).SingleAsync() is { } corrects)
        {
            number = corrects;
        }

        return number is > 0 ? number : null;
    }

    /// <summary>Before closes said which one they follow, it was that of the day row before.</summary>
    private async Task<int?> DirectlyBefore(DateOnly date, int close) =>
        await db.Days.Where(d => d.Date < date).MaxAsync(d => (DateOnly?)d.Date) is { } before
            ? await db.Closes.Where(c => c.Day == before && c.Number < close).OrderByDescending(c => c.Number).Select(c => (int?)c.Number)
                .FirstOrDefaultAsync() : null;
}
