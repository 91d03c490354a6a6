using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Files.Reading;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>The counts of the days before, without putting those days together.</summary>
internal static class EarlierCounts
{
    /// <summary>So far back one looks.</summary>
    private const int MostDays = 14;

    /// <summary>The counts of drawers by their register, day by day, the latest day first. A day that was closed before keeps what it began
    /// with: what was counted since is not in it.</summary>
    public static async IAsyncEnumerable<ILookup<RegisterId, SessionCount>> Before(StoreContext db, DateOnly date, Setup setup)
    {
        var closed = await db.Closes.Where(c => c.Day == date).MinAsync(c => (DateTimeOffset?)c.At);
        foreach (var day in await db.Days.Where(d => d.Date < date).OrderByDescending(d => d.Date).Select(d => d.Date).Take(MostDays)
            .ToListAsync())
        {
            var counts =
                (await db.StandingRecords.Where(r => r.Day == day && r.Kind == RecordKind.Count).Select(r => r.Json).ToListAsync())
                .Select(json => CountText.Read(json, setup)).OfType<Count>().Where(c => c.Drawer is not null && !(c.At > closed)).ToList();
            var drawers = counts.Select(c => c.Drawer!.Value.Value).Distinct().ToList();
            var registers = (await db.Events.AsNoTracking()
                .Where(e => e.Day == day && e.Kind == EventKind.Open && drawers.Contains(e.Drawer!))
                .GroupBy(e => new { e.Drawer, e.Register }).Select(g => new { g.Key.Drawer, g.Key.Register, Began = g.Min(e => e.At) })
                .ToListAsync())
                .ToLookup(r => r.Drawer!, r => (Register: new RegisterId(r.Register), r.Began));
            yield return counts.SelectMany(c => registers[c.Drawer!.Value.Value].Select(r =>
                (r.Register, Count: new SessionCount(r.Began, c)))).ToLookup(c => c.Register, c => c.Count);
        }
    }
}
