using Fondo.Core.Journal;
using Fondo.Files.Reading;
using Fondo.Store;
using Fondo.Store.Days;
using Fondo.Store.Model;
using Fondo.Store.Trails;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Fondo.Soak;

/// <summary>What has to be so afterwards: all that was answered as done is there exactly once, days are open or closed as a whole, and the
/// trail verifies.</summary>
internal static class Afterwards
{
    public static async Task<IReadOnlyList<string>> Wrong(string data, Evening evening)
    {
        var wrong = new List<string>();
        await using var services = new ServiceCollection().AddLogging()
            .AddFondoStore($"Data Source={Path.Combine(data, "fondo.db")};Pooling=False").BuildServiceProvider();
        await using var scope = services.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<StoreContext>();
        var events = await db.Records.Where(r => r.Day == Evening.Today && r.Kind == RecordKind.Event).Select(r => r.Key).ToListAsync();
        wrong.AddRange(events.GroupBy(e => e).Where(g => g.Count() > 1).Select(g => $"{g.Key} is there {g.Count()} times"));
        wrong.AddRange(evening.Events.Except(events).Select(e => $"{e} was answered as taken, and is not there"));
        var counts = await db.Records.Where(r => r.Day == Evening.Today && r.Kind == RecordKind.Count).Select(r => r.Key).ToListAsync();
        wrong.AddRange(evening.Counts.Where(c => counts.Count(k => k == Counting.KeyOf(c)) != 1)
            .Select(c => $"count {c} was answered as done, and is there {counts.Count(k => k == Counting.KeyOf(c))} times"));
        var entries = await db.Entries.Select(e => e.Id).ToListAsync();
        wrong.AddRange(evening.Entries.Except(entries).Select(e => $"entry {e} was answered as made, and is not there"));
        var closed = await db.Closes.Select(c => c.Day).ToListAsync();
        wrong.AddRange(evening.Closed.Except(closed).Select(d => $"{d:yyyy-MM-dd} was answered as closed, and is open"));
        wrong.AddRange(closed.GroupBy(d => d).Where(g => g.Count() > 1).Select(g => $"{g.Key:yyyy-MM-dd} is closed {g.Count()} times"));
        var days = await db.Days.Select(d => d.Date).ToListAsync();
        wrong.AddRange(evening.TakenIn.Except(days).Select(d => $"{d:yyyy-MM-dd} was answered as taken in, and is not there"));
        foreach (var day in days)
        {
            try
            {
                var view = await scope.ServiceProvider.GetRequiredService<DayStore>().Afresh(day);
                if (!Whole(view, day))
                {
                    wrong.Add($"{day:yyyy-MM-dd} is there in part");
                }
            }
            catch (UnreadableDayException e)
            {
                wrong.Add(e.Message);
            }
        }

        if ((await scope.ServiceProvider.GetRequiredService<Verification>().Run()).Break is { } broken)
        {
            wrong.Add(broken);
        }

        return wrong;
    }

    /// <summary>A day folder is taken whole: with its journal come its batches and its counts.</summary>
    private static bool Whole(DayView view, DateOnly day) =>
        day >= Evening.Today || view.Day.Journal.OfType<Ticket>().Any() == (view.Day.Rows is { Length: > 0 } && view.Day.Counts.Length > 0);
}
