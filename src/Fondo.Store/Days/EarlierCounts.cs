using Fondo.Core.Journal;
using Fondo.Core.Proof;
using Fondo.Core.SetUp;
using Fondo.Files.Reading;
using Fondo.Store.Model;
using Microsoft.EntityFrameworkCore;

namespace Fondo.Store.Days;

/// <summary>The counts of the days before, without putting those days together.</summary>
internal static class EarlierCounts
{
    /// <summary>So far back one looks.</summary>
    private const int MostDays = 14;

    /// <summary>The counts of drawers by their register, day by day, the latest day first.</summary>
    public static async IAsyncEnumerable<ILookup<RegisterId, Count>> Before(StoreContext db, DateOnly date, Setup setup)
    {
        foreach (var day in await db.Days.Where(d => d.Date < date).OrderByDescending(d => d.Date).Select(d => d.Date).Take(MostDays).ToListAsync())
        {
            var counts = (await db.Records.AsNoTracking().Where(r => r.Day == day && r.Kind == RecordKind.Count).Select(r => r.Json).ToListAsync())
                .Select(json => CountText.Read(json, setup)).OfType<Count>().Where(c => c.Drawer is not null).ToList();
            var drawers = counts.Select(c => c.Drawer!.Value.Value).Distinct().ToList();
            var registers = (await db.Events.AsNoTracking().Where(e => e.Day == day && e.Kind == EventKind.Open && drawers.Contains(e.Drawer!)).Select(e => new { e.Drawer, e.Register }).Distinct().ToListAsync())
                .ToLookup(r => r.Drawer!, r => new RegisterId(r.Register));
            yield return counts.SelectMany(c => registers[c.Drawer!.Value.Value].Select(r => (Register: r, Count: c))).ToLookup(c => c.Register, c => c.Count);
        }
    }
}
